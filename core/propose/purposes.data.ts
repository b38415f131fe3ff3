import type { ControlKind } from '@rondo/core/surface';

/** What a proposal is for, in the order in which a practitioner would want it. */
export const PURPOSES = [
  'mixing',
  'transport',
  'decks',
  'selected',
  'cues',
  'effects',
  'stems',
  'sends',
  'plugIn',
  'clips',
  'markers',
  'others',
] as const;
export type Purpose = (typeof PURPOSES)[number];

/** Purposes in words, and why things are where they are. */
export const PURPOSE_WORDS: Readonly<
  Record<Purpose, { readonly label: string; readonly why: string }>
> = {
  mixing: { label: 'Mixing', why: 'Strips stand side by side: each column moves one.' },
  transport: { label: 'Transport', why: 'Keys beside the strips, in the order of their signs.' },
  decks: { label: 'Decks', why: 'A column for each deck, as on a mixer.' },
  selected: { label: 'The selected track', why: 'What stands alone works on what is selected.' },
  cues: { label: 'Cues and loops', why: 'Pads start cues; keys beside them make loops.' },
  effects: { label: 'Effects', why: 'What is turned sets how much; a key turns it on.' },
  stems: { label: 'Stems', why: 'A row for each stem, a column for each deck.' },
  sends: { label: 'Sends', why: 'What is turned in a strip sends it on.' },
  plugIn: {
    label: 'Plug-in in focus',
    why: 'What is turned follows the plug-in in focus, in its order.',
  },
  clips: { label: 'Clips', why: 'The grid of pads is the grid of clips.' },
  markers: { label: 'Markers', why: 'Keys in a row, numbered as the markers are.' },
  others: { label: 'The rest', why: 'What is left, by what each can do.' },
};

/** How well each kind of control suits; one that is not named does not. 0 suits best. */
export type Suits = Readonly<Partial<Record<ControlKind, number>>>;

const MOVED: Suits = { fader: 0, touchStrip: 2, xyPad: 3, expression: 4, knob: 4, encoder: 5 };
const TURNED: Suits = { encoder: 0, knob: 0, fader: 6, touchStrip: 6, wheel: 8 };
const KNOBS: Suits = { encoder: 0, knob: 0 };
const PRESSED: Suits = { button: 0, pad: 2, pedal: 3 };
/** As keys; pads are wanted for what is struck. */
const BESIDE: Suits = { button: 0, pad: 10, pedal: 4 };
const STRUCK: Suits = { pad: 0, button: 3, pedal: 6 };
const STEPPED: Suits = { pedal: 0, button: 1, pad: 3 };

/** Which functions of any host are wanted for what, where, and how much. */
export interface Rule {
  readonly purpose: Purpose;
  /** Ids of functions; a group in it is their number. */
  readonly id: RegExp;
  /** `strip`: each strip's own; `selected`: of what is selected; `main`: of the main strip; `host`: there is one. */
  readonly where: 'strip' | 'selected' | 'main' | 'host' | 'focus';
  readonly suits: Suits;
  /** How much it is wanted; what is wanted more gets the better control. */
  readonly worth: number;
  /** All that it names, or nothing of it. */
  readonly whole?: boolean;
  /** Hosts with decks only, or without. */
  readonly decks?: boolean;
}

