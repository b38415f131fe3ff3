import { transliterate } from 'transliteration';

/** Printable ASCII. */
const PLAIN = /^[\x20-\x7e]*$/;

/** Signs that are written another way in few letters than a dictionary of scripts would. */
const SIGNS: readonly (readonly [RegExp, string])[] = [
  [/[\u2212\u2010-\u2015]/g, '-'],
  [/∞/g, 'inf'],
  [/♯/g, '#'],
  [/♭/g, 'b'],
  // Signs of hardness and softness have no sound of their own.
  [/[ьъ]/gi, ''],
  [/[\u00a0\u2000-\u200a\u202f]/g, ' '],
];

/**
 * Folds text to 7-bit printable ASCII: accents go, other scripts are written in Latin letters, what has none becomes a
 * question mark.
 */
export function plainText(text: string): string {
  if (PLAIN.test(text)) return text;
  let plain = text;
  // Most texts are values, with nothing in them but a minus: after the first sign they are plain.
  for (const [sign, letters] of SIGNS) {
    plain = plain.replace(sign, letters);
    if (PLAIN.test(plain)) return plain;
  }
  plain = transliterate(plain.normalize('NFKC'), { unknown: '?' });
  return plain.replace(/[^\x20-\x7e]/gu, '?').replace(/\?+/g, '?');
}

const VOWEL = /[aeiou]/;
const isWordStart = (text: string, at: number): boolean => at === 0 || /[\s_.-]/.test(text[at - 1]);

/**
 * Shortens a name to a width, so that it can still be told from others: a number at its end and the first letter of
 * each word stay; small vowels go first, from the right, then spaces, then the ends of words, the longest first.
 */
export function shortName(name: string, width: number): string {
  let text = name.trim().replace(/\s+/g, ' ');
  if (text.length <= width) return text;
  if (width <= 0) return '';
  const number = /\s*\d{1,3}$/.exec(text)?.[0].trim() ?? '';
  if (number !== '' && number.length < width) {
    const rest = text.slice(0, text.length - number.length).trimEnd();
    const room = width - number.length;
    return shortName(rest, room) + number;
  }
  for (let at = text.length - 1; at > 0 && text.length > width; at--)
    if (VOWEL.test(text[at]) && !isWordStart(text, at))
      text = text.slice(0, at) + text.slice(at + 1);
  if (text.length <= width) return text;
  const words = text.split(/[\s_]/);
  while (words.join('').length > width) {
    const longest = words.reduce((best, word, at) => {
      const longer = word.length >= words[best].length;
      return longer ? at : best;
    }, 0);
    // One letter of each word is left: then the last words go.
    if (words[longest].length <= 1) words.pop();
    else words[longest] = words[longest].slice(0, -1);
  }
  return words.join('');
}

/** How words of the trade are written where there is little room (common practice, no source). */
const ABBREVIATED: Readonly<Record<string, string>> = {
  semitones: 'st',
  semitone: 'st',
  octave: 'oct',
  function: 'fn',
  track: 'trk',
  marker: 'mkr',
  effect: 'fx',
  effects: 'fx',
  volume: 'vol',
  parameter: 'par',
  frequency: 'freq',
  previous: 'prev',
  automation: 'auto',
  metronome: 'click',
  deck: 'dk',
  select: 'sel',
  layer: 'lay',
};
/** Words that may be left out. */
const SMALL = new Set(['the', 'of', 'a', 'to', 'on', 'and', 'in', 'is', 'for', 'by', 'at']);
const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/**
 * What stands on a key, in so many characters: words of the trade are abbreviated as the trade does it, a number is
 * kept whole or left out with all, and a word that is cut ends in a full stop, so that nothing reads as a slip.
 */
export function keyCaption(name: string, width: number): string {
  const text = name.trim().replace(/\s+/g, ' ');
  if (text.length <= width) return text;
  const words = text.split(' ').filter((word) => !SMALL.has(word.toLowerCase()));
  const trade = words
    .map((word) => ABBREVIATED[word.toLowerCase()] ?? word)
    .map((word, at) => (at === 0 ? capital(word) : word));
  if (trade.join(' ').length <= width) return trade.join(' ');
  // An arrow says as much as a number.
  const [lead, last] = [
    /^([+−-]?\d+|[◂▸])$/.test(trade[0] ?? ''),
    /^(\d+|[◂▸])$/.test(trade.at(-1) ?? ''),
  ];
  if (trade.length > 1 && (lead || last)) {
    const number = lead ? trade[0] : trade.at(-1)!;
    if (number.length > width) return '';
    const rest = cutWords(lead ? trade.slice(1) : trade.slice(0, -1), width - number.length);
    return lead ? number + rest : rest + number;
  }
  return cutWords(trade, width);
}

