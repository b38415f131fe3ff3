import type { Habits } from './habits.js';

/** What a simulated device or program says, on its way to the cable: late or with repeated status bytes left out. */
export class Mouth {
  private lastStatus = 0;
  private readonly queue: { readonly bytes: Uint8Array; readonly at: number }[] = [];

  /** @param clock the time now, µs, in its first place: as an argument it would be put on the heap */
  constructor(
    private readonly emit: (bytes: Uint8Array, from: number, to: number) => void,
    private readonly habits: Habits,
    private readonly clock: Float64Array,
  ) {}

  /** Says whole messages now. */
  say(bytes: Uint8Array, from: number, to: number): void {
    if (this.habits.late === 0) {
      this.out(bytes, from, to);
      return;
    }
    this.queue.push({ bytes: bytes.slice(from, to), at: this.clock[0] + this.habits.late });
  }

  /** Lets go what has waited long enough. */
  advance(): void {
    while (this.queue.length > 0 && this.queue[0].at <= this.clock[0]) {
      const { bytes } = this.queue[0];
      this.queue.shift();
      this.out(bytes, 0, bytes.length);
    }
  }

  private out(bytes: Uint8Array, from: number, to: number): void {
    if (!this.habits.runningStatus) {
      this.emit(bytes, from, to);
      return;
    }
    const kept: number[] = [];
    for (let at = from; at < to; at++) {
      const byte = bytes[at];
      if (byte >= 0x80 && byte < 0xf0) {
        if (byte !== this.lastStatus) kept.push(byte);
        this.lastStatus = byte;
        continue;
      }
      // System messages end it, real time does not (MIDI 1.0).
      if (byte >= 0xf0 && byte < 0xf8) this.lastStatus = 0;
      kept.push(byte);
    }
    this.emit(Uint8Array.from(kept), 0, kept.length);
  }
}
