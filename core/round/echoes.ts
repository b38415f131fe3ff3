/** How long after it was sent a message may come straight back, µs. */
const AGE = 60_000;
/** Messages that come straight back one after the other, in their order, before a cable counts as hearing itself. */
const RUN = 4;
const KEPT = 64;

/** What of a message that came in is one that had just been sent. */
export const enum Echo {
  None,
  /** It is the same, which may be chance. */
  Same,
  /** So many came back in their order that the cable hears itself. */
  Loop,
}

/**
 * The last messages that went out on a link, to know them again when they come in. What comes back once may be chance,
 * or meant, as a fader's own place; a run of messages that come back in their order and at once is a cable that hears
 * itself.
 */
export class Echoes {
  private readonly packed = new Int32Array(KEPT);
  private readonly at = new Float64Array(KEPT).fill(-AGE);
  private head = 0;
  /** Place after the last one that came back. */
  private next = 0;
  private run = 0;

  /** Short messages that go out; SysEx is left out. @param clock the time now, µs, in its first place */
  sent(bytes: Uint8Array, from: number, to: number, clock: Float64Array): void {
    for (let i = from; i < to;) {
      const status = bytes[i];
      if (status < 0x80 || status >= 0xf0) {
        i++;
        continue;
      }
      const short = (status & 0xe0) === 0xc0;
      const place = this.head % KEPT;
      this.packed[place] = status | (bytes[i + 1] << 8) | (short ? 0 : bytes[i + 2] << 16);
      this.at[place] = clock[0];
      this.head++;
      i += short ? 2 : 3;
    }
  }

  /** A short message has come in. */
  came(packed: number, clock: Float64Array): Echo {
    const oldest = Math.max(0, this.head - KEPT, this.next);
    for (let n = oldest; n < this.head; n++) {
      const place = n % KEPT;
      if (clock[0] - this.at[place] > AGE) continue;
      if (this.packed[place] !== packed) {
        // Within a run the very next one comes back.
        if (this.run > 0) break;
        continue;
      }
      this.next = n + 1;
      this.run++;
      return this.run >= RUN ? Echo.Loop : Echo.Same;
    }
    this.run = 0;
    return Echo.None;
  }

  forget(): void {
    this.run = 0;
    this.next = this.head;
  }
}
