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
}

const record = (title: string, by: string, bpm: number, beats: number, tone: number): Record => ({
  title,
  by,
  bpm,
  beats,
  tone,
});

/** The crate of *Neap Rink*, a roller-disco night: ours. */
export const RECORDS: readonly Record[] = [
  record('Low Water Strut', 'The Pilot Boats', 112, 512, 9),
  record('Eight Wheels', 'Marram', 118, 576, 4),
  record('Neap', 'Tidal Section', 120, 640, 7),
  record('Rail Hand', 'Corrie Vane', 116, 512, 2),
  record('Salt Polish', 'Marram', 122, 608, 0),
  record('Outside Edge', 'The Understairs', 124, 576, 5),
  record('Lamp at Both Ends', 'Fathom Five', 110, 448, 10),
  record('Slack Hour', 'Tidal Section', 108, 512, 3),
  record('Spin, Don’t Stop', 'Ida and the Locks', 126, 640, 11),
  record('Half Tide Shuffle', 'Corrie Vane', 114, 480, 6),
  record('Bollard', 'The Pilot Boats', 120, 544, 1),
  record('Toe Stop', 'Ida and the Locks', 128, 608, 8),
  record('Warm Boards', 'Fathom Five', 115, 512, 0),
  record('Counterclockwise', 'The Understairs', 121, 576, 7),
  record('Last Lap Lights', 'Marram', 119, 544, 9),
  record('Ebb', 'Tidal Section', 104, 512, 2),
];

const TONES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** A tone's name; whole semitones, whatever octave. */
export const toneName = (tone: number): string => TONES[((Math.round(tone) % 12) + 12) % 12];

/** Amplitudes of what a record is made of, in the order of stems in groups of four. */
export type Sound = [voice: number, drums: number, bass: number, rest: number];

const wave = (x: number): number => 0.5 + 0.5 * Math.sin(x);

/** Amplitudes of a record's four sources at a beat: invented, always the same. */
export function soundAt({ tone, beats }: Record, beat: number): Sound {
  if (beat < 0 || beat >= beats) return [0, 0, 0, 0];
  const phrase = Math.floor(beat / 32);
  const inBeat = beat - Math.floor(beat);
  const breaks = (phrase + tone) % 5 === 3;
  const sings = (phrase * 3 + tone) % 4 > 0;
  return [
    sings ? 0.42 * wave(beat * 1.9 + tone) * wave(beat * 0.13) : 0,
    breaks ? 0 : 0.6 * Math.exp(-6 * inBeat),
    breaks ? 0.1 : 0.45 * (0.4 + 0.6 * wave(beat * 3.1 + tone)),
    0.25 + 0.2 * wave(beat * 0.4 + tone * 0.7),
  ];
}
