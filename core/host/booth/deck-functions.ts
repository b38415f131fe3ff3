import { HOT_CUES, LENGTH_NAMES, PITCH_RANGES, KEY_SHIFTS } from './sizes.js';
import { deck, trigger, toggle, smooth, text, upTo } from './sketches.js';

const semitones = (n: number): string =>
  `${n > 0 ? '+' : ''}${String(n).replace('-', '−')} ${Math.abs(n) === 1 ? 'semitone' : 'semitones'}`;

/** What a deck does: it plays, jumps, loops, and keeps hot cues. Made in the order of the chart. */
export const deckFunctions = () => [
  toggle('play', 'Play', 'Deck', 'start, pause, run'),
  toggle('cue', 'Cue', 'Deck', 'stutter, preview, back to the cue point'),
  toggle('sync', 'Sync', 'Deck', 'match tempo, beat, follow'),
  smooth('pitch', 'Pitch', 'Deck', 'pitch', 0.5, 'tempo, speed, bpm'),
  deck({
    id: 'pitchRange',
    label: 'Pitch range',
    category: 'Deck',
    kind: 'choice',
    choices: PITCH_RANGES.map((range) => `±${range * 100} %`),
    also: 'tempo range, wide',
  }),
  deck({
    id: 'keyShift',
    label: 'Key shift',
    category: 'Deck',
    kind: 'choice',
    choices: KEY_SHIFTS.map(semitones),
    rest: 0.5,
    also: 'transpose, semitones, tone, pitch play',
  }),
  toggle('keyLock', 'Key lock', 'Deck', 'master tempo, keep the key'),
  deck({
    id: 'jog',
    label: 'Nudge',
    category: 'Deck',
    kind: 'nudge',
    also: 'jog, wheel, scratch, bend, push',
  }),
  smooth('place', 'Place in the record', 'Deck', 'place', 0, 'needle, seek, position, search'),
  trigger('jumpBack', 'Jump back', 'Deck', 'beat jump, skip'),
  trigger('jumpOn', 'Jump on', 'Deck', 'beat jump, skip, forward'),
  deck({
    id: 'jumpLength',
    label: 'Jump length',
    category: 'Deck',
    kind: 'choice',
    choices: LENGTH_NAMES,
    rest: 7 / 11,
    also: 'beat jump size',
  }),
  toggle('quantise', 'In time with the beat', 'Deck', 'quantize, snap, grid'),
  trigger('load', 'Load the chosen record', 'Browser', 'open, put on'),
  trigger('eject', 'Take the record off', 'Browser', 'unload'),
  text('name', 'Title', 'Deck'),
  text('tempoText', 'Tempo', 'Deck'),
  text('keyText', 'Key', 'Deck'),
  text('timeText', 'Time left', 'Deck'),
  ...upTo(HOT_CUES, (n) =>
    toggle(`hotCue${n}`, `Hot cue ${n}`, 'Cues', `cue point, pad, jump, mark ${n}`),
  ),
  trigger('hotCueLast', 'Hot cue used last', 'Cues', 'cue point, again'),
  trigger('hotCueClear', 'Clear the hot cue used last', 'Cues', 'delete, remove'),
  toggle('loop', 'Loop', 'Loops', 'cycle, repeat, on, exit'),
  trigger('loopIn', 'Loop in', 'Loops', 'start, from'),
  trigger('loopOut', 'Loop out', 'Loops', 'end, to'),
  deck({
    id: 'loopLength',
    label: 'Loop length',
    category: 'Loops',
    kind: 'choice',
    choices: LENGTH_NAMES,
    rest: 7 / 11,
    also: 'size, beats, roll',
  }),
  trigger('loopHalve', 'Halve the loop', 'Loops', 'shorter, half'),
  trigger('loopDouble', 'Double the loop', 'Loops', 'longer, twice'),
];
