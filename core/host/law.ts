/** How a normalised value, 0…1, reads in a unit. Every law is monotone and its two directions undo each other. */
export interface Law {
  readonly unit: string;
  /** Value in the unit at a normalised position, 0…1. */
  toUnit(position: number): number;
  /** Normalised position of a value in the unit, clamped to 0…1. */
  fromUnit(value: number): number;
  /** As people say it: −6.0 dB, L32. */
  format(position: number): string;
}

const clamp01 = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);
/** A minus sign as typographers set it. */
const signed = (value: number, digits: number): string => value.toFixed(digits).replace('-', '−');

/** Level at the top of the fader, in dB. */
export const FADER_TOP_DB = 6;

/**
 * Fader taper: amplitude grows with the cube of the travel, so dB = 6 + 60·log10(position); −∞ at the bottom,
 * 0 dB at 79.4 % of the travel. Our own choice among the usual power tapers.
 */
export const faderTaper: Law = {
  unit: 'dB',
  toUnit: (position) => FADER_TOP_DB + 60 * Math.log10(clamp01(position)),
  fromUnit: (db) => clamp01(10 ** ((db - FADER_TOP_DB) / 60)),
  format(position) {
    const db = this.toUnit(position);
    if (db < -90) return '−∞ dB';
    const text = signed(db, 1);
    if (text === '−0.0' || text === '0.0') return '0.0 dB';
    return `${db > 0 ? '+' : ''}${text} dB`;
  },
};

/** Pan: −100 full left … 0 centre … +100 full right, linear in travel. */
export const panLaw: Law = {
  unit: '',
  toUnit: (position) => (clamp01(position) - 0.5) * 200,
  fromUnit: (pan) => clamp01(pan / 200 + 0.5),
  format(position) {
    const pan = Math.round(this.toUnit(position));
    if (pan === 0) return 'Centre';
    return `${pan < 0 ? 'L' : 'R'}${Math.abs(pan)}`;
  },
};

/**
 * Gains of left and right at a pan position, constant power: cos² + sin² = 1, −3.01 dB each at the centre.
 * Source: the usual sine/cosine pan law of recording handbooks.
 */
export function panGains(position: number): [left: number, right: number] {
  const angle = (clamp01(position) * Math.PI) / 2;
  return [Math.cos(angle), Math.sin(angle)];
}

export const TEMPO_MIN = 20;
export const TEMPO_MAX = 300;

/** Tempo, 20–300 beats a minute, linear. */
export const tempoLaw: Law = {
  unit: 'bpm',
  toUnit: (position) => TEMPO_MIN + clamp01(position) * (TEMPO_MAX - TEMPO_MIN),
  fromUnit: (bpm) => clamp01((bpm - TEMPO_MIN) / (TEMPO_MAX - TEMPO_MIN)),
  format(position) {
    return `${this.toUnit(position).toFixed(1)} bpm`;
  },
};

/** Points of the digital peak scale, dB full scale → share of full deflection. IEC 60268-18, from memory. */
const DEFLECTION: readonly (readonly [db: number, share: number])[] = [
  [-70, 0],
  [-60, 0.025],
  [-50, 0.075],
  [-40, 0.15],
  [-30, 0.3],
  [-20, 0.5],
  [0, 1],
];

/** Meter deflection, 0…1, of a level in dB full scale: straight lines between the scale's points. */
export function deflection(db: number): number {
  if (!(db > DEFLECTION[0][0])) return 0;
  for (let i = 1; i < DEFLECTION.length; i++) {
    const [db1, share1] = DEFLECTION[i];
    if (db <= db1) {
      const [db0, share0] = DEFLECTION[i - 1];
      return share0 + ((db - db0) / (db1 - db0)) * (share1 - share0);
    }
  }
  return 1;
}

/** Meter level in dB full scale at a deflection of 0…1; the scale of {@link deflection} the other way. */
const meterLaw: Law = {
  unit: 'dBFS',
  toUnit(share) {
    const s = clamp01(share);
    for (let i = 1; i < DEFLECTION.length; i++) {
      const [db0, share0] = DEFLECTION[i - 1];
      const [db1, share1] = DEFLECTION[i];
      if (s <= share1) return db0 + ((s - share0) / (share1 - share0)) * (db1 - db0);
    }
    return 0;
  },
  fromUnit: deflection,
  format(share) {
    const db = this.toUnit(share);
    return db <= -70 ? 'silent' : `${signed(db, 0)} dBFS`;
  },
};

/** On or off: half the travel and more is on. */
const switchLaw: Law = {
  unit: '',
  toUnit: (position) => (position >= 0.5 ? 1 : 0),
  fromUnit: (value) => (value >= 0.5 ? 1 : 0),
  format: (position) => (position >= 0.5 ? 'On' : 'Off'),
};

