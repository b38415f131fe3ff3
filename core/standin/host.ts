import {
  SELECTED,
  addressOf,
  slotsOf,
  valueText,
  type HostModel,
  type Slot,
} from '@rondo/core/host';
import { ClockOut } from './clock.js';
import { Ear, type Hearer } from './codec/ear.js';
import { PLAIN_HABITS, onSteps, type Habits } from './codec/habits.js';
import { Mouth } from './codec/mouth.js';
import { Speaker } from './codec/speaker.js';

/** Longest text that a host writes, in characters. */
const LONGEST_TEXT = 200;
/** Longest message that it says, in bytes. */
const LONGEST_MESSAGE = 512;

/** Stored on a 14-bit grid, as it is told. */
export const grid = (value: number): number =>
  Math.round(Math.max(0, Math.min(1, value)) * 16_383) / 16_383;

/** Receives what a unit of a host says. */
export type EmitUnit = (unit: number, bytes: Uint8Array, from: number, to: number) => void;

/** What stands in for a program behind the ports of a host, unit by unit. */
export interface SimulatedProgram {
  readonly model: HostModel;
  /** Its values by slot, where it has them as the model names them. */
  readonly values: Float64Array | null;
  /** The time now, µs, in its first place, where it keeps one. */
  readonly clock: Float64Array | null;
  /** Bytes that come to one of its units now. */
  receive(bytes: Uint8Array, from: number, to: number, unit?: number): void;
  /** Index of a value by its address, −1 where there is none. */
  slotOf(address: string): number;
  /** A hand on its own picture sets a function now. */
  set(slot: number, value: number): void;
  /** It is `t` now, µs, `micros` later than before. */
  advance(micros: number, t: number): void;
}

/**
 * A simulated host: its values by slot, heard and reported through bytes alone. What a function does is up to the
 * host that it stands for. Instances for the selected strip follow the strip that is selected.
 */
export abstract class SimulatedHost implements Hearer, SimulatedProgram {
  readonly slots: readonly Slot[];
  /** Every value, 0…1, by slot. */
  readonly values: Float64Array;
  /** Every text, by slot. */
  readonly texts: string[];
  /** The time now, µs, in its first place: as an argument it would be put on the heap. */
  readonly clock = new Float64Array(1);
  private readonly index: ReadonlyMap<string, number>;
  protected readonly clockOut: ClockOut;
  private readonly ear: Ear;
  private readonly speaker: Speaker;
  private readonly mouth: Mouth;
  private readonly scratch = new Uint8Array(2 * LONGEST_MESSAGE);
  private readonly isText: Uint8Array;
  private readonly isContinuous: Uint8Array;
  private readonly isOfSelected: Uint8Array;
  private readonly isThere: Uint8Array;
  private readonly due: Uint8Array;
  private readonly dueList: Int32Array;
  private dueCount = 0;
  /** First instance of each slot's function. */
  private readonly base: Int32Array;
  /** Instance for the selected strip, −1 where there is none. */
  private readonly follower: Int32Array;

  /**
   * @param emit receives what it reports
   * @param habits how it speaks
   */
  constructor(
    readonly model: HostModel,
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    protected readonly habits: Habits = PLAIN_HABITS,
  ) {
    this.mouth = new Mouth(emit, habits, this.clock);
    this.slots = slotsOf(model);
    this.isText = Uint8Array.from(this.slots, ({ fn }) => (fn.kind === 'text' ? 1 : 0));
    this.isContinuous = Uint8Array.from(this.slots, ({ fn }) => (fn.kind === 'continuous' ? 1 : 0));
    this.isOfSelected = Uint8Array.from(this.slots, ({ strip }) => (strip === SELECTED ? 1 : 0));
    this.isThere = Uint8Array.from(this.slots, ({ exists }) => (exists ? 1 : 0));
    const count = this.slots.length;
    this.values = new Float64Array(count);
    this.texts = new Array<string>(count).fill('');
    this.index = new Map(this.slots.map((slot, i) => [slot.address, i]));
    this.ear = new Ear(
      this.slots.map((slot) => slot.set),
      this,
    );
    this.speaker = new Speaker(
      this.slots.map((slot) => slot.report),
      habits,
    );
    this.clockOut = new ClockOut(emit);
    this.due = new Uint8Array(count);
    this.dueList = new Int32Array(count);
    this.base = new Int32Array(count);
    this.follower = new Int32Array(count).fill(-1);
    this.slots.forEach(({ fn, strip }, i) => {
      this.values[i] = fn.rest;
      const first = this.index.get(addressOf(fn.id, strip === -1 ? -1 : 0)) ?? i;
      this.base[i] = first;
      this.follower[i] = this.index.get(addressOf(fn.id, SELECTED)) ?? -1;
    });
  }

  /** The strip that instances for the selected one follow. */
  protected abstract get selected(): number;

