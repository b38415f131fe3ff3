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

/** What hosts are believed to have, by slot: what they told, or what we told them last. */
export class Beliefs {
  /** Values, 0…1. */
  readonly value: Float64Array;
  /** {@link Know} of each. */
  readonly know: Uint8Array;
  readonly text: string[];
  /** What came with the value: a ring's form and centre lamp, a meter's overload; −1 for nothing. */
  readonly aux: Int8Array;
  /** The whole number that was last sent for a value. */
  readonly sentWire: Int32Array;
  /** When something in doubt is to be believed after all, µs; Infinity where nothing is. */
  deadline = Infinity;

  private readonly sentAt: Float64Array;
  private readonly heard: Float64Array;
  private readonly doubted: Int32Array;
  private readonly isDoubted: Uint8Array;
  private count = 0;

  /** @param clock the time now, µs, in its first place */
  constructor(
    slots: number,
    private readonly clock: Float64Array,
  ) {
    this.value = new Float64Array(slots);
    this.know = new Uint8Array(slots);
    this.text = new Array<string>(slots).fill('');
    this.aux = new Int8Array(slots).fill(-1);
    this.sentWire = new Int32Array(slots);
    this.sentAt = new Float64Array(slots).fill(-DOUBT);
    this.heard = new Float64Array(slots).fill(NOTHING_HEARD);
    this.doubted = new Int32Array(slots);
    this.isDoubted = new Uint8Array(slots);
  }

  /** Takes over what another plan believed of the same function. */
  carry(slot: number, from: Beliefs, fromSlot: number): void {
    this.value[slot] = from.value[fromSlot];
    this.know[slot] = from.know[fromSlot];
    this.text[slot] = from.text[fromSlot];
    this.aux[slot] = from.aux[fromSlot];
    this.sentWire[slot] = from.sentWire[fromSlot];
    this.sentAt[slot] = from.sentAt[fromSlot];
    if (from.isDoubted[fromSlot] !== 0) this.doubt(slot, from.heard[fromSlot]);
  }

  /** We have just told the host the value at a place of a register: it is taken to have it. */
  assume(slot: number, register: Float64Array, at: number): void {
    this.value[slot] = register[at];
    this.know[slot] = Know.Assumed;
    this.sentAt[slot] = this.clock[0];
    this.heard[slot] = NOTHING_HEARD;
  }

  /** Whether a report that differs from what we sent last may still be an older one. */
  isFresh(slot: number): boolean {
    return this.know[slot] === Know.Assumed && this.clock[0] - this.sentAt[slot] < DOUBT;
  }

  /** The host has told the value at a place of a register. */
  believe(slot: number, register: Float64Array, at: number): void {
    this.value[slot] = register[at];
    this.know[slot] = Know.Known;
    this.heard[slot] = NOTHING_HEARD;
  }

  /** Sets what is Rondo's own and needs no telling. */
  set(slot: number, on: boolean): void {
    this.value[slot] = on ? 1 : 0;
    this.know[slot] = Know.Known;
  }

  /** Keeps a report back until it is no longer {@link isFresh}. */
  doubt(slot: number, value: number): void {
    this.heard[slot] = value;
    this.deadline = Math.min(this.deadline, this.sentAt[slot] + DOUBT);
    if (this.isDoubted[slot] !== 0) return;
    this.isDoubted[slot] = 1;
    this.doubted[this.count++] = slot;
  }

  /** Believes what was kept back for long enough; `changed` is called for each. */
  resolve(t: number, changed: (slot: number) => void): void {
    let kept = 0;
    this.deadline = Infinity;
    for (let i = 0; i < this.count; i++) {
      const slot = this.doubted[i];
      const due = this.sentAt[slot] + DOUBT;
      if (this.heard[slot] !== NOTHING_HEARD && due > t) {
        this.doubted[kept++] = slot;
        this.deadline = Math.min(this.deadline, due);
        continue;
      }
      this.isDoubted[slot] = 0;
      if (this.heard[slot] === NOTHING_HEARD) continue;
      this.believe(slot, this.heard, slot);
      changed(slot);
    }
    this.count = kept;
  }

  /** The host has told a text; false where it is the same as before. */
  tell(slot: number, text: string): boolean {
    const changed = text !== this.text[slot];
    this.text[slot] = text;
    this.know[slot] = Know.Known;
    return changed;
  }

  /** The host is gone: nothing is known of this any more. */
  forget(slot: number): void {
    this.know[slot] = Know.Unknown;
    this.text[slot] = '';
    this.aux[slot] = -1;
    this.heard[slot] = NOTHING_HEARD;
  }
}
