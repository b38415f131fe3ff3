/** A stretch of bytes on its way, and when its last byte arrives, µs. */
interface Underway {
  readonly bytes: Uint8Array;
  readonly arrives: number;
}

/**
 * A simulated wire that knows how long a byte takes. Before it lies a buffer of a driver; what finds no room there is
 * lost, as it is with real ones.
 */
export class Wire {
  /** Bytes that found the buffer full. */
  dropped = 0;
  /** When the last byte that was put on it has arrived, µs. */
  freeAt = 0;
  private readonly underway: Underway[] = [];

  /**
   * @param microsPerByte 320 on DIN: 31 250 bit/s, ten bits a byte (MIDI 1.0)
   * @param buffer bytes that may wait
   */
  constructor(
    private readonly microsPerByte: number,
    private readonly buffer = Infinity,
  ) {}

  /** Puts bytes on it at a time, µs. */
  push(bytes: Uint8Array, from: number, to: number, t: number): void {
    const waiting = Math.max(0, this.freeAt - t) / this.microsPerByte;
    const room = Math.max(0, Math.floor(this.buffer - waiting));
    const kept = Math.min(to - from, room);
    this.dropped += to - from - kept;
    if (kept === 0) return;
    this.freeAt = Math.max(this.freeAt, t) + kept * this.microsPerByte;
    this.underway.push({ bytes: bytes.slice(from, from + kept), arrives: this.freeAt });
  }

  /** Hands over what has arrived by a time, µs. */
  deliver(
    t: number,
    receive: (bytes: Uint8Array, from: number, to: number, t: number) => void,
  ): void {
    while (this.underway.length > 0 && this.underway[0].arrives <= t) {
      const { bytes, arrives } = this.underway.shift() as Underway;
      receive(bytes, 0, bytes.length, arrives);
    }
  }

  /** It is pulled: what was under way is lost, in the middle of a message too. */
  pull(): void {
    this.underway.length = 0;
    this.freeAt = 0;
  }
}
