import { Register } from '../context.js';
import { InputMode } from '../plan/part-plan.js';
import type { RoundContext } from '../round-context.js';

/** Layers that change layers are followed so often. Circles are broken before; this is the last guard. */
const MOST_CHANGES = 32;
const NOBODY = -1;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly actions: { act(part: number, action: number, moves: InputMode): void };
}

/**
 * Enters and leaves layers, and sets flags: what that does, and who is told. `Register.Heard` is a press for what is done on
 * the way, and afterwards as it was.
 */
export class LayerChanges {
  constructor(private readonly round: Needs) {}

  /** Sets a flag, or tells of a layer. */
  setOwn(slot: number, on: boolean): void {
    this.round.services.sessionVersion++;
    this.round.beliefs.set(slot, on);
    this.round.changed(slot);
  }

  /** Enters and leaves layers until what is on is what is wanted. */
  apply(): void {
    const { layers } = this.round.plan;
    const { active } = this.round.matcher;
    for (let turn = 0; turn < MOST_CHANGES; turn++) {
      const changed = this.nextChange();
      if (changed < 0) return;
      const on = active[changed] === 0;
      active[changed] = on ? 1 : 0;
      this.setOwn(layers[changed].slot, on);
      this.round.resolveAnew();
      const { register } = this.round.services.context;
      const { first, count } = on ? layers[changed].enter : layers[changed].leave;
      const value = register[Register.Heard];
      for (let action = first; action < first + count; action++) {
        register[Register.Heard] = 1;
        this.round.actions.act(NOBODY, action, InputMode.Press);
      }
      register[Register.Heard] = value;
    }
  }

  /** A layer that is on and should not be, else one that should and is not: what is left is left before anything is entered. */
  private nextChange(): number {
    const { active } = this.round.matcher;
    const { layers } = this.round;
    let entered = -1;
    for (let layer = 0; layer < active.length; layer++) {
      if (layers.isOn(layer) === (active[layer] === 1)) continue;
      if (active[layer] === 1) return layer;
      if (entered < 0) entered = layer;
    }
    return entered;
  }

  /** Layers as they are, without entering or leaving any. */
  show(): void {
    const { plan, layers, matcher, beliefs } = this.round;
    plan.layers.forEach(({ slot }, layer) => {
      const on = layers.isOn(layer);
      matcher.active[layer] = on ? 1 : 0;
      beliefs.set(slot, on);
    });
  }
}