/** Words that have to be shorter: the longest loses first. One alone ends in a full stop where it was cut. */
function cutWords(words: readonly string[], width: number): string {
  if (width <= 0 || words.length === 0) return '';
  if (words.length === 1) {
    const [word] = words;
    if (word.length <= width) return word;
    return width < 3 ? word.slice(0, width) : `${word.slice(0, width - 1)}.`;
  }
  const left = words.map(capital);
  while (left.join('').length > width) {
    const longest = left.reduce(
      (best, word, at) => (word.length >= left[best].length ? at : best),
      0,
    );
    if (left[longest].length <= 1) left.pop();
    else left[longest] = left[longest].slice(0, -1);
  }
  return left.join('');
}

/** Shortens a value: its unit goes before its decimals, these before any other digit. What does not fit is no number. */
export function shortValue(value: string, width: number): string {
  let text = value.trim();
  if (text.length <= width) return text;
  const parts = /^([+-]?)(\d+|inf)(\.\d+)?(.*)$/.exec(text);
  if (!parts) return shortName(text, width);
  const [, sign, whole, decimals = '', unit] = parts;
  const tight = unit.trim().replace(/\s+/g, '');
  for (const shorter of [
    sign + whole + decimals + tight,
    // A thousand is not left out with its unit.
    ...(/^[kM]/.test(tight)
      ? [sign + whole + decimals + tight[0], sign + whole + tight[0]]
      : [sign + whole + decimals, sign + whole + decimals.slice(0, 2), sign + whole]),
  ])
    if ((text = shorter).length <= width) return text;
  // Part of a number would be another number.
  return width > 0 ? '#'.repeat(width) : '';
}

/** A stretch of a text that is to be shown: as it stands, a name, or a value. */
export interface TextPiece {
  readonly kind: 'plain' | 'name' | 'value';
  readonly text: string;
}

/**
 * Joins the pieces of a text within a width, 7-bit safe: values give up their units, then names are shortened, the
 * longest first; then the end is cut.
 */
export function fitPieces(pieces: readonly TextPiece[], width: number): string {
  const texts = pieces.map(({ text }) => plainText(text).trimStart());
  pieces.forEach(({ kind }, at) => {
    if (kind === 'plain') texts[at] = plainText(pieces[at].text);
  });
  const over = (): number => texts.reduce((sum, text) => sum + text.length, 0) - width;
  const shorten = (kind: TextPiece['kind'], short: (text: string, to: number) => string) => {
    for (let tries = pieces.length; tries > 0 && over() > 0; tries--) {
      const longest = pieces.reduce(
        (best, piece, at) =>
          piece.kind === kind && (best < 0 || texts[at].length > texts[best].length) ? at : best,
        -1,
      );
      if (longest < 0) return;
      const room = Math.max(1, texts[longest].length - over());
      texts[longest] = short(texts[longest], room);
    }
  };
  if (over() > 0)
    pieces.forEach(({ kind }, at) => {
      if (kind === 'value') texts[at] = texts[at].replace(/(\d) (\D+)$/, '$1$2');
    });
  const names = pieces.filter(({ kind }) => kind === 'name').length;
  if (names === 0) shorten('value', shortValue);
  else if (over() > 0) {
    shorten('name', (text, to) => shortName(text, Math.max(to, Math.min(3, text.length))));
    shorten('value', shortValue);
    shorten('name', shortName);
  }
  return texts.join('').slice(0, Math.max(0, width)).trimEnd();
}

/** What can stand in braces in a text that comes back. */
export const TEXT_PLACES = [
  'track',
  'deck',
  'name',
  'value',
  'function',
  'control',
  'layer',
  'bank',
  'profile',
  'time',
  'tempo',
] as const;
export type TextPlace = (typeof TEXT_PLACES)[number];

export type RulePiece = { readonly place: TextPlace } | { readonly text: string };

const isPlace = (word: string): word is TextPlace =>
  (TEXT_PLACES as readonly string[]).includes(word);

/** Reads a text rule: words in braces are places; braces that name none stay as they are typed. */
export function readTextRule(rule: string): RulePiece[] {
  const pieces: RulePiece[] = [];
  let from = 0;
  for (const match of rule.matchAll(/\{([a-z]+)\}/g)) {
    if (!isPlace(match[1])) continue;
    if (match.index > from) pieces.push({ text: rule.slice(from, match.index) });
    pieces.push({ place: match[1] });
    from = match.index + match[0].length;
  }
  if (from < rule.length) pieces.push({ text: rule.slice(from) });
  return pieces;
}

/** Words in braces that name no place: to be told beside the field. */
export const unknownPlaces = (rule: string): string[] =>
  [...rule.matchAll(/\{([^{}]*)\}/g)].map(([, word]) => word).filter((word) => !isPlace(word));
