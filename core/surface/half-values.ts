/** Channel × 128 + controller number: what halves are kept by. */
const KEYS = 16 * 128;
/** No half has come. */
export const NO_HALF = 255;

/** How long the half that comes first waits for the other, µs. */
export const HALF_WAITS = 5_000;
/** After so many high halves that came alone in a row the next one acts at once. */
export const LONE_HIGHS = 3;

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
  private readonly lone = new Uint8Array(KEYS);
  private readonly keys: number[] = [];
  private readonly messages: number[] = [];
  private readonly due: number[] = [];
  /** When the first of those that wait has waited long enough, µs; Infinity where none waits. */
  deadline = Infinity;

  /** @param clock the time now, µs, in its first place */
  constructor(private readonly clock: Float64Array) {}

  /** Whether high halves of this key come alone. */
  comesAlone(key: number): boolean {
    return this.lone[key] >= LONE_HIGHS;
  }

  /** A high half had no low one. */
  cameAlone(key: number): void {
    if (this.lone[key] < LONE_HIGHS) this.lone[key]++;
  }

  /** The other half has come. */
  bothCame(key: number): void {
    this.lone[key] = 0;
  }

  isWaiting(key: number): boolean {
    return this.keys.includes(key);
  }

  /** A half waits for the other. One that waits already is replaced and waits no longer than it would have. */
  wait(key: number, packed: number): void {
    const at = this.keys.indexOf(key);
    if (at >= 0) {
      this.messages[at] = packed;
      return;
    }
    this.keys.push(key);
    this.messages.push(packed);
    this.due.push(this.clock[0] + HALF_WAITS);
    this.settle();
  }

  /** A half waits no more; its message, 0 where none did. */
  end(key: number): number {
    const at = this.keys.indexOf(key);
    if (at < 0) return 0;
    const [packed] = this.messages.splice(at, 1);
    this.keys.splice(at, 1);
    this.due.splice(at, 1);
    this.settle();
    return packed;
  }

  /** The key of the half that has waited longest, if that is long enough by now; −1 where there is none. */
  overdue(): number {
    if (this.clock[0] < this.deadline) return -1;
    return this.keys[this.due.indexOf(this.deadline)];
  }

  private settle(): void {
    this.deadline = this.due.length === 0 ? Infinity : Math.min(...this.due);
  }

  /** The cable is another one now. */
  forget(): void {
    this.high.fill(NO_HALF);
    this.low.fill(NO_HALF);
    this.lone.fill(0);
    this.keys.length = this.messages.length = this.due.length = 0;
    this.deadline = Infinity;
  }
}
