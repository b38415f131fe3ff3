import { hostModelSchema, type HostModel } from './catalogue.js';
import { inTradeColour } from './trade-colours.js';
import { Numbers, sketched, type Sketch } from './numbered.js';
import { CRATES, RECORDS } from './records.js';

export const DECKS = 4;
export const HOT_CUES = 8;
export const SAMPLERS = 8;
export const EFFECT_UNITS = 2;
/** The most stems that a record comes in. */
export const STEMS = 5;
/** Stems that had their messages before there was a fifth. */
const FIRST_STEMS = 4;

/** Lengths of loops and jumps, in beats. */
export const LENGTHS = [1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8, 16, 32, 64] as const;
const LENGTH_NAMES = LENGTHS.map((beats) =>
  beats < 1 ? `1/${1 / beats} beat` : beats === 1 ? '1 beat' : `${beats} beats`,
);
/** Pitch ranges, as shares of the speed. */
export const PITCH_RANGES = [0.05, 0.1, 0.2, 0.5, 1] as const;
/** Key shifts, in semitones. */
export const KEY_SHIFTS = Array.from({ length: 25 }, (_, i) => i - 12);
export const EFFECTS = ['Echo', 'Sweep', 'Crush', 'Room'] as const;
export const SIDES = ['A', 'Through', 'B'] as const;
export const CURVES = ['Smooth', 'Even', 'Sharp'] as const;
/** Numbers of stems that records come in. */
export const STEM_GROUPS = [2, 3, 4, 5] as const;

/** Everything goes by non-registered parameters of channel 15, and texts under 7D, kept for private use by MIDI 1.0. */
const CHANNEL = 15;
const numbers = new Numbers(CHANNEL, [0x7d, 0x42]);

const semitones = (n: number): string =>
  `${n > 0 ? '+' : ''}${String(n).replace('-', '−')} ${Math.abs(n) === 1 ? 'semitone' : 'semitones'}`;

const deck = (sketch: Sketch) =>
  sketched(
    sketch,
    'strip',
    numbers.many(sketch.kind, DECKS + 1, () => true, sketch.told),
  );
const host = (sketch: Sketch) => sketched(sketch, 'host', [numbers.one(sketch.kind, sketch.told)]);

type Category = Sketch['category'];
const trigger = (id: string, label: string, category: Category, also: string) =>
  deck({ id, label, category, kind: 'trigger', also });
const toggle = (id: string, label: string, category: Category, also: string) =>
  deck({ id, label, category, kind: 'toggle', also });
const smooth = (
  id: string,
  label: string,
  category: Category,
  law: NonNullable<Sketch['law']>,
  rest: number,
  also: string,
) => deck({ id, label, category, kind: 'continuous', law, rest, also });
const text = (id: string, label: string, category: Category) =>
  deck({ id, label, category, kind: 'text', also: 'display' });
const upTo = <T>(total: number, make: (n: number) => T): T[] =>
  Array.from({ length: total }, (_, index) => make(index + 1));

/** What there is of a stem on each deck: a record says whether it has it. */
const stem = (n: number) => [
  deck({
    id: `stemHas${n}`,
    label: `Stem ${n} is there`,
    category: 'Stems',
    kind: 'toggle',
    told: true,
  }),
  deck({
    id: `stem${n}`,
    label: `Stem ${n} level`,
    category: 'Stems',
    kind: 'continuous',
    law: 'percent',
    rest: 1,
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'volume',
  }),
  deck({
    id: `stemMute${n}`,
    label: `Stem ${n} mute`,
    category: 'Stems',
    kind: 'toggle',
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'off',
  }),
  deck({
    id: `stemSolo${n}`,
    label: `Stem ${n} solo`,
    category: 'Stems',
    kind: 'toggle',
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'alone',
  }),
  text(`stemName${n}`, `Stem ${n} name`, 'Stems'),
];
const STEM_WORDS = 'part, voice, drums, bass, keys, rest, ';
const stemCross = (n: number) =>
  host({
    id: `stemCross${n}`,
    label: `Crossfade of stem ${n}`,
    category: 'Stems',
    kind: 'continuous',
    law: 'percent',
    rest: 0.5,
    also: 'swap, between decks, stem',
  });
/** What of an effect unit is there only where the unit is: the second one can be missing. */
const fitted = (unit: number) => (unit === 2 ? { needs: 'effect2Fitted' } : {});

