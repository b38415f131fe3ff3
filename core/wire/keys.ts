import { LONGEST_ADDRESS } from './osc.js';

/*
 * Key strokes as messages: which keys by their place on the keyboard, as W3C UI Events KeyboardEvent code Values calls them,
 * so that the layout of letters does not matter. On a link a stroke is an OSC address, /keys/press/ControlLeft+KeyS, that
 * carries 1 while it is pressed and 0 when it is let go.
 */

/** What becomes of keys: pressed and let go in turn, held as long as the control, or pressed again and again meanwhile. */
export const KEY_WAYS = ['press', 'hold', 'repeat'] as const;
export type KeyWay = (typeof KEY_WAYS)[number];

const range = (stem: string, from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, n) => `${stem}${from + n}`);

/** Modifier keys, in the order in which they are written. */
export const MODIFIERS = [
  'ControlLeft',
  'AltLeft',
  'ShiftLeft',
  'MetaLeft',
  'ControlRight',
  'AltRight',
  'ShiftRight',
  'MetaRight',
] as const;

/** Keys that can be named: sections 3.1 to 3.5 of KeyboardEvent code Values. */
const CODES: ReadonlySet<string> = new Set([
  ...MODIFIERS,
  ...[...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'].map((letter) => `Key${letter}`),
  ...range('Digit', 0, 9),
  ...range('Numpad', 0, 9),
  ...range('F', 1, 24),
  ...['Backquote', 'Backslash', 'BracketLeft', 'BracketRight', 'Comma', 'Equal', 'Minus'],
  ...['IntlBackslash', 'IntlRo', 'IntlYen', 'Period', 'Quote', 'Semicolon', 'Slash'],
  ...['Backspace', 'CapsLock', 'ContextMenu', 'Enter', 'Space', 'Tab'],
  ...['Delete', 'End', 'Help', 'Home', 'Insert', 'PageDown', 'PageUp'],
  ...['ArrowDown', 'ArrowLeft', 'ArrowRight', 'ArrowUp'],
  ...['NumLock', 'NumpadAdd', 'NumpadDecimal', 'NumpadDivide', 'NumpadEnter', 'NumpadMultiply'],
  ...['NumpadSubtract', 'Escape', 'PrintScreen', 'ScrollLock', 'Pause'],
  ...['MediaPlayPause', 'MediaStop', 'MediaTrackNext', 'MediaTrackPrevious'],
  ...['AudioVolumeDown', 'AudioVolumeMute', 'AudioVolumeUp'],
]);

/** How modifiers may be written shortly. */
const SHORT: Readonly<Record<string, string | undefined>> = {
  control: 'ControlLeft',
  ctrl: 'ControlLeft',
  alt: 'AltLeft',
  option: 'AltLeft',
  shift: 'ShiftLeft',
  meta: 'MetaLeft',
  command: 'MetaLeft',
  cmd: 'MetaLeft',
};

/** Keys that go down together, modifiers first. */
export type Chord = readonly string[];
export interface Stroke {
  readonly way: KeyWay;
  /** One chord after the other; one alone where it is held or repeated. */
  readonly chords: readonly Chord[];
}

const MOST_CHORDS = 8;
const rank = (code: string): number => {
  const at = (MODIFIERS as readonly string[]).indexOf(code);
  return at < 0 ? MODIFIERS.length : at;
};
const inOrder = (codes: readonly string[]): string[] =>
  [...new Set(codes)].sort((a, b) => rank(a) - rank(b));

/** The code of a key as it is written: `KeyS`, `s`, `5`, `ctrl`; undefined for none that there is. */
function codeOf(word: string): string | undefined {
  const said = word.trim();
  const short = SHORT[said.toLowerCase()];
  if (short) return short;
  if (/^[a-z]$/i.test(said)) return `Key${said.toUpperCase()}`;
  if (/^\d$/.test(said)) return `Digit${said}`;
  if (CODES.has(said)) return said;
  const lower = said.toLowerCase();
  return [...CODES].find((code) => code.toLowerCase() === lower);
}

/**
 * Reads a stroke as people write it: `Control+KeyS`, `ctrl+K, S` for one after the other, `hold Space`, `repeat ArrowUp`.
 * @returns what is wrong with it, in a sentence, where it is none
 */
export function readStroke(text: string): Stroke | { readonly fault: string } {
  const found = /^\s*(press|hold|repeat)?\s*(.*)$/is.exec(text);
  const way = (found?.[1]?.toLowerCase() ?? 'press') as KeyWay;
  const chords: Chord[] = [];
  for (const part of (found?.[2] ?? '').split(',')) {
    const codes: string[] = [];
    for (const word of part.split('+')) {
      const code = codeOf(word);
      if (code === undefined)
        return {
          fault: `“${word.trim()}” is no key. Write keys by their place, as Control+KeyS, or press them.`,
        };
      codes.push(code);
    }
    chords.push(inOrder(codes));
  }
  if (chords.length > MOST_CHORDS) return { fault: `A stroke has at most ${MOST_CHORDS} steps.` };
  if (way !== 'press' && chords.length > 1)
    return { fault: 'Only one combination can be held or repeated.' };
  if (strokeAddress({ way, chords }).length > LONGEST_ADDRESS)
    return { fault: 'These are too many keys for one stroke. Make two of it.' };
  return { way, chords };
}

const PREFIX = '/keys/';

/** The OSC address of a stroke. */
export const strokeAddress = ({ way, chords }: Stroke): string =>
  `${PREFIX}${way}/${chords.map((chord) => chord.join('+')).join('/')}`;

/** The stroke of an OSC address; null where it is none. */
export function strokeOf(address: string): Stroke | null {
  if (!address.startsWith(PREFIX)) return null;
  const [way, ...chords] = address.slice(PREFIX.length).split('/');
  if (!(KEY_WAYS as readonly string[]).includes(way) || chords.length === 0) return null;
  const read = readStroke(`${way} ${chords.join(',')}`);
  return 'fault' in read ? null : read;
}

/** A stroke as {@link readStroke} reads it, with short names of modifiers. */
export function strokeText({ way, chords }: Stroke): string {
  const name = (code: string) =>
    code.replace(/^(Control|Alt|Shift|Meta)Left$/, '$1').replace(/^(?:Key|Digit)(.)$/, '$1');
  const said = chords.map((chord) => chord.map(name).join('+')).join(', ');
  return way === 'press' ? said : `${way} ${said}`;
}

/** What of a key that goes down counts, as a browser tells it (W3C UI Events). */
export interface KeyDown {
  readonly code: string;
  readonly ctrlKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
  readonly metaKey: boolean;
}

/** The chord that a key makes with the modifiers that are down; null for a modifier alone or a key without a name. */
export function chordOf({ code, ctrlKey, altKey, shiftKey, metaKey }: KeyDown): Chord | null {
  if (!CODES.has(code) || (MODIFIERS as readonly string[]).includes(code)) return null;
  const down = [
    ...(ctrlKey ? ['ControlLeft'] : []),
    ...(altKey ? ['AltLeft'] : []),
    ...(shiftKey ? ['ShiftLeft'] : []),
    ...(metaKey ? ['MetaLeft'] : []),
  ];
  return inOrder([...down, code]);
}
