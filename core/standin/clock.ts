import { CLOCK, START, STOP } from '@rondo/core/wire';

/** Clock messages in a beat (MIDI 1.0). */
const TICKS = 24;

/** The clock that a playing host sends: from the first whole beat on, so that whoever follows knows where the beats are. */
export class ClockOut {
  private runs = false;
  private readonly byte = new Uint8Array(1);

  constructor(private readonly emit: (bytes: Uint8Array, from: number, to: number) => void) {}

  /** The host has played from one place to another, in beats. */
  run(from: number, to: number): void {
    for (let tick = Math.floor(from * TICKS) + 1; tick <= Math.floor(to * TICKS); tick++) {
      if (!this.runs && tick % TICKS === 0) {
        this.runs = true;
        this.say(START);
      }
      if (this.runs) this.say(CLOCK);
    }
  }

  /** The host stands still, or has gone elsewhere. */
  stop(): void {
    if (this.runs) this.say(STOP);
    this.runs = false;
  }

  private say(status: number): void {
    this.byte[0] = status;
    this.emit(this.byte, 0, 1);
  }
}
