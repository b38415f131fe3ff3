import {
  DECKS,
  EFFECTS,
  EFFECT_UNITS,
  FADER_TOP_DB,
  SIDES,
  deflection,
  killGain,
  semitoneRatio,
  soundAt,
  type Sound,
} from '@rondo/core/host';
import type { Deck } from './booth-deck.js';
import type { BoothSession } from './booth-session.js';

const SAMPLE_LEVEL = 0.15;
/** What a record's loudest beat leaves free below full scale, as amplitude: four decks fit on one another. */
const HEADROOM = 0.2;
/** Steps of the meters that an effect's tail lasts at most. */
const TAIL = 24;

/** Which sources each stem has, by the number of stems. */
const PARTS: Readonly<Record<number, readonly (readonly number[])[]>> = {
  2: [[0], [1, 2, 3, 4]],
  3: [[0], [1], [2, 3, 4]],
  4: [[0], [1], [2], [3, 4]],
  5: [[0], [1], [2], [3], [4]],
};
/** Voice and rest of a balance: in the middle both are whole, at either end only one is left. */
export const balanceGains = (balance: number): [voice: number, rest: number] => [
  Math.min(1, 1 + balance),
  Math.min(1, 1 - balance),
];

/** Gains of the first and the second deck at a stem's crossfade: in the middle both are whole. */
export const crossGains = (position: number): [first: number, second: number] => [
  Math.min(1, 2 * (1 - position)),
  Math.min(1, 2 * position),
];

/**
 * Gains of the sides A and B at the crossfader's position. Smooth: constant power, −3.01 dB each in the middle; even:
 * straight lines; sharp: both whole but for the last tenth at either end.
 */
export function crossfade(position: number, curve: number): [a: number, b: number] {
  if (curve === 0) return [Math.cos((position * Math.PI) / 2), Math.sin((position * Math.PI) / 2)];
  if (curve === 1) return [1 - position, position];
  return [Math.min(1, (1 - position) * 10), Math.min(1, position * 10)];
}

/** What the mixer needs of the decks that it mixes. */
export interface Mixed extends BoothSession {
  readonly decks: readonly Deck[];
  /** Samples that sound now. */
  readonly samples: number;
}

/** The mixer's levels, from the records through stems, bands, filter, effects and faders to the meters. */
export class BoothMix {
  private readonly echoes = Array.from({ length: EFFECT_UNITS }, () => new Float64Array(TAIL));
  private place = 0;

  constructor(private readonly of: Mixed) {}

  /** Amplitudes of a deck's sources after its stems. */
  private stems(deck: number): Sound {
    const { record, beat, isPlaying, shift } = this.of.decks[deck];
    if (!record || !isPlaying) return [0, 0, 0, 0, 0];
    const parts = PARTS[record.stems];
    const anySolo = parts.some((_, stem) => this.of.isOn(`stemSolo${stem + 1}`, deck));
    const [voice, rest] = balanceGains(this.of.value('balance', deck) * 2 - 1);
    const pair = this.of.choice('stemPair', 2) * 2;
    const out = soundAt(record, beat);
    // A record that is shifted up sounds brighter, and so a little softer in the bass.
    out[2] /= Math.sqrt(semitoneRatio(shift));
    parts.forEach((sources, stem) => {
      const n = stem + 1;
      const heard =
        !this.of.isOn(`stemMute${n}`, deck) && (!anySolo || this.of.isOn(`stemSolo${n}`, deck));
      const cross = crossGains(this.of.value(`stemCross${n}`));
      const crossed = deck === pair ? cross[0] : deck === pair + 1 ? cross[1] : 1;
      const gain = heard ? this.of.value(`stem${n}`, deck) * crossed : 0;
      for (const source of sources) out[source] *= gain * (source === 0 ? voice : rest);
    });
    return out;
  }

  private faderGain(position: number): number {
    return position === 0 ? 0 : 10 ** ((FADER_TOP_DB + 60 * Math.log10(position)) / 20);
  }

