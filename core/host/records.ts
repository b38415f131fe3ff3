/** A record of the Booth. All of them are invented. */
export interface Record {
  readonly title: string;
  readonly by: string;
  /** Beats a minute at its own speed. */
  readonly bpm: number;
  /** Length in beats. */
  readonly beats: number;
  /** Tone that it is in, 0 = C … 11 = B. */
  readonly tone: number;
  /** How many stems it comes in, 2–5. */
  readonly stems: number;
}

const record = (
  title: string,
  by: string,
  bpm: number,
  beats: number,
  tone: number,
  stems: number,
): Record => ({ title, by, bpm, beats, tone, stems });

/** The crate of *Neap Rink*, a roller-disco night: ours. */
export const RECORDS: readonly Record[] = [
  record('Low Water Strut', 'The Pilot Boats', 112, 512, 9, 4),
  record('Eight Wheels', 'Marram', 118, 576, 4, 3),
  record('Neap', 'Tidal Section', 120, 640, 7, 4),
  record('Rail Hand', 'Corrie Vane', 116, 512, 2, 2),
  record('Salt Polish', 'Marram', 122, 608, 0, 5),
  record('Outside Edge', 'The Understairs', 124, 576, 5, 4),
  record('Lamp at Both Ends', 'Fathom Five', 110, 448, 10, 3),
  record('Slack Hour', 'Tidal Section', 108, 512, 3, 2),
  record('Spin, Don’t Stop', 'Ida and the Locks', 126, 640, 11, 5),
  record('Half Tide Shuffle', 'Corrie Vane', 114, 480, 6, 3),
  record('Bollard', 'The Pilot Boats', 120, 544, 1, 4),
  record('Toe Stop', 'Ida and the Locks', 128, 608, 8, 4),
  record('Warm Boards', 'Fathom Five', 115, 512, 0, 2),
  record('Counterclockwise', 'The Understairs', 121, 576, 7, 5),
  record('Last Lap Lights', 'Marram', 119, 544, 9, 4),
  record('Ebb', 'Tidal Section', 104, 512, 2, 3),
];

/** Some of the records, by their places in the list of all. */
export interface Crate {
  readonly name: string;
  readonly records: readonly number[];
}

const all = RECORDS.map((_, at) => at);
/** Records of a tempo, the slowest first. */
const between = (from: number, below: number): number[] =>
  all
    .filter((at) => RECORDS[at].bpm >= from && RECORDS[at].bpm < below)
    .sort((a, b) => RECORDS[a].bpm - RECORDS[b].bpm);

/** What the records of the night are sorted into; the first crate has them all. */
export const CRATES: readonly Crate[] = [
  { name: 'All records', records: all },
  { name: 'Couples’ skate', records: between(0, 115) },
  { name: 'Full floor', records: between(115, 122) },
  { name: 'Last laps', records: between(122, 999) },
];

const TONES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** A tone's name; whole semitones, whatever octave. */
export const toneName = (tone: number): string => TONES[((Math.round(tone) % 12) + 12) % 12];

/** Amplitudes of what a record is made of. */
export type Sound = [voice: number, drums: number, bass: number, keys: number, rest: number];

const wave = (x: number): number => 0.5 + 0.5 * Math.sin(x);

/** Amplitudes of a record's sources at a beat: invented, always the same. */
export function soundAt({ tone, beats }: Record, beat: number): Sound {
  if (beat < 0 || beat >= beats) return [0, 0, 0, 0, 0];
  const phrase = Math.floor(beat / 32);
  const inBeat = beat - Math.floor(beat);
  const breaks = (phrase + tone) % 5 === 3;
  const sings = (phrase * 3 + tone) % 4 > 0;
  return [
    sings ? 0.42 * wave(beat * 1.9 + tone) * wave(beat * 0.13) : 0,
    breaks ? 0 : 0.6 * Math.exp(-6 * inBeat),
    breaks ? 0.1 : 0.45 * (0.4 + 0.6 * wave(beat * 3.1 + tone)),
    0.12 * wave(beat * 0.8 + tone * 1.3),
    0.18 + 0.15 * wave(beat * 0.4 + tone * 0.7),
  ];
}
