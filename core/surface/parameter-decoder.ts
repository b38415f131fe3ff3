import { CONTROL_CHANGE } from '@rondo/core/wire';
import { HALF, NO_MATCH, type Heard } from './heard.js';
import { NO_HALF, type HalfValues } from './half-values.js';
import type { PageInUse } from './page-in-use.js';
import { NO_ENTRY, keyOf, parameterListOf } from './page-tables.js';
import {
  ChosenParameter,
  DATA_DECREMENT,
  DATA_HIGH,
  DATA_INCREMENT,
  NRPN_LOW,
  RPN_HIGH,
} from './parameter-numbers.js';
import type { PairDecoder } from './pair-decoder.js';

const TOP_14 = 16_383;

/**
 * Reads registered and non-registered parameters (MIDI 1.0): what is chosen on each channel, and what its data and steps
 * mean by the page that is on. A parameter that only another page has puts that page on.
 */
export class ParameterDecoder {
  private readonly chosen = Array.from({ length: 16 }, () => new ChosenParameter());

  /**
   * @param inUse what messages mean
   * @param pairs joins data of fourteen bits
   * @param halves those that wait for the other
   * @param heard takes the value
   */
  constructor(
    private readonly inUse: PageInUse,
    private readonly pairs: PairDecoder,
    private readonly halves: HalfValues,
    private readonly heard: Heard,
  ) {}

  /** The cable is another one now: nothing is chosen any more. */
  forget(): void {
    for (const chosen of this.chosen) chosen.forget();
  }

  /** A controller that chooses, where nothing is waited for yet: what waits for it may be described later. */
  choose(channel: number, number: number, data: number): void {
    this.chosen[channel].choose(number, data);
  }

  /** What is looked up for the parameter that is chosen on a channel; {@link NO_ENTRY} where it is not waited for. */
  entryOf(channel: number): number {
    const chosen = this.chosen[channel];
    if (chosen.lookedUpIn === this.inUse.tables) return chosen.entry;
    const entry = this.lookUp(chosen, channel);
    chosen.entry = entry;
    chosen.lookedUpIn = this.inUse.tables;
    return entry;
  }

  private lookUp({ type, number }: ChosenParameter, channel: number): number {
    if (number < 0) return NO_ENTRY;
    const at = parameterListOf(type, channel);
    const { inUse } = this;
    const here = inUse.tables.parameters[at]?.[number] ?? NO_ENTRY;
    if (here !== NO_ENTRY) return here;
    const page = inUse.map.pages.findIndex(
      ({ parameters }) => (parameters[at]?.[number] ?? -1) >= 0,
    );
    if (page < 0) return NO_ENTRY;
    inUse.turnTo(page);
    return inUse.tables.parameters[at]?.[number] as number;
  }

  /** What a controller means as a step of an (N)RPN; {@link NO_MATCH} where it means nothing of that kind. */
  accept(packed: number, channel: number, number: number, data: number): number {
    const chosen = this.chosen[channel];
    const key = (channel << 7) | DATA_HIGH;
    if (number >= NRPN_LOW && number <= RPN_HIGH) {
      // The low half of the one before can no longer come: what was said of it acts, and then it is forgotten.
      const waited = this.halves.end(key);
      const found = waited === 0 ? NO_ENTRY : this.entryOf(channel);
      chosen.choose(number, data);
      if (found !== NO_ENTRY) {
        this.pairs.alone(key, found >> 1);
        this.halves.high[key] = NO_HALF;
        this.heard.firstHalf = waited;
        this.heard.wasChosenAway = true;
        return found >> 1;
      }
      this.halves.high[key] = NO_HALF;
      // A pattern of its own may stand on such a controller.
      const own = this.inUse.tables.table[keyOf(CONTROL_CHANGE | channel, number)];
      return own === NO_ENTRY ? HALF : NO_MATCH;
    }
    const steps = number === DATA_INCREMENT ? 1 : number === DATA_DECREMENT ? -1 : 0;
    if (steps !== 0 && this.inUse.tables.table[keyOf(packed & 0xff, number)] !== NO_ENTRY)
      return NO_MATCH;
    const found = this.entryOf(channel);
    if (found === NO_ENTRY) return NO_MATCH;
    const fine = (found & 1) === 1;
    const target = found >> 1;
    if (steps !== 0) {
      // They go on from what a half says that still waits for the other.
      const waited = fine ? this.halves.end(key) : 0;
      if (waited !== 0) this.alone(key, target);
      this.heard.firstHalf = waited;
      return this.step(chosen, target, steps, fine);
    }
    if (number === DATA_HIGH && !fine) {
      chosen.value = data << 7;
      this.heard.value = data / 127;
      return target;
    }
    if (!fine) return HALF;
    const read =
      number === DATA_HIGH
        ? this.pairs.highHalf(key, target, packed, data, false)
        : this.pairs.lowHalf(key, target, packed, data, false);
    if (read >= 0) chosen.value = Math.round(this.heard.value * TOP_14);
    return read;
  }

  /** A high half of a parameter stands alone: it is what steps go on from. */
  alone(key: number, target: number): number {
    this.pairs.alone(key, target);
    this.chosen[key >> 7].value = Math.round(this.heard.value * TOP_14);
    return target;
  }

  /** Data increment and decrement go by one step, whatever number comes with them (RP-018). */
  private step(chosen: ChosenParameter, target: number, steps: number, fine: boolean): number {
    // Where nobody has said a value there is none to go on from.
    if (chosen.value < 0) return HALF;
    const wanted = chosen.value + steps * (fine ? 1 : 128);
    chosen.value = Math.max(0, Math.min(fine ? TOP_14 : 127 << 7, wanted));
    this.heard.value = fine ? chosen.value / TOP_14 : (chosen.value >> 7) / 127;
    return target;
  }
}
