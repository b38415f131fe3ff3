import type { Beat } from './beat.js';
import {
  LightState,
  LightMotion,
  PULSE_STEPS,
  type LightRule,
  type Shine,
} from '../plan/light-rule.js';
import type { OutRule } from '../plan/look-book.js';
import type { ShownHere } from '../plan/out-plan.js';
import type { Plan } from '../plan/plan.js';
import type { Sight } from './sight.js';
import { SlotColumn } from '../plan/columns.js';
import type { IndexList } from '../live/columns.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';

/** Half of a blink: twice a second on and off (common practice, no source). */
const BLINK_HALF = 250_000;
/** Time between two steps of a pulse, µs: up and down in a second. */
const PULSE_EVERY = 1_000_000 / (2 * PULSE_STEPS);

/** What an output shows now: its rule, the slot, the binding, and its place where it is one of a row. */
export interface ResolvedOutput {
  readonly rule: OutRule;
  readonly slot: number;
  readonly binding: number;
  readonly shown: ShownHere | null;
}

/** Decides how lights look: by state, band or gradient, and where they are in their blinking. */
export class Lights {
  /** Motion of each light as it was written last. */
  private readonly motion: Uint8Array;
  /** Lights that move now. */
  private readonly moving: IndexList;
  private readonly isMoving: Uint8Array;
  private readonly value = new Float64Array(1);
  /** Highest value of each binding's meters, and when it was there, µs. */
  private readonly peaks: Float64Array;
  private readonly peakSlot: Int32Array;
  private readonly peakAt: Float64Array;
  private readonly tables: Tables;
  private readonly plan: Plan;
  private readonly beat: Beat;
  private readonly clock: Float64Array;
  private readonly agenda: Float64Array;
  /** When lights that move change next, µs, in its first place. */
  private readonly due = Float64Array.of(Infinity);

  constructor(
    round: RoundContext,
    private readonly sight: Sight,
  ) {
    const { state, services } = round;
    this.plan = round.plan;
    this.tables = round.tables;
    this.beat = services.beat;
    this.clock = services.clock;
    this.agenda = services.agenda;
    this.motion = state.motion;
    this.moving = state.movingOuts;
    this.isMoving = state.isMoving;
    this.peaks = state.rowPeak;
    this.peakSlot = state.rowSlot;
    this.peakAt = state.rowPeakAt;
    for (let i = 0; i < this.moving.count; i++) this.noteNext(this.moving.items[i]);
  }

  /** When a light changes by itself next, µs; {@link advance} is needed by then. */
  get deadline(): number {
    return this.due[0];
  }

  /** What goes over the wire for a light now. */
  wire(out: number, { rule, slot, binding, shown }: ResolvedOutput): number {
    const light = rule.light;
    if (!light) return 0;
    const dark = light.states[LightState.Off].wires[0];
    if (!rule.feedback || slot < 0 || !this.sight.see(slot, this.value, 0))
      return this.steady(out, dark);
    const { tables } = this;
    const needs = tables.slots[slot * SlotColumn.Width + SlotColumn.Needs];
    if (needs >= 0 && this.sight.isOff(needs))
      return this.shine(out, light.states[LightState.Unavailable]);
    if (shown && shown.place >= 0) return this.inRow(out, light, binding, slot, shown, rule.peak);
    const { lamp } = this.plan.slots[slot].fn;
    if (light.by === 'told' && lamp) {
      const number = lamp.kind === 'rgb' ? this.value[0] : Math.round(this.value[0] * 127);
      return this.steady(out, light.toldAs(lamp, number));
    }
    if (light.by === 'state' || light.by === 'told') return this.byState(out, light, slot, binding);
    if (light.invert) this.value[0] = 1 - this.value[0];
    if (light.by === 'gradient') return this.steady(out, light.blendAt(this.value, 0));
    return this.shine(
      out,
      this.value[0] > 0 ? light.bandAt(this.value, 0) : light.states[LightState.Off],
    );
  }

  private byState(out: number, light: LightRule, slot: number, binding: number): number {
    const { tables, sight } = this;
    const { armed, waits } = this.plan.slots[slot];
    const value = this.value[0];
    if (waits >= 0 && Math.abs(value - waits) < NEAR)
      return this.shine(out, light.states[LightState.Waiting]);
    const inside = value >= tables.litFrom[binding] && value <= tables.litTo[binding];
    if (inside !== light.invert) {
      const tells = tables.slots[slot * SlotColumn.Width + SlotColumn.Reports] !== 0;
      return this.shine(
        out,
        light.states[sight.isAssumed(slot, tells) ? LightState.Assumed : LightState.On],
      );
    }
    return this.shine(
      out,
      light.states[
        armed >= 0 && armed !== slot && sight.isOn(armed) ? LightState.Armed : LightState.Off
      ],
    );
  }