/** The rules, by purpose. What the trade expects where: common practice, no source. */
export const RULES: readonly Rule[] = [
  // On a grid clips stand above what belongs to their strips.
  {
    purpose: 'clips',
    id: /^clip(\d)$/,
    where: 'strip',
    suits: { pad: 0 },
    worth: 44,
    decks: false,
  },
  { purpose: 'mixing', id: /^(volume)$/, where: 'strip', suits: MOVED, worth: 100, decks: false },
  { purpose: 'mixing', id: /^(pan)$/, where: 'strip', suits: TURNED, worth: 60, decks: false },
  { purpose: 'mixing', id: /^(mute)$/, where: 'strip', suits: PRESSED, worth: 58, decks: false },
  { purpose: 'mixing', id: /^(solo)$/, where: 'strip', suits: PRESSED, worth: 54, decks: false },
  { purpose: 'mixing', id: /^(arm)$/, where: 'strip', suits: PRESSED, worth: 50, decks: false },
  { purpose: 'mixing', id: /^(select)$/, where: 'strip', suits: PRESSED, worth: 46, decks: false },
  { purpose: 'mixing', id: /^(volume)$/, where: 'main', suits: MOVED, worth: 72, decks: false },

  { purpose: 'transport', id: /^(play)$/, where: 'host', suits: STEPPED, worth: 90 },
  { purpose: 'transport', id: /^(stop)$/, where: 'host', suits: STEPPED, worth: 86 },
  {
    purpose: 'transport',
    id: /^(record)$/,
    where: 'host',
    suits: STEPPED,
    worth: 80,
    decks: false,
  },
  { purpose: 'transport', id: /^(rewind)$/, where: 'host', suits: STEPPED, worth: 66 },
  { purpose: 'transport', id: /^(forward)$/, where: 'host', suits: STEPPED, worth: 64 },
  { purpose: 'transport', id: /^(loop)$/, where: 'host', suits: STEPPED, worth: 62 },
  { purpose: 'transport', id: /^(click)$/, where: 'host', suits: STEPPED, worth: 56 },
  { purpose: 'transport', id: /^(toStart)$/, where: 'host', suits: STEPPED, worth: 40 },
  { purpose: 'transport', id: /^(tapTempo)$/, where: 'host', suits: STEPPED, worth: 38 },
  {
    purpose: 'transport',
    id: /^(scrub)$/,
    where: 'host',
    suits: { jog: 0, encoder: 9 },
    worth: 70,
  },

  { purpose: 'decks', id: /^(fader)$/, where: 'strip', suits: MOVED, worth: 100, decks: true },
  { purpose: 'decks', id: /^(play)$/, where: 'strip', suits: PRESSED, worth: 96, decks: true },
  { purpose: 'decks', id: /^(cue)$/, where: 'strip', suits: PRESSED, worth: 92, decks: true },
  {
    purpose: 'decks',
    id: /^(crossfader)$/,
    where: 'host',
    suits: { fader: 1, touchStrip: 2 },
    worth: 88,
    decks: true,
  },
  { purpose: 'decks', id: /^(high)$/, where: 'strip', suits: KNOBS, worth: 84, decks: true },
  { purpose: 'decks', id: /^(mid)$/, where: 'strip', suits: KNOBS, worth: 82, decks: true },
  { purpose: 'decks', id: /^(low)$/, where: 'strip', suits: KNOBS, worth: 80, decks: true },
  { purpose: 'decks', id: /^(filter)$/, where: 'strip', suits: TURNED, worth: 76, decks: true },
  { purpose: 'decks', id: /^(gain)$/, where: 'strip', suits: TURNED, worth: 60, decks: true },
  { purpose: 'decks', id: /^(headphone)$/, where: 'strip', suits: BESIDE, worth: 70, decks: true },
  { purpose: 'decks', id: /^(sync)$/, where: 'strip', suits: BESIDE, worth: 66, decks: true },
  {
    purpose: 'decks',
    id: /^(jog)$/,
    where: 'strip',
    suits: { jog: 0, encoder: 8 },
    worth: 64,
    decks: true,
  },
  {
    purpose: 'decks',
    id: /^(play|cue|sync|headphone)$/,
    where: 'selected',
    suits: PRESSED,
    worth: 43,
    decks: true,
  },
  { purpose: 'decks', id: /^(load)$/, where: 'strip', suits: PRESSED, worth: 44, decks: true },
  {
    purpose: 'decks',
    id: /^(browse)$/,
    where: 'host',
    suits: { encoder: 0, jog: 6 },
    worth: 62,
    decks: true,
  },
  {
    purpose: 'decks',
    id: /^(masterLevel|headphoneLevel|headphoneMix)$/,
    where: 'host',
    suits: TURNED,
    worth: 42,
    decks: true,
  },
  {
    purpose: 'decks',
    id: /^(pitch)$/,
    where: 'strip',
    suits: { fader: 2 },
    worth: 40,
    decks: true,
  },

  {
    purpose: 'selected',
    id: /^(volume)$/,
    where: 'selected',
    suits: MOVED,
    worth: 68,
    decks: false,
  },
  { purpose: 'selected', id: /^(pan)$/, where: 'selected', suits: TURNED, worth: 48, decks: false },
  {
    purpose: 'selected',
    id: /^(mute)$/,
    where: 'selected',
    suits: PRESSED,
    worth: 47,
    decks: false,
  },
  {
    purpose: 'selected',
    id: /^(solo)$/,
    where: 'selected',
    suits: PRESSED,
    worth: 45,
    decks: false,
  },
  {
    purpose: 'selected',
    id: /^(arm)$/,
    where: 'selected',
    suits: PRESSED,
    worth: 43,
    decks: false,
  },
  {
    purpose: 'selected',
    id: /^(trackPrevious|trackNext)$/,
    where: 'host',
    suits: STEPPED,
    worth: 49,
  },

  { purpose: 'cues', id: /^hotCue(\d)$/, where: 'strip', suits: STRUCK, worth: 52, decks: true },
  { purpose: 'cues', id: /^hotCue(\d)$/, where: 'selected', suits: STRUCK, worth: 35, decks: true },
  { purpose: 'cues', id: /^(loop)$/, where: 'strip', suits: PRESSED, worth: 46, decks: true },
  {
    purpose: 'cues',
    id: /^(loopHalve|loopDouble)$/,
    where: 'strip',
    suits: PRESSED,
    worth: 36,
    decks: true,
  },
  {
    purpose: 'cues',
    id: /^(loopIn|loopOut)$/,
    where: 'strip',
    suits: PRESSED,
    worth: 30,
    decks: true,
  },
  { purpose: 'cues', id: /^sampler(\d)$/, where: 'host', suits: STRUCK, worth: 24, decks: true },

  {
    purpose: 'effects',
    id: /^effect(\d)Amount$/,
    where: 'host',
    suits: TURNED,
    worth: 50,
    decks: true,
  },
  {
    purpose: 'effects',
    id: /^effect(\d)On$/,
    where: 'host',
    suits: PRESSED,
    worth: 48,
    decks: true,
  },
  {
    purpose: 'effects',
    id: /^effect(\d)(?:Time|Tone)$/,
    where: 'host',
    suits: TURNED,
    worth: 28,
    decks: true,
  },

  {
    purpose: 'stems',
    id: /^stem(\d)$/,
    where: 'strip',
    suits: TURNED,
    worth: 34,
    decks: true,
    whole: true,
  },
  {
    purpose: 'stems',
    id: /^stemMute(\d)$/,
    where: 'strip',
    suits: PRESSED,
    worth: 32,
    decks: true,
    whole: true,
  },

  {
    purpose: 'sends',
    id: /^send(\d)$/,
    where: 'strip',
    suits: { ...TURNED, fader: 3 },
    worth: 30,
    decks: false,
  },
  { purpose: 'plugIn', id: /^focus$/, where: 'focus', suits: { ...TURNED, fader: 3 }, worth: 34 },
  { purpose: 'plugIn', id: /^(focusOn)$/, where: 'host', suits: PRESSED, worth: 26 },
  {
    purpose: 'plugIn',
    id: /^(focusPrevious|focusNext)$/,
    where: 'host',
    suits: PRESSED,
    worth: 25,
  },
  { purpose: 'clips', id: /^scene(\d)$/, where: 'host', suits: STRUCK, worth: 33 },
  { purpose: 'markers', id: /^marker(\d)$/, where: 'host', suits: STEPPED, worth: 29 },
  {
    purpose: 'markers',
    id: /^(markerPrevious|markerNext|markerAdd)$/,
    where: 'host',
    suits: STEPPED,
    worth: 31,
  },
  { purpose: 'others', id: /^user(\d)$/, where: 'host', suits: STEPPED, worth: 18 },
];

/** What is wanted of a function that no rule names, by what kind it is. */
export const OTHERWISE: Readonly<
  Record<string, { readonly suits: Suits; readonly worth: number }>
> = {
  continuous: { suits: { ...TURNED, fader: 1 }, worth: 16 },
  toggle: { suits: PRESSED, worth: 15 },
  trigger: { suits: STEPPED, worth: 15.6 },
  choice: { suits: { switch: 0, button: 2, encoder: 2, pad: 4 }, worth: 12 },
  nudge: { suits: { encoder: 0, jog: 1, wheel: 8 }, worth: 12 },
};

/** What signs on keys mean (common practice, no source). */
export const SIGNS: Readonly<Record<string, string>> = {
  '▶': 'play',
  '■': 'stop',
  '●': 'record',
  '◂◂': 'rewind',
  '▸▸': 'forward',
  '◂ bank': 'bank left',
  'bank ▸': 'bank right',
  '◂ strip': 'strip left',
  'strip ▸': 'strip right',
};
