import type { State } from '../live/state.js';
import type { Plan } from '../plan/plan.js';

/** How long what a cause has told a host may still be the reason for what the host reports, µs. */
const CHAIN = 1_000_000;

const UNKNOWN = -1;
const WHEN = ['on', 'off', 'change'] as const;
const CHANGE = 2;

/** Of a function that is not on or off, values nearer than this are the same: half a step of seven bits. */
const ROUNDED = 0.5 / 127;

/**
 * Changes of hosts that run bindings. What one of them sets off is known again when the host reports it, so that a
 * chain in which a binding would come round a second time is cut, and told where it would have gone on.
 */
export class Causes {
  /** Value that each cause saw last; below 0 where it has seen none. */
  readonly was: Float64Array;
  private readonly ran: Float64Array;
  private readonly when: Uint8Array;
  private readonly chainOf: Int32Array;
  private readonly slots: Int32Array;
  private readonly slotChain: Int32Array;
  private readonly slotChainAt: Float64Array;
  private readonly slotChainValue: Float64Array;
  private readonly chains: Int32Array;
  private readonly cuts: Int32Array;
  private readonly lastCutAt: Int32Array;
  /** First cause that hangs on each slot, and the next one on the same. */
  private readonly first: Int32Array;
  private readonly next: Int32Array;
  /** Chain that runs now; 0 where none does. */
  running = 0;

  /** @param clock the time now, µs, in its first place */
  constructor(
    private readonly plan: Plan,
    state: State,
    private readonly clock: Float64Array,
  ) {
    this.was = state.causeWas;
    this.ran = state.causeRan;
    this.chainOf = state.causeChain;
    this.slots = state.causeSlot;
    this.slotChain = state.slotChain;
    this.slotChainAt = state.slotChainAt;
    this.slotChainValue = state.slotChainValue;
    this.chains = state.chains;
    this.cuts = state.chainsCut;
    this.lastCutAt = state.lastCut;
    this.when = Uint8Array.from(plan.causes, ({ when }) => WHEN.indexOf(when));
    this.next = new Int32Array(plan.causes.length).fill(-1);
    this.first = new Int32Array(plan.slots.length).fill(-1);
  }

  /** How many chains were cut. */
  get cut(): number {
    return this.cuts[0];
  }

  /** The binding that would have come round last; below 0 for none. */
  get lastCut(): number {
    return this.lastCutAt[0];
  }

  get isEmpty(): boolean {
    return this.was.length === 0;
  }

  /** Hangs every cause on the slot that it means now; one that means another than before starts afresh. */
  hang(slotOf: (cause: number) => number, valueOf: (slot: number) => number): void {
    this.first.fill(-1);
    for (let cause = 0; cause < this.was.length; cause++) {
      const slot = slotOf(cause);
      if (slot !== this.slots[cause]) {
        this.slots[cause] = slot;
        this.was[cause] = slot < 0 ? UNKNOWN : valueOf(slot);
      }
      if (slot < 0) continue;
      this.next[cause] = this.first[slot];
      this.first[slot] = cause;
    }
  }

  /** The slot that a cause hangs on; below 0 where there is none. */
  slotOf(cause: number): number {
    return this.slots[cause];
  }

  /** Whether a change of a slot is the cause of something. */
  hangsOn(slot: number): boolean {
    return this.first[slot] >= 0;
  }

  /** A slot is told the value at a place of a list while a chain runs. */
  told(slot: number, values: Float64Array, at: number): void {
    if (this.running === 0) return;
    this.slotChain[slot] = this.running;
    this.slotChainAt[slot] = this.clock[0];
    this.slotChainValue[slot] = values[at];
  }

  /**
   * A host has reported the value of a slot; `run` is called for each cause that it is.
   * @param isSwitch the function is on or off, and nothing between
   */
  reported(
    slot: number,
    values: Float64Array,
    isSwitch: boolean,
    run: (cause: number) => void,
  ): void {
    let cause = this.first[slot];
    if (cause < 0) return;
    const value = values[slot];
    // Only what was told comes of the chain: what differs is a change of its own.
    const known =
      this.slotChain[slot] > 0 &&
      this.clock[0] - this.slotChainAt[slot] < CHAIN &&
      isAlike(value, this.slotChainValue[slot], isSwitch);
    const chain = known ? this.slotChain[slot] : ++this.chains[0];
    for (; cause >= 0; cause = this.next[cause]) {
      const before = this.was[cause];
      this.was[cause] = value;
      if (before === UNKNOWN || !this.isMeant(cause, before, value)) continue;
      if (this.chainOf[cause] === chain) {
        // What has come round to where it began, but for rounding, has come to rest.
        if (!isSwitch && isAlike(value, this.ran[cause], false)) continue;
        this.cuts[0]++;
        this.lastCutAt[0] = this.plan.causes[cause].binding;
        continue;
      }
      this.chainOf[cause] = chain;
      this.ran[cause] = value;
      const outer = this.running;
      this.running = chain;
      run(cause);
      this.running = outer;
    }
  }

  private isMeant(cause: number, before: number, value: number): boolean {
    const when = this.when[cause];
    if (when === CHANGE) return value !== before;
    const on = value >= 0.5;
    return on !== before >= 0.5 && on === (when === 0);
  }

  /** The host is gone: its next word is the first. */
  forget(slot: number): void {
    for (let cause = this.first[slot]; cause >= 0; cause = this.next[cause])
      this.was[cause] = UNKNOWN;
  }
}

const isAlike = (a: number, b: number, isSwitch: boolean): boolean =>
  isSwitch ? a >= 0.5 === b >= 0.5 : Math.abs(a - b) <= ROUNDED;
