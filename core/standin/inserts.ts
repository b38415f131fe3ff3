import {
  frequencyLaw,
  gainLaw,
  qualityLaw,
  ratioLaw,
  thresholdLaw,
  timeLaw,
} from '@rondo/core/host';

/** Amplitudes of a sound in four bands. */
export type Band = [number, number, number, number];
/** Their middles, Hz. */
const MIDDLES = [100, 400, 2_000, 8_000] as const;
/** Time from one measurement to the next, ms. */
const STEP_MS = 50;
const MOST_STEPS = 2_000 / STEP_MS;

/** A level spread over the bands as broad music is. */
export const bandLevel = (level: number): Band => [
  level * 0.7,
  level * 0.5,
  level * 0.4,
  level * 0.32,
];

const amplitude = (db: number): number => 10 ** (db / 20);
const decibels = (level: number): number => 20 * Math.log10(Math.max(level, 1e-9));

/**
 * The three inserts of a strip, as far as a meter shows them: an equaliser on four bands, a compressor's gain with
 * attack and release, an echo of earlier levels. Values are read where they stand.
 */
export class Insert {
  private reduction = 0;
  private readonly tail = new Float64Array(MOST_STEPS + 1);
  private place = 0;

  /**
   * @param values values of the host, by slot
   * @param slots slots of the first strip: switches, and parameters by insert
   */
  constructor(
    private readonly values: Float64Array,
    private readonly strip: number,
    private readonly slots: { readonly on: number[]; readonly parameters: number[][] },
  ) {}

  private isOn(insert: number): boolean {
    return this.values[this.slots.on[insert] + this.strip] === 1;
  }

  private value(insert: number, parameter: number): number {
    return this.values[this.slots.parameters[insert][parameter] + this.strip];
  }

  /** Amplitude of a sound after all inserts; called once each {@link STEP_MS}. */
  process(bands: Band): number {
    return this.echo(this.compress(this.equalise(bands)));
  }

  private equalise(bands: Band): number {
    const on = this.isOn(0);
    let power = 0;
    MIDDLES.forEach((hz, band) => {
      power += (bands[band] * (on ? amplitude(this.bandGain(hz)) : 1)) ** 2;
    });
    return Math.sqrt(power);
  }

  /** Gain of the equaliser at a frequency, dB: shelves of first order, bells on a logarithmic scale. */
  private bandGain(hz: number): number {
    const gain = (n: number) => gainLaw.toUnit(this.value(0, n));
    const frequency = (n: number) => frequencyLaw.toUnit(this.value(0, n));
    const bell = (n: number) => {
      const q = qualityLaw.toUnit(this.value(0, n + 2));
      return gain(n) * Math.exp(-((Math.log2(hz / frequency(n + 1)) * q) ** 2));
    };
    const low = gain(0) / (1 + (hz / frequency(1)) ** 2);
    const high = gain(8) / (1 + (frequency(9) / hz) ** 2);
    const cut = -10 * Math.log10(1 + (frequency(10) / hz) ** 4);
    return low + bell(2) + bell(5) + high + cut + gain(11);
  }

  private compress(level: number): number {
    if (!this.isOn(1)) {
      this.reduction = 0;
      return level;
    }
    const over = decibels(level) - thresholdLaw.toUnit(this.value(1, 0));
    const ratio = ratioLaw.toUnit(this.value(1, 1));
    const wanted = over > 0 ? over * (1 - 1 / ratio) : 0;
    const time = timeLaw.toUnit(this.value(1, wanted > this.reduction ? 2 : 3));
    this.reduction += (wanted - this.reduction) * (1 - Math.exp(-STEP_MS / time));
    const wet = level * amplitude(gainLaw.toUnit(this.value(1, 4)) - this.reduction);
    const mix = this.value(1, 5);
    return wet * mix + level * (1 - mix);
  }

  private echo(level: number): number {
    const steps = Math.max(
      1,
      Math.min(MOST_STEPS, Math.round(timeLaw.toUnit(this.value(2, 0)) / STEP_MS)),
    );
    const earlier = this.tail[(this.place - steps + this.tail.length) % this.tail.length];
    // Feedback stays below what would never end; a darker tone is a softer one.
    const tone = 0.4 + 0.6 * this.value(2, 2);
    const repeat = earlier * tone;
    this.tail[this.place] = level + repeat * this.value(2, 1) * 0.95;
    this.place = (this.place + 1) % this.tail.length;
    const mix = this.isOn(2) ? this.value(2, 3) : 0;
    return level + repeat * mix;
  }
}