  /** What is asked of a function, in its first place: a double as an argument would be put on the heap. */
  protected readonly asked = new Float64Array(1);

  /** Does what a function does with what is {@link asked}; `slot` is never an instance for the selected strip. */
  protected abstract act(slot: number): void;

  /** Plays on for `micros`; what it says late comes in its time. */
  advance(_micros: number, t: number): void {
    this.clock[0] = t;
    this.mouth.advance();
  }

  /** First slot of a function, or its slot for a strip. */
  protected at(functionId: string, strip?: number): number {
    const i =
      this.index.get(addressOf(functionId, strip ?? 0)) ??
      this.index.get(addressOf(functionId, -1));
    if (i === undefined) throw new Error(`${this.model.name} has no ${functionId}`);
    return i;
  }

  /** Index of a value by its address, −1 where there is none. */
  slotOf(address: string): number {
    return this.index.get(address) ?? -1;
  }

  /** A value as people say it. */
  textOf(slot: number): string {
    const { fn } = this.slots[slot];
    return fn.kind === 'text' ? this.texts[slot] : valueText(fn, this.values[slot]);
  }

  /** Bytes that come to it. */
  receive(bytes: Uint8Array, from: number, to: number): void {
    this.ear.listen(bytes, from, to);
    this.report();
  }

  heard(slot: number): void {
    this.asked[0] = this.ear.value;
    this.isAsked = true;
    this.apply(slot);
    this.isAsked = false;
  }

  other(bytes: Uint8Array, from: number, to: number): void {
    const { ask } = this.model;
    if (!ask || to - from !== ask.length || !ask.every((byte, i) => bytes[from + i] === byte))
      return;
    this.slots.forEach((slot, i) => {
      if (slot.report) this.willSay(i);
    });
  }

  /** A hand on the host's own picture sets a function: its value, or ticks for a nudge. */
  set(slot: number, value: number): void {
    if (!this.slots[slot]?.exists) return;
    this.asked[0] = value;
    this.apply(slot);
    this.report();
  }

  /** It does what it was told to by its cable, and not by a hand of its own. */
  private isAsked = false;

  private apply(slot: number): void {
    const real = this.isOfSelected[slot] === 1 ? this.base[slot] + this.selected : slot;
    // A bus has no arm: the same function of the selected strip does nothing then.
    if (this.isThere[real] === 1) this.act(real);
    else this.willSay(slot);
  }

  /** Takes a value over and tells it, also as that of the selected strip where it is. */
  protected put(slot: number, value: number): void {
    const { steps, echoes } = this.habits;
    const kept = steps > 1 && this.isContinuous[slot] === 1 ? onSteps(value, steps) : value;
    this.values[slot] = kept;
    // Some programs do not tell what they were just told, where it is what they have now.
    if (echoes || !this.isAsked || kept !== this.asked[0]) this.willSay(slot);
    const follower = this.follower[slot];
    if (follower < 0 || slot - this.base[slot] !== this.selected) return;
    this.values[follower] = kept;
    this.willSay(follower);
  }

  /** Takes a value over where it has changed. */
  protected change(slot: number, value: number): void {
    if (this.values[slot] !== value) this.put(slot, value);
  }

  protected putText(slot: number, text: string): void {
    if (this.texts[slot] === text) return;
    this.texts[slot] = text.slice(0, LONGEST_TEXT);
    this.willSay(slot);
    const follower = this.follower[slot];
    if (follower < 0 || slot - this.base[slot] !== this.selected) return;
    this.texts[follower] = this.texts[slot];
    this.willSay(follower);
  }

  /** Another strip is selected: its values stand for the selected one now. */
  protected followSelected(): void {
    this.slots.forEach(({ strip }, slot) => {
      if (strip !== SELECTED) return;
      const real = this.base[slot] + this.selected;
      const value = this.slots[real].exists ? this.values[real] : 0;
      if (this.values[slot] === value && this.texts[slot] === this.texts[real]) return;
      this.values[slot] = value;
      this.texts[slot] = this.texts[real];
      this.willSay(slot);
    });
  }

  protected willSay(slot: number): void {
    if (this.due[slot] !== 0) return;
    this.due[slot] = 1;
    this.dueList[this.dueCount++] = slot;
  }

  /** Says all that has changed, as much of it at once as there is room for. */
  protected report(): void {
    let end = 0;
    for (let i = 0; i < this.dueCount; i++) {
      const slot = this.dueList[i];
      this.due[slot] = 0;
      end +=
        this.isText[slot] === 1
          ? this.speaker.sayText(slot, this.texts[slot], this.scratch, end)
          : this.speaker.sayFrom(slot, this.values, slot, this.scratch, end);
      if (end < LONGEST_MESSAGE) continue;
      this.say(end);
      end = 0;
    }
    this.dueCount = 0;
    if (end > 0) this.say(end);
  }

  private say(end: number): void {
    if (!this.habits.silent) this.mouth.say(this.scratch, 0, end);
  }
}
