import type { IndexList } from '../live/columns.js';
import type { State } from '../live/state.js';

/** How sure the engine is of a host's value. */
export const enum Know {
  Unknown,
  Assumed,
  Known,
}

/**
 * How long after our last word to a function a different report may still be an older one on its way, µs.
 * Only then is it believed. Longer than a program takes to answer, shorter than people notice.
 */
export const DOUBT = 150_000;

const NOTHING_HEARD = -1;

/** Two values nearer than this are the same. */
const SAME = 1e-9;

/** What hosts are believed to have, by slot: what they told, or what we told them last. */
export class Beliefs {
  /** Values, 0…1. */
  readonly value: Float64Array;
  /** {@link Know} of each. */
  readonly know: Uint8Array;
  readonly text: string[];
  /** What came with the value: a ring's form and centre lamp, a meter's overload; −1 for nothing. */
  readonly extra: Int8Array;
  /** The whole number that was last sent for a value. */
  readonly sentWire: Int32Array;
  /** The whole number for which a host has it: as it was told last, or as it tells. */
  readonly standsWire: Int32Array;
  /** When something in doubt is to be believed after all, µs; Infinity where nothing is. {@link resolve} is needed then. */
  deadline = Infinity;

  private readonly sentValue: Float64Array;
  private readonly sentAt: Float64Array;
  private readonly isOurs: Uint8Array;
  private readonly toldBefore: Float64Array;
  private readonly finest: Float64Array;
  private readonly heard: Float64Array;
  private readonly doubted: IndexList;
  private readonly isDoubted: Uint8Array;

  /**
   * @param clock the time now, µs, in its first place
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   */
  constructor(
    state: State,
    private readonly clock: Float64Array,
    private readonly agenda: Float64Array,
  ) {
    this.value = state.value;
    this.know = state.know;
    this.text = state.text;
    this.extra = state.extra;
    this.sentWire = state.sentWire;
    this.standsWire = state.standsWire;
    this.sentValue = state.sentValue;
    this.sentAt = state.sentAt;
    this.isOurs = state.isOurs;
    this.toldBefore = state.toldBefore;
    this.finest = state.finest;
    this.heard = state.heard;
    this.doubted = state.doubtedSlots;
    this.isDoubted = state.isDoubted;
    this.findDeadline();
  }

  private findDeadline(): void {
    this.deadline = Infinity;
    for (let i = 0; i < this.doubted.count; i++) {
      const due = this.sentAt[this.doubted.items[i]] + DOUBT;
      if (due < this.deadline) this.deadline = due;
    }
  }

  /** We have just told the host the value at a place of a register: it is taken to have it. */
  assume(slot: number, register: Float64Array, at: number): void {
    this.value[slot] = register[at];
    this.know[slot] = Know.Assumed;
    this.sentValue[slot] = register[at];
    this.sentAt[slot] = this.clock[0];
    this.isOurs[slot] = 1;
    this.heard[slot] = NOTHING_HEARD;
  }

  /** Whether a report that differs from what we sent last may still be an older one. */
  isFresh(slot: number): boolean {
    return this.know[slot] === Know.Assumed && this.clock[0] - this.sentAt[slot] < DOUBT;
  }

  /** The host has told the value at a place of a register. */
  believe(slot: number, register: Float64Array, at: number): void {
    const answers = this.clock[0] - this.sentAt[slot] < DOUBT;
    this.take(slot, register, at, answers);
  }

  /** @param answers the host says so because of what it was told */
  private take(slot: number, register: Float64Array, at: number, answers: boolean): void {
    const told = register[at];
    const off = Math.abs(told - this.sentValue[slot]);
    const far = Math.abs(told - this.toldBefore[slot]);
    if (far > SAME && far < this.finest[slot]) this.finest[slot] = far;
    // A host that rounds is off by no more than half of its step; one that cuts off, by less than one where it stays.
    const step = this.finest[slot];
    const isRounding = far > SAME ? off <= step / 2 + SAME : far <= SAME && off < step;
    if (!answers || (off > SAME && !isRounding)) this.isOurs[slot] = 0;
    this.toldBefore[slot] = told;
    this.value[slot] = told;
    this.know[slot] = Know.Known;
    this.heard[slot] = NOTHING_HEARD;
  }

  /**
   * Puts the value that a function is meant to have into a place of a list: what was told to it where the host has only
   * rounded that, else what it has.
   */
  meantOf(slot: number, into: Float64Array, at: number): void {
    into[at] = this.isOurs[slot] === 1 ? this.sentValue[slot] : this.value[slot];
  }

  /** Sets what is Rondo's own and needs no telling. */
  set(slot: number, on: boolean): void {
    this.value[slot] = on ? 1 : 0;
    this.know[slot] = Know.Known;
    this.isOurs[slot] = 0;
  }

  /** Keeps a report back until it is no longer {@link isFresh}. */
  doubt(slot: number, register: Float64Array, at: number): void {
    this.heard[slot] = register[at];
    const due = this.sentAt[slot] + DOUBT;
    if (due < this.deadline) this.deadline = due;
    if (due < this.agenda[0]) this.agenda[0] = due;
    if (this.isDoubted[slot] !== 0) return;
    this.isDoubted[slot] = 1;
    this.doubted.add(slot);
  }

  /** Believes what was kept back for long enough; `changed` is called for each. */
  resolve(changed: (slot: number) => void): void {
    const { doubted } = this;
    const t = this.clock[0];
    for (let i = 0; i < doubted.count;) {
      const slot = doubted.items[i];
      const waits = this.heard[slot] !== NOTHING_HEARD;
      if (waits && this.sentAt[slot] + DOUBT > t) {
        i++;
        continue;
      }
      this.isDoubted[slot] = 0;
      doubted.remove(slot);
      if (!waits) continue;
      this.take(slot, this.heard, slot, true);
      changed(slot);
    }
    this.findDeadline();
  }

  /** The host has told a text; false where it is the same as before. */
  tell(slot: number, text: string): boolean {
    const changed = text !== this.text[slot] || this.know[slot] !== Know.Known;
    this.text[slot] = text;
    this.know[slot] = Know.Known;
    return changed;
  }

  /** The host is gone: nothing is known of this any more. */
  forget(slot: number): void {
    this.know[slot] = Know.Unknown;
    this.text[slot] = '';
    this.extra[slot] = -1;
    this.heard[slot] = NOTHING_HEARD;
    this.isOurs[slot] = 0;
    this.toldBefore[slot] = NaN;
    this.finest[slot] = Infinity;
  }
}