/** A straight scale from one value to another, with a number of decimals and a sign where it says so. */
function linear(
  from: number,
  to: number,
  unit: string,
  { digits = 0, sign = false, gap = ' ' }: { digits?: number; sign?: boolean; gap?: string } = {},
): Law {
  return {
    unit,
    toUnit: (position) => from + clamp01(position) * (to - from),
    fromUnit: (value) => clamp01((value - from) / (to - from)),
    format(position) {
      const value = Number(this.toUnit(position).toFixed(digits));
      const plus = sign && value > 0 ? '+' : '';
      return `${plus}${signed(value === 0 ? 0 : value, digits)}${unit === '' ? '' : gap}${unit}`;
    },
  };
}

/** A scale on which equal travel is an equal ratio, as for frequencies and times. */
function logarithmic(from: number, to: number, format: (value: number) => string): Law {
  return {
    unit: '',
    toUnit: (position) => from * (to / from) ** clamp01(position),
    fromUnit: (value) => clamp01(Math.log(Math.max(value, from) / from) / Math.log(to / from)),
    format(position) {
      return format(this.toUnit(position));
    },
  };
}

const threeDigits = (value: number): string => String(Number(value.toPrecision(3)));

/** Frequency, 20 Hz – 20 kHz: each octave takes the same travel. */
export const frequencyLaw: Law = {
  ...logarithmic(20, 20_000, (hz) =>
    hz < 1_000 ? `${threeDigits(hz)} Hz` : `${threeDigits(hz / 1_000)} kHz`,
  ),
  unit: 'Hz',
};

/** Time, 1 ms – 2 s. */
export const timeLaw: Law = {
  ...logarithmic(1, 2_000, (ms) =>
    ms < 1_000 ? `${threeDigits(ms)} ms` : `${threeDigits(ms / 1_000)} s`,
  ),
  unit: 'ms',
};

/** Equaliser gain, ±15 dB; the middle changes nothing. */
export const gainLaw = linear(-15, 15, 'dB', { digits: 1, sign: true });

/** Gain of a mixer's equaliser: −∞ at the left end, 0 dB in the middle, +6 dB at the right; amplitude in two lines. */
const killLaw: Law = {
  unit: 'dB',
  toUnit: (position) => 20 * Math.log10(killGain(position)),
  fromUnit: (db) => {
    const gain = 10 ** (db / 20);
    return clamp01(gain <= 1 ? gain / 2 : 0.5 + (gain - 1) / (2 * (KILL_TOP - 1)));
  },
  format(position) {
    const db = this.toUnit(position);
    if (db < -60) return '−∞ dB';
    const text = signed(db, 1);
    return text === '0.0' || text === '−0.0' ? '0.0 dB' : `${db > 0 ? '+' : ''}${text} dB`;
  },
};

/** Amplitude at the right end of {@link killLaw}: +6.02 dB. */
const KILL_TOP = 2;

/** Amplitude of {@link killLaw}: 0 … 1 over the left half, 1 … 2 over the right. */
export function killGain(position: number): number {
  const p = clamp01(position);
  return p <= 0.5 ? 2 * p : 1 + (p - 0.5) * 2 * (KILL_TOP - 1);
}

/** Quality of a filter band, 0.3 – 12. */
export const qualityLaw: Law = logarithmic(0.3, 12, threeDigits);

/** Compressor ratio, 1:1 – 20:1. */
export const ratioLaw: Law = logarithmic(1, 20, (ratio) => `${threeDigits(ratio)}:1`);

const percentLaw = linear(0, 100, '%');

/** Threshold, −60 … 0 dB. */
export const thresholdLaw = linear(-60, 0, 'dB', { digits: 1 });

/** Balance, −1 … +1. */
const balanceLaw = linear(-1, 1, '', { digits: 2, sign: true });

/** A place in the song, in bars from the start. */
export const BARS_MAX = 128;
export const barsLaw = linear(0, BARS_MAX, 'bars', { digits: 1 });

/** Pitch fader: a share of the pitch range, −1 … +1, in the middle 0. What it is in per cent is told beside it. */
const pitchLaw = linear(-100, 100, '% of range', { digits: 1, sign: true });

/** Place within a record. */
const placeLaw = linear(0, 100, '%', { digits: 1 });

/** Tempo or frequency ratio of a shift in semitones: 2^(n/12). Equal temperament, ISO 16 and handbooks. */
export const semitoneRatio = (semitones: number): number => 2 ** (semitones / 12);

/** Laws by the name that catalogues use. */
export const LAWS = {
  fader: faderTaper,
  pan: panLaw,
  tempo: tempoLaw,
  meter: meterLaw,
  switch: switchLaw,
  frequency: frequencyLaw,
  time: timeLaw,
  gain: gainLaw,
  kill: killLaw,
  quality: qualityLaw,
  ratio: ratioLaw,
  percent: percentLaw,
  threshold: thresholdLaw,
  balance: balanceLaw,
  bars: barsLaw,
  pitch: pitchLaw,
  place: placeLaw,
} as const;
export type LawName = keyof typeof LAWS;
