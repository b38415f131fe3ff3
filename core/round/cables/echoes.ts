/** How long after it was sent a message may come straight back, µs. */
const AGE = 60_000;
/** Messages that come straight back one after the other, in their order, before a cable counts as hearing itself. */
const RUN = 4;
/** Places for what went out, a power of two: of two messages that share one, the newer is known. */
const PLACES = 256;
const placeOf = (packed: number): number =>
  (packed ^ (packed >> 7) ^ (packed >> 15)) & (PLACES - 1);

/**
 * The last messages that went out on a link, to know them again when they come in. What comes back once may be chance,
 * or meant, as a fader's own place; a run of messages that come back in their order and at once is a cable that hears
 * itself.
 */
export class Echoes {
  private readonly packed = new Int32Array(PLACES);
  /** When each went out, and as which of all that did. */
  private readonly at = new Float64Array(PLACES).fill(-AGE);
  private readonly turn = new Int32Array(PLACES);
  /** Turn of what goes out next, and of what would come back next. */
  private head = 0;
  private next = 0;
  private run = 0;
  private number = 0;
  /** Status that went out last, which may be left out before the next message. */
  private status = 0;

  /** @param rolls hands may send one number over and over, as in a roll on a key: that is no run */
  constructor(private readonly rolls: boolean) {}

  /** Short messages that go out whole, also without a repeated status; SysEx is left out. @param clock the time now, µs, in its first place */
  sent(bytes: Uint8Array, from: number, to: number, clock: Float64Array): void {
    for (let i = from; i < to;) {
      const byte = bytes[i];
      if (byte >= 0xf0) {
        // System messages end running status, real time does not; the data of a SysEx belongs to none (MIDI 1.0).
        if (byte < 0xf8) this.status = 0;
        i++;
        continue;
      }
      if (byte >= 0x80) {
        this.status = byte;
        i++;
      } else if (this.status === 0) {
        i++;
        continue;
      }
      const short = (this.status & 0xe0) === 0xc0;
      this.keep(this.status | (bytes[i] << 8) | (short ? 0 : bytes[i + 1] << 16), clock);
      i += short ? 1 : 2;
    }
  }

  private keep(packed: number, clock: Float64Array): void {
    const place = placeOf(packed);
    this.packed[place] = packed;
    this.at[place] = clock[0];
    this.turn[place] = this.head;
    this.head = (this.head + 1) | 0;
  }

  /** Whether a short message went out a moment ago. */
  has(packed: number, clock: Float64Array): boolean {
    const place = placeOf(packed);
    return this.packed[place] === packed && clock[0] - this.at[place] <= AGE;
  }

  /** A short message has come in; true where so many have come back in their order that the cable hears itself. */
  cameRound(packed: number, clock: Float64Array): boolean {
    if (!this.has(packed, clock)) {
      this.run = 0;
      return false;
    }
    const turn = this.turn[placeOf(packed)];
    const before = this.number;
    this.number = (packed >> 8) & 0x7f;
    const isNext = this.run > 0 && turn === this.next;
    this.next = (turn + 1) | 0;
    if (!isNext) this.run = 1;
    else if (!this.rolls || this.number !== before) this.run++;
    return this.run >= RUN;
  }

  forget(): void {
    this.run = 0;
    this.at.fill(-AGE);
  }
}
