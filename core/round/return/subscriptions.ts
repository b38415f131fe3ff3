/** Slots that one output may hang on: what it shows, and what else decides how. */
export const HOOKS = 4;

/** Which outputs hang on which slots: a change of a slot makes them due. */
export class Subscriptions {
  /** First hook on each slot; the next hook on the same slot, and the slot itself, by hook. */
  private readonly firstHook: Int32Array;
  private readonly nextHook: Int32Array;
  private readonly hookSlot: Int32Array;

  /** @param due receives each output that a change concerns */
  constructor(
    slots: number,
    outs: number,
    private readonly due: (out: number) => void,
  ) {
    this.firstHook = new Int32Array(slots).fill(-1);
    this.nextHook = new Int32Array(outs * HOOKS).fill(-1);
    this.hookSlot = new Int32Array(outs * HOOKS).fill(-1);
  }

  /**
   * Hangs an output on a slot, or on none where that is below 0.
   * @param at which of its {@link HOOKS}
   * @returns whether it hung elsewhere before
   */
  hang(out: number, at: number, slot: number): boolean {
    const hook = out * HOOKS + at;
    const before = this.hookSlot[hook];
    if (before === slot || (before < 0 && slot < 0)) return false;
    if (before >= 0) this.unhang(hook);
    if (slot < 0) return true;
    this.insert(hook, slot);
    return true;
  }

  /** Hooks of a slot stand in the order of their outputs, whenever they came: what is due goes out in that order. */
  private insert(hook: number, slot: number): void {
    this.hookSlot[hook] = slot;
    let before = -1;
    let after = this.firstHook[slot];
    while (after >= 0 && after < hook) {
      before = after;
      after = this.nextHook[after];
    }
    this.nextHook[hook] = after;
    if (before < 0) this.firstHook[slot] = hook;
    else this.nextHook[before] = hook;
  }

  private unhang(hook: number): void {
    const slot = this.hookSlot[hook];
    this.hookSlot[hook] = -1;
    if (this.firstHook[slot] === hook) {
      this.firstHook[slot] = this.nextHook[hook];
      return;
    }
    let before = this.firstHook[slot];
    while (before >= 0 && this.nextHook[before] !== hook) before = this.nextHook[before];
    if (before >= 0) this.nextHook[before] = this.nextHook[hook];
  }

  /** Something of a slot has changed: what shows it is due. */
  changed(slot: number): void {
    for (let hook = this.firstHook[slot]; hook >= 0; hook = this.nextHook[hook])
      this.due((hook / HOOKS) | 0);
  }

  /** Whether an output shows a slot now. */
  isShown(slot: number): boolean {
    return this.firstHook[slot] >= 0;
  }
}