  /** One light of a row over which a level is spread, the first the lowest; the highest place stays for a while. */
  private inRow(
    out: number,
    light: LightRule,
    binding: number,
    slot: number,
    { place, count }: ShownHere,
    peak: number,
  ): number {
    const { value } = this;
    if (light.invert) value[0] = 1 - value[0];
    const level = value[0];
    const now = this.clock[0];
    const isAnother = this.peakSlot[binding] !== slot;
    this.peakSlot[binding] = slot;
    if (isAnother || level >= this.peaks[binding] || now - this.peakAt[binding] >= peak) {
      this.peaks[binding] = level;
      this.peakAt[binding] = now;
    }
    const reached = Math.round(level * count) > place;
    const isPeak = peak > 0 && Math.round(this.peaks[binding] * count) - 1 === place;
    if (!reached && !isPeak) return this.shine(out, light.states[LightState.Off]);
    value[0] = (place + 0.5) / count;
    if (light.by === 'gradient') return this.steady(out, light.blendAt(value, 0));
    return this.shine(
      out,
      light.by === 'bands' ? light.bandAt(value, 0) : light.states[LightState.On],
    );
  }

  /** When the peak of a row ends, µs; Infinity where none is held. */
  peakEnd({ binding, rule, shown, slot }: ResolvedOutput): number {
    if (!shown || shown.place < 0 || rule.peak === 0 || slot < 0) return Infinity;
    if (!this.sight.see(slot, this.value, 0) || this.peaks[binding] <= this.value[0])
      return Infinity;
    return this.peakAt[binding] + rule.peak;
  }

  private steady(out: number, wire: number): number {
    this.motion[out] = LightMotion.Steady;
    return wire;
  }

  private shine(out: number, { motion, wires }: Shine): number {
    this.motion[out] = motion;
    const now = this.clock[0];
    switch (motion) {
      case LightMotion.Steady:
        return wires[PULSE_STEPS];
      case LightMotion.Blink:
        return wires[Math.floor(now / BLINK_HALF) % 2 === 0 ? PULSE_STEPS : 0];
      case LightMotion.Pulse: {
        const step = Math.floor(now / PULSE_EVERY) % (2 * PULSE_STEPS);
        return wires[step <= PULSE_STEPS ? step : 2 * PULSE_STEPS - step];
      }
      case LightMotion.Bar:
        return wires[this.beat.isLitInBar() ? PULSE_STEPS : 0];
      default:
        return wires[this.beat.isLit() ? PULSE_STEPS : 0];
    }
  }

  /** A light has been worked out: where it moves, it is worked out again in time. */
  keep(out: number): void {
    if (this.motion[out] === LightMotion.Steady) return;
    if (this.isMoving[out] === 0) {
      this.isMoving[out] = 1;
      this.moving.add(out);
    }
    this.noteNext(out);
  }

  private noteNext(out: number): void {
    const motion = this.motion[out] as LightMotion;
    const due = motion === LightMotion.Steady ? Infinity : this.nextOf(motion);
    if (due < this.due[0]) this.due[0] = due;
    if (due < this.agenda[0]) this.agenda[0] = due;
  }

  /** When a motion changes next, µs. */
  private nextOf(motion: LightMotion): number {
    const now = this.clock[0];
    if (motion === LightMotion.Beat) return now + this.beat.untilChange();
    if (motion === LightMotion.Bar) return now + this.beat.untilChangeInBar();
    const every = motion === LightMotion.Blink ? BLINK_HALF : PULSE_EVERY;
    return Math.ceil((Math.floor(now / every) + 1) * every);
  }

  /** The beat has been told anew: lights that follow it are due. */
  beaten(): void {
    const { items, count } = this.moving;
    for (let i = 0; i < count; i++)
      if (this.motion[items[i]] >= LightMotion.Beat) this.noteNext(items[i]);
  }

  /** Time has come for lights that move; `tell` is told each, and whether it can wait for everything else. */
  advance(tell: (out: number, canWait: boolean) => void): void {
    if (this.clock[0] < this.due[0]) return;
    const { items, count } = this.moving;
    let kept = 0;
    this.due[0] = Infinity;
    for (let i = 0; i < count; i++) {
      const out = items[i];
      if (this.motion[out] === LightMotion.Steady) {
        this.isMoving[out] = 0;
        continue;
      }
      items[kept++] = out;
      this.noteNext(out);
      tell(out, this.motion[out] === LightMotion.Pulse);
    }
    this.moving.count = kept;
  }
}

/** Choices lie further apart than this. */
const NEAR = 1 / 512;
