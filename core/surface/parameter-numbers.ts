import { join14 } from '@rondo/core/wire';

// MIDI 1.0 Detailed Specification 4.2.1, registered and non-registered parameter numbers.
export const DATA_HIGH = 6;
export const DATA_LOW = 38;
export const DATA_INCREMENT = 96;
export const DATA_DECREMENT = 97;
export const NRPN_LOW = 98;
export const RPN_HIGH = 101;
/** Both halves of the number that chooses nothing. */
const NULL_HALF = 127;

/** Registered and non-registered numbers in one row. */
const PLACES = 2 * 16_384;
const NOTHING = -1;

/** The parameter that data entry on one channel is for, and what it has been told. */
export class ChosenParameter {
  type: 'nrpn' | 'rpn' = 'nrpn';
  /** The number that is chosen, 0…16383; −1 for none. */
  number = NOTHING;
  /** What stands for it in the tables that it was looked up in last; {@link lookedUpIn}. */
  entry = NOTHING;
  /** Those tables; null where another number has been chosen since. */
  lookedUpIn: object | null = null;
  private high = -1;
  private low = -1;
  /** Newest values by parameter, 14 bits, for data increment to start from; −1 where none came. Made when one comes. */
  private values: Int16Array | null = null;

  /** Chooses by half of a number (controllers 98–101). 127/127 chooses nothing (RP-018, MIDI 1.0). */
  choose(controller: number, data: number): void {
    const type = controller <= 99 ? 'nrpn' : 'rpn';
    if (type !== this.type) this.high = this.low = -1;
    this.type = type;
    this.lookedUpIn = null;
    if ((controller & 1) === 1) this.high = data;
    else this.low = data;
    const isNull = this.high === NULL_HALF && this.low === NULL_HALF;
    const isWhole = this.high >= 0 && this.low >= 0 && !isNull;
    this.number = isWhole ? join14(this.low, this.high) : NOTHING;
  }

  /** What the chosen one was told last, 14 bits; −1 where it was told nothing. */
  get value(): number {
    return this.values !== null && this.number >= 0 ? this.values[this.place] : NOTHING;
  }

  set value(fine: number) {
    if (this.number < 0) return;
    this.values ??= new Int16Array(PLACES).fill(NOTHING);
    this.values[this.place] = fine;
  }

  /** The cable is another one now. */
  forget(): void {
    this.high = this.low = this.number = NOTHING;
    this.lookedUpIn = null;
    this.values = null;
  }

  private get place(): number {
    return this.number * 2 + (this.type === 'rpn' ? 1 : 0);
  }
}
