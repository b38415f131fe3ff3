/**
 * Places in the register that values travel in: doubles as arguments would be put on the heap. Each is called by what is
 * in it after the stage that writes it; every stage says which it reads and writes.
 */
export const enum Register {
  /** After `hearing`, or what a latched press brings again: a position, ticks, how hard a press was, a host's value. */
  Heard,
  /** After `wants`: what a host is to be told. */
  Wanted,
  /** After `hands`: where the control stood before; below 0 where that is not known. */
  HandBefore,
  /** After `hands`: when it was moved before, µs. */
  HandMovedBefore,
  Width,
}

const NOBODY = -1;

/**
 * The message that is being worked on, and values on their way. Every message fills it anew and clears it at its end:
 * what comes later, as a long press, brings its own.
 */
export class ActionContext {
  readonly register = new Float64Array(Register.Width);
  /** The short message, packed; 0 where there is none. */
  packed = 0;
  /** The half that came before it and belongs to it, packed; 0 for none. */
  firstHalf = 0;
  /** A SysEx in a stretch of bytes; null where it is a short message. */
  sysex: Uint8Array | null = null;
  sysexFrom = 0;
  sysexTo = 0;
  /** The part that is let go of by this very message; below 0 where none is. */
  releasing = NOBODY;

  /** A short message begins. */
  short(packed: number, firstHalf: number): void {
    this.packed = packed;
    this.firstHalf = firstHalf;
    this.sysex = null;
  }

  /** A SysEx begins; its bytes are valid until {@link clear}. */
  long(bytes: Uint8Array, from: number, to: number): void {
    this.packed = 0;
    this.firstHalf = 0;
    this.sysex = bytes;
    this.sysexFrom = from;
    this.sysexTo = to;
  }

  /** The message has been worked on: nothing of it can be read any more. */
  clear(): void {
    this.packed = 0;
    this.firstHalf = 0;
    this.sysex = null;
    this.releasing = NOBODY;
    this.register[Register.Heard] = NaN;
  }
}
