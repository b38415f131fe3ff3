import { valueOfChoice, type HostModel } from '@rondo/core/host';
import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import { SimulatedHost, grid } from './host.js';

/** How long what is done once is seen, µs. */
const FLASH = 250_000;

/**
 * A simulated program that has what its model says and nothing more: it does what it is told and tells what its model
 * tells. A key turns its lamp over when it is pressed.
 */
export class PlainHost extends SimulatedHost {
  /** What is seen to have been done, and until when, µs. */
  private readonly flashes = new Map<number, number>();

  /** @param emit receives what it reports */
  constructor(
    model: HostModel,
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    habits: Habits = PLAIN_HABITS,
  ) {
    super(model, model.tells === 'nothing' ? () => undefined : emit, habits);
  }

  protected override get selected(): number {
    return -1;
  }

  protected override act(slot: number): void {
    const value = this.asked[0];
    const { fn } = this.slots[slot];
    const before = this.values[slot];
    let next = before;
    if (fn.taps || fn.flips) next = value >= 0.5 ? 1 - Math.round(before) : before;
    else if (fn.kind === 'continuous') next = grid(value);
    else if (fn.kind === 'toggle') next = value >= 0.5 ? 1 : 0;
    else if (fn.kind === 'choice') next = valueOfChoice(fn.choices?.length ?? 1, Math.round(value));
    else if (fn.kind === 'trigger') {
      if (value >= 0.5) this.flash(slot);
      return;
    } else if (fn.kind === 'nudge') next = Math.max(0, Math.min(1, before + value / 64));
    else return;
    if (this.model.tells === 'changes') this.change(slot, next);
    else this.put(slot, next);
  }

  /** What it does once is seen for a moment. */
  private flash(slot: number): void {
    this.values[slot] = 1;
    this.flashes.set(slot, this.clock[0] + FLASH);
  }

  override advance(micros: number, t: number): void {
    super.advance(micros, t);
    for (const [slot, until] of this.flashes)
      if (t >= until) {
        this.values[slot] = 0;
        this.flashes.delete(slot);
      }
  }

  /** The program changes a value of its own accord. */
  override set(slot: number, value: number): void {
    const { fn } = this.slots[slot];
    if (!fn.taps && !fn.flips && fn.kind !== 'nudge') {
      super.set(slot, value);
      return;
    }
    this.change(slot, value);
    this.report();
  }
}
