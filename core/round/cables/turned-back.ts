/** How long after a press a program that hears it twice has turned its lamp over and back, µs: common practice, no source. */
const WITHIN = 80_000;
/** It may have heard the device itself before Rondo's press, and told so by then, µs. */
const AHEAD = 30_000;
/** Presses one after the other of which this is so, before it is no chance. */
const OFTEN = 3;
const LONG_AGO = -1e12;

/**
 * Lamps of a program's keys that turn over and back at one press: it seems to hear the device itself besides Rondo, so
 * that every press acts twice.
 */
export class TurnedBack {
  private readonly pressedAt: Float64Array;
  private readonly turnedAt: Float64Array;
  private readonly turns: Uint8Array;
  private last = -1;
  private row = 0;

  constructor(slots: number) {
    this.pressedAt = new Float64Array(slots).fill(LONG_AGO);
    this.turnedAt = new Float64Array(slots).fill(LONG_AGO);
    this.turns = new Uint8Array(slots);
  }

  /** A key of a program goes down. @param clock the time now, µs, in its first place */
  pressed(slot: number, clock: Float64Array): void {
    if (this.last >= 0 && this.turns[this.last] < 2) this.row = 0;
    this.last = slot;
    this.pressedAt[slot] = clock[0];
    this.turns[slot] = clock[0] - this.turnedAt[slot] <= AHEAD ? 1 : 0;
  }

  /** It is let go: what its lamp does from now on is for that. */
  released(slot: number): void {
    this.pressedAt[slot] = LONG_AGO;
  }

  /** Its lamp turns over; true where that has now happened twice at each of several presses. */
  turned(slot: number, clock: Float64Array): boolean {
    this.turnedAt[slot] = clock[0];
    if (clock[0] - this.pressedAt[slot] > WITHIN || ++this.turns[slot] !== 2) return false;
    return ++this.row >= OFTEN;
  }
}
