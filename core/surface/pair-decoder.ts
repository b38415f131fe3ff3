import { join14 } from '@rondo/core/wire';
import { HALF, type Heard } from './heard.js';
import { NO_HALF, type HalfValues } from './half-values.js';

const TOP_14 = 16_383;

/** Joins values that come in two halves: one controller for the high seven bits, one for the low (MIDI 1.0). */
export class PairDecoder {
  /**
   * @param halves which halves wait, and which come alone
   * @param heard takes the value
   */
  constructor(
    private readonly halves: HalfValues,
    private readonly heard: Heard,
  ) {}

  /**
   * A high half without a low one is a value of seven bits: with a low half of 0, as the standard has it in the
   * receiver's view, a fader that sends no more would never reach its top.
   */
  alone(key: number, target: number): number {
    this.halves.cameAlone(key);
    this.heard.value = this.halves.high[key] / 127;
    return target;
  }

  /** Both halves are there. */
  joined(key: number, target: number): number {
    this.heard.value = join14(this.halves.low[key], this.halves.high[key]) / TOP_14;
    return target;
  }

  /** The high half of a pair has come; its target, or {@link HALF}. */
  highHalf(key: number, target: number, packed: number, data: number, lowFirst: boolean): number {
    const { halves } = this;
    const low = halves.low[key];
    halves.high[key] = data;
    halves.low[key] = NO_HALF;
    if (lowFirst) {
      this.heard.firstHalf = halves.end(key);
      this.heard.value = low === NO_HALF ? data / 127 : join14(low, data) / TOP_14;
      return target;
    }
    // Of two high halves in a row the first one had no low half.
    if (halves.isWaiting(key)) halves.cameAlone(key);
    if (halves.comesAlone(key)) {
      halves.end(key);
      return this.alone(key, target);
    }
    return this.waits(key, packed);
  }

  /** A half is kept until the other comes. */
  private waits(key: number, packed: number): number {
    this.halves.wait(key, packed);
    this.heard.keepsHalf = true;
    return HALF;
  }

  /** The low half of a pair has come; its target, or {@link HALF}. */
  lowHalf(key: number, target: number, packed: number, data: number, lowFirst: boolean): number {
    const { halves } = this;
    halves.low[key] = data;
    if (lowFirst) return this.waits(key, packed);
    this.heard.firstHalf = halves.end(key);
    halves.bothCame(key);
    // Where no high half ever came, nobody knows what this one refines.
    if (halves.high[key] === NO_HALF) return HALF;
    return this.joined(key, target);
  }
}
