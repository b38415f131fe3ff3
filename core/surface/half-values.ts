/** Channel × 128 + controller number: what halves are kept by. */
const KEYS = 16 * 128;
/** No half has come. */
export const NO_HALF = 255;

/** How long the half that comes first waits for the other, µs. */
export const HALF_WAITS = 5_000;
/** After so many high halves that came alone in a row the next one acts at once. */
export const HIGHS_ALONE = 3;
/** Halves of one link that may wait at once: one for each controller of the lower half on each channel. */
const MOST_WAITING = 512;

/**
 * Halves of 14-bit values that a wire has said so far, and the ones that still wait for their other half. The standard
 * allows the low half to be left out (MIDI 1.0 Detailed Specification 4.2.1, *Control Change*), so that none waits for
 * ever. One for each link: it outlives edits of what is bound to them.
 */
export class HalfValues {
  /** Newest high half, and the low half that came since; {@link NO_HALF} for none. */
  readonly high = new Uint8Array(KEYS).fill(NO_HALF);
  readonly low = new Uint8Array(KEYS).fill(NO_HALF);
  /** High halves in a row that no low half followed. */
  private readonly inARow = new Uint8Array(KEYS);
  /** Halves that wait, the one that has waited longest first: key, message, and until when, µs. */
  private readonly keys = new Int16Array(MOST_WAITING);
  private readonly messages = new Int32Array(MOST_WAITING);
  private readonly due = new Float64Array(MOST_WAITING);
  private count = 0;

  /**
   * @param clock the time now, µs, in its first place
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   */
  constructor(
    private readonly clock: Float64Array,
    private readonly agenda: Float64Array,
  ) {}

  /** When the first of those that wait has waited long enough, µs; Infinity where none waits. */
  get deadline(): number {
    return this.count === 0 ? Infinity : this.due[0];
  }

  /** Whether high halves of this key come alone. */
  comesAlone(key: number): boolean {
    return this.inARow[key] >= HIGHS_ALONE;
  }

  /** A high half had no low one. */
  cameAlone(key: number): void {
    if (this.inARow[key] < HIGHS_ALONE) this.inARow[key]++;
  }

  /** The other half has come. */
  bothCame(key: number): void {
    this.inARow[key] = 0;
  }

  private placeOf(key: number): number {
    for (let at = 0; at < this.count; at++) if (this.keys[at] === key) return at;
    return -1;
  }

  isWaiting(key: number): boolean {
    return this.placeOf(key) >= 0;
  }

  /** A half waits for the other. One that waits already is replaced and waits no longer than it would have. */
  wait(key: number, packed: number): void {
    const at = this.placeOf(key);
    if (at >= 0) {
      this.messages[at] = packed;
      return;
    }
    // There are no more pairs than that on one link.
    if (this.count === MOST_WAITING) return;
    this.keys[this.count] = key;
    this.messages[this.count] = packed;
    const due = this.clock[0] + HALF_WAITS;
    this.due[this.count++] = due;
    if (due < this.agenda[0]) this.agenda[0] = due;
  }

  /** A half waits no more; its message, 0 where none did. */
  end(key: number): number {
    const at = this.placeOf(key);
    if (at < 0) return 0;
    const packed = this.messages[at];
    this.count--;
    for (let next = at; next < this.count; next++) {
      this.keys[next] = this.keys[next + 1];
      this.messages[next] = this.messages[next + 1];
      this.due[next] = this.due[next + 1];
    }
    return packed;
  }

  /** The key of the half that has waited longest, if that is long enough by now; −1 where there is none. */
  overdue(): number {
    return this.count > 0 && this.due[0] <= this.clock[0] ? this.keys[0] : -1;
  }

  /** The cable is another one now. */
  forget(): void {
    this.high.fill(NO_HALF);
    this.low.fill(NO_HALF);
    this.inARow.fill(0);
    this.count = 0;
  }
}
