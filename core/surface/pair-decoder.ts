import { join14 } from '@rondo/core/wire';
import { HALF } from './heard.js';
import { HalfValues, NO_HALF } from './half-values.js';

const TOP_14 = 16_383;

/**
 * Reads values that come in two halves: one controller for the high seven bits, one for the low (MIDI 1.0, 14-bit
 * controllers). Which halves wait, and which links send one alone, outlives every map.
 */
export abstract class PairDecoder {
  /** Value of the last match: 0…1, or ticks where the pattern is relative; −1 for a dark ring. */
  value = 0;
  /** The half that came before the last match and belongs to it, packed; 0 for none. */
  firstHalf = 0;
  /** What was a half is kept and waits for the other: it comes with that, or by itself. */
  holdsHalf = false;
  protected readonly halves: HalfValues;

  /**
   * @param clock the time now, µs, in its first place
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   */
  constructor(clock: Float64Array, agenda: Float64Array) {
    this.halves = new HalfValues(clock, agenda);
  }

  /**
   * A high half without a low one is a value of seven bits: with a low half of 0, as the standard has it in the
   * receiver's view, a fader that sends no more would never reach its top.
   */
  protected loneHigh(key: number, target: number): number {
    this.halves.cameAlone(key);
    this.value = this.halves.high[key] / 127;
    return target;
  }

  /** Both halves are there. */
  protected joined(key: number, target: number): number {
    this.value = join14(this.halves.low[key], this.halves.high[key]) / TOP_14;
    return target;
  }

  protected highHalf(
    key: number,
    target: number,
    packed: number,
    data: number,
    lowFirst: boolean,
  ): number {
    const { halves } = this;
    const low = halves.low[key];
    halves.high[key] = data;
    halves.low[key] = NO_HALF;
    if (lowFirst) {
      this.firstHalf = halves.end(key);
      this.value = low === NO_HALF ? data / 127 : join14(low, data) / TOP_14;
      return target;
    }
    // Of two high halves in a row the first one had no low half.
    if (halves.isWaiting(key)) halves.cameAlone(key);
    if (halves.comesAlone(key)) {
      halves.end(key);
      return this.loneHigh(key, target);
    }
    return this.waits(key, packed);
  }

  /** A half is kept until the other comes. */
  private waits(key: number, packed: number): number {
    this.halves.wait(key, packed);
    this.holdsHalf = true;
    return HALF;
  }

  protected lowHalf(
    key: number,
    target: number,
    packed: number,
    data: number,
    lowFirst: boolean,
  ): number {
    const { halves } = this;
    halves.low[key] = data;
    if (lowFirst) return this.waits(key, packed);
    this.firstHalf = halves.end(key);
    halves.bothCame(key);
    // Where no high half ever came, nobody knows what this one refines.
    if (halves.high[key] === NO_HALF) return HALF;
    return this.joined(key, target);
  }
}
