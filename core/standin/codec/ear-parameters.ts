import type { Pattern } from '@rondo/core/surface';

/** Reads the data bytes of one message into the ear's value; false where the value is not whole yet. */
export type Hearing = (one: number, two: number, released: boolean) => boolean;

export interface Meaning {
  readonly which: number;
  readonly hearing: Hearing;
}

const PARAMETERS = 16_384;
/** The list of a channel's parameters. */
const parametersOf = (isRegistered: boolean, channel: number): number =>
  (isRegistered ? 16 : 0) + channel;

/** Data entry, its low half, and what chooses its parameter (MIDI 1.0). */
const DATA = 6;
const FINE_DATA = 38;
const FIRST_CHOICE = 98;
const LAST_CHOICE = 101;

/** The parameter that data on one channel is for. */
class Chosen {
  isRegistered = false;
  high = -1;
  low = -1;
  /** What it means; looked up when its data comes. */
  means: Meaning | undefined = undefined;
  isLooked = false;

  choose(controller: number, data: number): void {
    const isRegistered = controller >= 100;
    if (this.isRegistered !== isRegistered) this.high = this.low = -1;
    this.isRegistered = isRegistered;
    if ((controller & 1) === 1) this.high = data;
    else this.low = data;
    this.isLooked = false;
  }
}

/** What is no value of a parameter, or not a whole one yet. */
export const enum Data {
  None = -2,
  Half = -1,
}

/** Which registered and non-registered parameters mean what, and which one is chosen on each channel (MIDI 1.0). */
export class EarParameters {
  /** Whether any is waited for. */
  isUsed = false;
  /** By channel, the registered ones after the others, and by number. */
  private readonly lists: (Meaning | undefined)[][] = Array.from({ length: 32 }, () => []);
  private readonly chosen = Array.from({ length: 16 }, () => new Chosen());

  /**
   * A parameter means something.
   * @param share takes a whole number and the highest there is as what was heard
   */
  learn(
    { type, channel, number, bits }: Extract<Pattern, { type: 'nrpn' | 'rpn' }>,
    which: number,
    share: (whole: number, top: number) => true,
  ): void {
    let high = 0;
    this.isUsed = true;
    const list = this.lists[parametersOf(type === 'rpn', channel - 1)];
    // Filled, since a list with holes is slow to look up.
    while (list.length < PARAMETERS) list.push(undefined);
    list[number] = {
      which,
      hearing: (controller, data) => {
        if (controller === DATA) high = data;
        if (bits === 7) return controller === DATA && share(data, 127);
        return controller === FINE_DATA && share(high * 128 + data, 16_383);
      },
    };
  }

  /** What data on a channel is for; below 0 one of {@link Data}. */
  take(channel: number, controller: number, data: number): number {
    if (controller >= FIRST_CHOICE && controller <= LAST_CHOICE) {
      this.chosen[channel].choose(controller, data);
      return Data.None;
    }
    if (controller !== DATA && controller !== FINE_DATA) return Data.None;
    const chosen = this.chosen[channel];
    if (!chosen.isLooked) {
      chosen.isLooked = true;
      const isWhole = chosen.high >= 0 && chosen.low >= 0;
      const list = this.lists[parametersOf(chosen.isRegistered, channel)];
      chosen.means = isWhole && list.length > 0 ? list[chosen.high * 128 + chosen.low] : undefined;
    }
    if (!chosen.means) return Data.None;
    const { which, hearing } = chosen.means;
    return hearing(controller, data, false) ? which : Data.Half;
  }
}
