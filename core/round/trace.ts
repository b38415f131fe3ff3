import { Register, type ActionContext } from './context.js';
import {
  bytes,
  carryAll,
  makeAll,
  reals,
  wholes,
  type Made,
  type Moves,
  type Sizes,
} from './live/columns.js';
import { sizesOf } from './live/moves.js';
import type { Plan } from './plan/plan.js';

/** Stations of the round, in its order: four forward, three on the way back. */
export const STATIONS = [
  'control',
  'message',
  'shape',
  'function',
  'state',
  'rule',
  'output',
] as const;
export type Station = (typeof STATIONS)[number];

/** Why a message went no further. */
export const enum Stop {
  None,
  NothingBound,
  HeldOff,
  NotAvailable,
  HostClosed,
  StateUnknown,
  Broken,
  Busy,
  Music,
  /** What is bound to it is bound on layers that are off. */
  OtherLayer,
  ConditionFalse,
  /** The control has not met its function yet. */
  Pickup,
}

/** Which station a stop belongs to. */
export const STOP_STATION: Readonly<Record<Stop, Station | null>> = {
  [Stop.None]: null,
  [Stop.NothingBound]: 'function',
  [Stop.HeldOff]: 'function',
  [Stop.NotAvailable]: 'function',
  [Stop.HostClosed]: 'function',
  [Stop.StateUnknown]: 'state',
  [Stop.Broken]: 'function',
  [Stop.Busy]: 'function',
  [Stop.Music]: 'message',
  [Stop.OtherLayer]: 'function',
  [Stop.ConditionFalse]: 'function',
  [Stop.Pickup]: 'shape',
};

/** What is recorded, by what it belongs to; edits carry it as they carry all live state. */
const RECORDED = {
  packed: wholes('part'),
  at: reals('part', { fill: -1 }),
  value: reals('part'),
  turned: reals('part'),
  stop: bytes('part'),
  slot: wholes('part', { fill: -1, refers: 'slot' }),
  shaped: reals('part'),
  binding: wholes('part', { fill: -1, refers: 'binding' }),
  gap: reals('part'),
  stopSlot: wholes('part', { fill: -1, refers: 'slot' }),
  inHand: wholes('one', { fill: -1, refers: 'part' }),
  inHandAt: reals('one', { fill: -1 }),
  strayLink: wholes('one', { fill: -1, refers: 'link' }),
  strayPacked: wholes('one'),
  strayAt: reals('one', { fill: -1 }),
};

/**
 * The last way through the round of every part. Plugged into the engine it is told each step on the same code path
 * that the messages take; it keeps the newest of each and allocates nothing.
 */
export class RoundLog {
  /** The newest message of each part, packed, and when it came, µs. */
  readonly packed: Int32Array;
  readonly at: Float64Array;
  readonly value: Float64Array;
  /** All values of each together: how far an encoder has been turned in all, in ticks. */
  readonly turned: Float64Array;
  /** {@link Stop} of each. */
  readonly stop: Uint8Array;
  /** Slot that the part's last message reached; −1 where it reached none. */
  readonly slot: Int32Array;
  readonly shaped: Float64Array;
  /** Binding that took the part's last message; −1 where none did. */
  readonly binding: Int32Array;
  /** How far the function is from the control, of its range; above 0 it is higher. 0 where they have met. */
  readonly gap: Float64Array;
  /** Slot at which it was stopped: of several actions the one that waits. −1 where none did. */
  readonly stopSlot: Int32Array;

  private constructor(private readonly recorded: Made<typeof RECORDED>) {
    this.packed = recorded.packed;
    this.at = recorded.at;
    this.value = recorded.value;
    this.turned = recorded.turned;
    this.stop = recorded.stop;
    this.slot = recorded.slot;
    this.shaped = recorded.shaped;
    this.binding = recorded.binding;
    this.gap = recorded.gap;
    this.stopSlot = recorded.stopSlot;
  }

  /** A recorder for a plan, with nothing recorded. */
  static for(plan: Plan): RoundLog {
    return new RoundLog(makeAll(RECORDED, sizesOf(plan)) as Made<typeof RECORDED>);
  }

  /** The same under another plan. */
  under(sizes: Sizes, moves: Moves): RoundLog {
    const recorded = makeAll(RECORDED, sizes) as Made<typeof RECORDED>;
    carryAll(RECORDED, this.recorded, recorded, moves);
    return new RoundLog(recorded);
  }

  /** Part touched last; −1 for none. */
  get inHand(): number {
    return this.recorded.inHand[0];
  }

  /** When that was, µs; −1 for never. */
  get inHandAt(): number {
    return this.recorded.inHandAt[0];
  }

  /** Link of the newest message that matched no control; −1 for none. */
  get strayLink(): number {
    return this.recorded.strayLink[0];
  }

  get strayPacked(): number {
    return this.recorded.strayPacked[0];
  }

  /** When it came, µs; −1 for never. */
  get strayAt(): number {
    return this.recorded.strayAt[0];
  }

  stray(link: number, packed: number, t: number): void {
    this.recorded.strayLink[0] = link;
    this.recorded.strayPacked[0] = packed;
    this.recorded.strayAt[0] = t;
  }

  /**
   * A hand has done something to a part.
   * @param clock has the time at its first place, µs
   * @param release true for the end of a press: what became of the press stays
   */
  hand(part: number, context: ActionContext, clock: Float64Array, release: boolean): void {
    // What is long is known by its first byte: F0, or the slash of an OSC address.
    this.packed[part] = context.sysex ? context.sysex[context.sysexFrom] : context.packed;
    this.at[part] = clock[0];
    this.value[part] = context.register[Register.Heard];
    this.turned[part] += context.register[Register.Heard];
    this.recorded.inHand[0] = part;
    this.recorded.inHandAt[0] = clock[0];
    if (release) return;
    this.stop[part] = Stop.None;
    this.slot[part] = -1;
    this.binding[part] = -1;
    this.gap[part] = 0;
    this.stopSlot[part] = -1;
  }

  /** @param at place of the shaped value in a list */
  reached(part: number, slot: number, values: Float64Array, at: number): void {
    this.slot[part] = slot;
    this.shaped[part] = at >= 0 ? values[at] : 0;
  }

  stopped(part: number, why: Stop): void {
    this.stop[part] = why;
    this.stopSlot[part] = this.slot[part];
  }
}