  /** Amplitude of a deck before its fader: gain, four bands, filter, effects. */
  private channel(deck: number): number {
    const [voice, drums, bass, keys, others] = this.stems(deck);
    const rest = keys + others;
    const band = (id: string) => killGain(this.of.value(id, deck));
    const filter = this.of.value('filter', deck) * 2 - 1;
    // To the left the highs go, to the right the lows.
    const keep = (amount: number) => 1 - Math.min(1, Math.max(0, amount));
    const low = (bass + drums * 0.4) * band('low') * keep(filter * 1.2);
    const middle = keep(Math.abs(filter) * 1.1 - 0.2);
    const mid = (voice * 0.6 + rest * 0.6) * band('mid') * middle;
    const highMid = (voice * 0.8 + drums * 0.2) * band('highMid') * middle;
    const high = (drums * 0.5 + rest * 0.4 + voice * 0.2) * band('high') * keep(-filter * 1.2);
    return Math.hypot(low, mid, highMid, high) * band('gain') * HEADROOM;
  }

  private effect(unit: number, deck: number, level: number): number {
    const n = unit + 1;
    if (!this.of.isOn(`effect${n}On`) || !this.of.isOn(`effect${n}Assigned`, deck)) return level;
    const amount = this.of.value(`effect${n}Amount`);
    const time = this.of.value(`effect${n}Time`);
    const tone = 0.3 + 0.7 * this.of.value(`effect${n}Tone`);
    const tail = this.echoes[unit];
    const earlier = tail[(this.place - 1 - Math.round(time * 20) + 2 * tail.length) % tail.length];
    switch (this.of.choice(`effect${n}Kind`, EFFECTS.length)) {
      case 0:
        return level + earlier * amount * tone;
      case 1:
        return level * (1 - amount * tone * (0.5 + 0.5 * Math.sin(this.place * (0.2 + time))));
      case 2: {
        const steps = 2 + Math.round((1 - amount) * 30 * tone + time * 10);
        return Math.round(level * steps) / steps;
      }
      default:
        return level * (1 - amount * 0.5) + (earlier * 0.6 + level * 0.4 * time) * amount * tone;
    }
  }

  /** Measures what every deck and the whole sound like, and tells it. */
  measure(): void {
    const [a, b] = crossfade(this.of.value('crossfader'), this.of.choice('curve', 3));
    let master = 0;
    let phones = 0;
    const dry = new Float64Array(EFFECT_UNITS);
    for (let deck = 0; deck < DECKS; deck++) {
      let level = this.channel(deck);
      for (let unit = 0; unit < EFFECT_UNITS; unit++) {
        dry[unit] += level;
        level = this.effect(unit, deck, level);
      }
      if (this.of.isOn('headphone', deck)) phones += level * level;
      const out = level * this.faderGain(this.of.value('fader', deck));
      this.putMeter(this.of.slot('meter', deck), out);
      const side = this.of.choice('side', SIDES.length, deck);
      const gain = side === 1 ? 1 : side === 0 ? a : b;
      master += (out * gain) ** 2;
    }
    dry.forEach(
      (level, unit) => (this.echoes[unit][this.place % this.echoes[unit].length] = level),
    );
    this.place++;
    const sampled = this.of.samples * SAMPLE_LEVEL * this.faderGain(this.of.value('samplerLevel'));
    const main = (Math.sqrt(master) + sampled) * this.faderGain(this.of.value('masterLevel'));
    const mix = this.of.value('headphoneMix');
    this.putMeter(this.of.slot('masterMeter'), main);
    this.putMeter(
      this.of.slot('headphoneMeter'),
      (Math.sqrt(phones) * (1 - mix) + main * mix) *
        this.faderGain(this.of.value('headphoneLevel')),
    );
  }

  private putMeter(slot: number, level: number): void {
    const share = level > 0 ? Math.round(deflection(20 * Math.log10(level)) * 127) / 127 : 0;
    // A level that stays is told again, since surfaces let their meters fall by themselves.
    if (share !== this.of.valueAt(slot) || share > 0) this.of.put(slot, share);
  }
}
