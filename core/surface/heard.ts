/** No pattern matches the message. */
export const NO_MATCH = -1;
/** The message is a part of a value that is not whole yet: nothing to do. */
export const HALF = -2;

/** Nothing came beside a value. */
export const NO_EXTRA = -1;

/** What the last message of a link said, beside its target. One for each link; every part of its decoder writes into it. */
export class Heard {
  /** 0…1, or ticks where the pattern is relative; −1 for a dark ring; a character's code for a cell. */
  value = 0;
  /** The bits of a ring's form and centre lamp; 1 or 0 for an overload lamp, and then no value; {@link NO_EXTRA}. */
  extra = NO_EXTRA;
  /** Cell of a time display, from the right; −1 for none. */
  cell = -1;
  /** The half that came before the match and belongs to it, packed; 0 for none. */
  firstHalf = 0;
  /** What was a half is kept and waits for the other: it comes with that, or by itself. */
  keepsHalf = false;
  /** The match is what {@link firstHalf} had said: the message itself chooses another parameter and is told by it. */
  wasChosenAway = false;

  /** Another message is read. Its value is written by whoever finds one. */
  clear(): void {
    this.extra = NO_EXTRA;
    this.cell = -1;
    this.firstHalf = 0;
    this.keepsHalf = false;
    this.wasChosenAway = false;
  }
}