/** The Booth: a simulated DJ mixer program with four decks and invented records. */
export const BOOTH: HostModel = hostModelSchema.parse({
  id: 'booth',
  name: 'Booth',
  about: 'A simulated DJ mixer with four decks, stems, effects, samplers and invented records.',
  strips: upTo(DECKS, (n) => ({ name: `Deck ${n}`, group: 'deck' })),
  stripWord: 'deck',
  selectedWord: 'the deck in focus',
  ask: [0xf0, 0x7d, 0x3e, 0xf7],
  bytesPerSecond: 60_000,
  functions: [
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
    smooth('gain', 'Gain', 'Mixer', 'kill', 0.5, 'trim, level'),
    smooth('high', 'High', 'Mixer', 'kill', 0.5, 'eq, equaliser, treble, hi'),
    smooth('highMid', 'High mid', 'Mixer', 'kill', 0.5, 'eq, equaliser, presence, four bands'),
    smooth('mid', 'Mid', 'Mixer', 'kill', 0.5, 'eq, equaliser, middle'),
    smooth('low', 'Low', 'Mixer', 'kill', 0.5, 'eq, equaliser, bass'),
    smooth('filter', 'Filter', 'Mixer', 'balance', 0.5, 'low-pass, high-pass, sweep, colour'),
    smooth('fader', 'Fader', 'Mixer', 'fader', 0.794, 'volume, level, channel, line'),
    toggle('headphone', 'Headphone cue', 'Mixer', 'pfl, listen, monitor'),
    deck({
      id: 'side',
      label: 'Crossfader side',
      category: 'Mixer',
      kind: 'choice',
      choices: [...SIDES],
      also: 'assign, a, b, through',
    }),
    deck({
      id: 'meter',
      label: 'Level',
      category: 'Mixer',
      kind: 'meter',
      law: 'meter',
      also: 'peak',
    }),
    deck({
      id: 'stemGroup',
      label: 'Parted into',
      category: 'Stems',
      kind: 'choice',
      choices: STEM_GROUPS.map((total) => `${total} stems`),
      told: true,
      also: 'stems, group, parts, how many',
    }),
    ...upTo(FIRST_STEMS, stem).flat(),
    smooth(
      'balance',
      'Voice against the rest',
      'Stems',
      'balance',
      0.5,
      'balance, acapella, instrumental, vocal',
    ),
    ...upTo(FIRST_STEMS, stemCross),
    host({
      id: 'stemPair',
      label: 'Stems crossfade between',
      category: 'Stems',
      kind: 'choice',
      choices: ['Decks 1 and 2', 'Decks 3 and 4'],
      also: 'pair, stem crossfade',
    }),
    ...upTo(EFFECT_UNITS, (unit) => [
      host({
        id: `effect${unit}On`,
        label: `Effect ${unit} on`,
        category: 'Effects',
        kind: 'toggle',
        ...fitted(unit),
        also: 'fx, unit',
      }),
      host({
        id: `effect${unit}Kind`,
        label: `Effect ${unit} type`,
        category: 'Effects',
        kind: 'choice',
        choices: [...EFFECTS],
        ...fitted(unit),
        also: `fx, unit, ${EFFECTS.join(', ').toLowerCase()}`,
      }),
      host({
        id: `effect${unit}Deck`,
        label: `Effect ${unit} goes to`,
        category: 'Effects',
        kind: 'choice',
        choices: ['All', ...upTo(DECKS, (n) => `Deck ${n}`)],
        ...fitted(unit),
        also: 'fx, assign, route, only on deck',
      }),
      ...(['Amount', 'Time', 'Tone'] as const).map((label) =>
        host({
          id: `effect${unit}${label}`,
          label: `Effect ${unit} ${label.toLowerCase()}`,
          category: 'Effects',
          kind: 'continuous',
          law: 'percent',
          rest: 0.5,
          ...fitted(unit),
          also: 'fx, unit, dry wet, parameter, mix',
        }),
      ),
    ]).flat(),
    host({
      id: 'effectLastOn',
      label: 'Effect used last on',
      category: 'Effects',
      kind: 'toggle',
      also: 'fx, again',
    }),
    host({
      id: 'effectLastAmount',
      label: 'Amount of the effect used last',
      category: 'Effects',
      kind: 'continuous',
      law: 'percent',
      rest: 0.5,
      also: 'fx, dry wet, mix',
    }),
    ...upTo(SAMPLERS, (n) =>
      host({
        id: `sampler${n}`,
        label: `Sampler ${n}`,
        category: 'Samplers',
        kind: 'toggle',
        also: 'pad, one shot, jingle',
      }),
    ),
    host({
      id: 'samplerLevel',
      label: 'Sampler level',
      category: 'Samplers',
      kind: 'continuous',
      law: 'fader',
      rest: 0.794,
      also: 'volume',
    }),
    host({
      id: 'browse',
      label: 'Browse',
      category: 'Browser',
      kind: 'nudge',
      also: 'scroll, list, crate',
    }),
    host({
      id: 'chosen',
      label: 'Chosen record',
      category: 'Browser',
      kind: 'choice',
      choices: RECORDS.map(({ title }) => title),
      also: 'track, song, list',
    }),
    host({ id: 'chosenText', label: 'Chosen record, name', category: 'Browser', kind: 'text' }),
    host({
      id: 'focusDeck',
      label: 'Deck in focus',
      category: 'View',
      kind: 'choice',
      choices: upTo(DECKS, (n) => `Deck ${n}`),
      also: 'select, layer, active',
    }),
    host({
      id: 'leader',
      label: 'Deck that leads',
      category: 'Mixer',
      kind: 'choice',
      choices: upTo(DECKS, (n) => `Deck ${n}`),
      also: 'sync, tempo master',
    }),
    host({
      id: 'crossfader',
      label: 'Crossfader',
      category: 'Mixer',
      kind: 'continuous',
      law: 'balance',
      rest: 0.5,
      also: 'fade, mix, between',
    }),
    host({
      id: 'effect2Fitted',
      label: 'Effect unit 2 in this set-up',
      category: 'Effects',
      kind: 'toggle',
      rest: 1,
      also: 'fx, use, enable, fitted',
    }),
    host({
      id: 'curve',
      label: 'Crossfader curve',
      category: 'Mixer',
      kind: 'choice',
      choices: [...CURVES],
      also: 'cut, scratch, blend',
    }),
    host({
      id: 'masterLevel',
      label: 'Master level',
      category: 'Mixer',
      kind: 'continuous',
      law: 'fader',
      rest: 0.794,
      also: 'main, output, volume',
    }),
    host({
      id: 'headphoneMix',
      label: 'Headphone mix',
      category: 'Mixer',
      kind: 'continuous',
      law: 'percent',
      rest: 0.5,
      also: 'cue, master, blend',
    }),
    host({
      id: 'headphoneLevel',
      label: 'Headphone level',
      category: 'Mixer',
      kind: 'continuous',
      law: 'fader',
      rest: 0.6,
      also: 'phones, volume',
    }),
    host({
      id: 'masterMeter',
      label: 'Master level meter',
      category: 'Mixer',
      kind: 'meter',
      law: 'meter',
    }),
    host({
      id: 'headphoneMeter',
      label: 'Headphone level meter',
      category: 'Mixer',
      kind: 'meter',
      law: 'meter',
    }),
    host({
      id: 'record',
      label: 'Record',
      category: 'Mixer',
      kind: 'toggle',
      also: 'rec, take, save the mix',
    }),
    host({ id: 'recordTime', label: 'Time recorded', category: 'Mixer', kind: 'text' }),
    trigger('stop', 'Stop', 'Deck', 'halt, back to the cue point'),
    // For what springs back to its middle: there the record runs at its own speed.
    smooth('bend', 'Bend', 'Deck', 'pitch', 0.5, 'nudge by wheel, push, hold back, catch up'),
    ...upTo(EFFECT_UNITS, (unit) =>
      deck({
        id: `effect${unit}Assigned`,
        label: `Effect ${unit} assigned`,
        category: 'Effects',
        kind: 'toggle',
        rest: 1,
        ...fitted(unit),
        also: 'fx, on deck, to deck, route, send',
      }),
    ),
    ...stem(5),
    stemCross(5),
    host({
      id: 'crate',
      label: 'Crate',
      category: 'Browser',
      kind: 'choice',
      choices: CRATES.map(({ name }) => name),
      also: 'folder, box, playlist, list',
    }),
    host({
      id: 'crateOpen',
      label: 'Crate open',
      category: 'Browser',
      kind: 'toggle',
      rest: 1,
      also: 'open crate, close crate, folder, enter, back, leave',
    }),
    host({
      id: 'listUp',
      label: 'Up in the list',
      category: 'Browser',
      kind: 'trigger',
      also: 'previous, browse, crate, record',
    }),
    host({
      id: 'listDown',
      label: 'Down in the list',
      category: 'Browser',
      kind: 'trigger',
      also: 'next, browse, crate, record',
    }),
    host({
      id: 'search',
      label: 'Search field',
      category: 'Browser',
      kind: 'toggle',
      view: true,
      also: 'find, type, look for, filter, records',
    }),
  ].map(inTradeColour),
});
