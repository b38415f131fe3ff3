import { LONG_AGO, type State } from '../live/state.js';

/** How long after a press a program that hears it twice has turned its lamp over and back, µs: common practice, no source. */
const WITHIN = 80_000;
/** It may have heard the device itself before Rondo's press, and told so by then, µs. */
const AHEAD = 30_000;
/** Presses one after the other of which this is so, before it is no chance. */
const OFTEN = 3;

/**
 * Lamps of a program's keys that turn over and back at one press: it seems to hear the device itself besides Rondo, so
 * that every press acts twice.
 */
export class TurnedBack {
  private readonly pressedAt: Float64Array;
  private readonly turnedAt: Float64Array;
  private readonly turns: Uint8Array;
  /** Key that was pressed last, and presses in a row of which it is so; each in its first place. */
  private readonly last: Int32Array;
  private readonly row: Int32Array;

  /** @param clock the time now, µs, in its first place */
  constructor(
    state: State,
    private readonly clock: Float64Array,
  ) {
    this.pressedAt = state.keyPressedAt;
    this.turnedAt = state.lampTurnedAt;
    this.turns = state.lampTurns;
    this.last = state.lastLamp;
    this.row = state.lampRow;
  }

  /** A key of a program goes down. */
  pressed(slot: number): void {
    const last = this.last[0];
    const now = this.clock[0];
    if (last >= 0 && this.turns[last] < 2) this.row[0] = 0;
    this.last[0] = slot;
    this.pressedAt[slot] = now;
    this.turns[slot] = now - this.turnedAt[slot] <= AHEAD ? 1 : 0;
  }

  /** It is let go: what its lamp does from now on is for that. */
  released(slot: number): void {
    this.pressedAt[slot] = LONG_AGO;
  }

  /** Its lamp turns over; true where that has now happened twice at each of several presses. */
  turned(slot: number): boolean {
    const now = this.clock[0];
    this.turnedAt[slot] = now;
    if (now - this.pressedAt[slot] > WITHIN || ++this.turns[slot] !== 2) return false;
    return ++this.row[0] >= OFTEN;
  }
}
