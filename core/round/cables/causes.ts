import type { Plan } from '../plan/plan.js';

/** How long what a cause has told a host may still be the reason for what the host reports, µs. */
export const CHAIN = 1_000_000;

const UNKNOWN = -1;
const WHEN = ['on', 'off', 'change'] as const;

/**
 * Changes of hosts that run bindings. What one of them sets off is known again when the host reports it, so that a
 * chain in which a binding would come round a second time is cut and told.
 */
export class Causes {
  /** Chains that were cut, and the cause that would have come round. */
  cut = 0;
  lastCut = -1;
  readonly was: Float64Array;
  private readonly when: Uint8Array;
  private readonly chainOf: Int32Array;
  private readonly first: Int32Array;
  private readonly next: Int32Array;
  readonly slotChain: Int32Array;
  readonly slotChainAt: Float64Array;
  private readonly slots: Int32Array;
  private chains = 0;
  /** Chain that runs now; 0 where none does. */
  running = 0;

  constructor(
    private readonly plan: Plan,
    slots: number,
  ) {
    const count = plan.causes.length;
    this.was = new Float64Array(count).fill(UNKNOWN);
    this.when = Uint8Array.from(plan.causes, ({ when }) => WHEN.indexOf(when));
    this.chainOf = new Int32Array(count);
    this.next = new Int32Array(count).fill(-1);
    this.slots = new Int32Array(count).fill(-1);
    this.first = new Int32Array(slots).fill(-1);
    this.slotChain = new Int32Array(slots);
    this.slotChainAt = new Float64Array(slots);
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

  /** Whether a change of a slot is the cause of something. */
  hangsOn(slot: number): boolean {
    return this.first[slot] >= 0;
  }

  /** A slot was told something while a chain runs. */
  told(slot: number, t: number): void {
    if (this.running === 0) return;
    this.slotChain[slot] = this.running;
    this.slotChainAt[slot] = t;
  }

  /** A host has reported a value; `run` is called for each cause that it is. */
  reported(slot: number, value: number, t: number, run: (cause: number) => void): void {
    let cause = this.first[slot];
    if (cause < 0) return;
    const known = this.slotChain[slot] > 0 && t - this.slotChainAt[slot] < CHAIN;
    const chain = known ? this.slotChain[slot] : ++this.chains;
    for (; cause >= 0; cause = this.next[cause]) {
      const before = this.was[cause];
      this.was[cause] = value;
      if (before === UNKNOWN) continue;
      const on = value >= 0.5;
      const turned = on !== before >= 0.5;
      const when = this.when[cause];
      if (when === 2 ? value === before : !turned || on !== (when === 0)) continue;
      if (this.chainOf[cause] === chain) {
        this.cut++;
        this.lastCut = this.plan.causes[cause].binding;
        continue;
      }
      this.chainOf[cause] = chain;
      const outer = this.running;
      this.running = chain;
      run(cause);
      this.running = outer;
    }
  }

  /** The host is gone: its next word is the first. */
  forget(slot: number): void {
    for (let cause = this.first[slot]; cause >= 0; cause = this.next[cause])
      this.was[cause] = UNKNOWN;
  }
}
