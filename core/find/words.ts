/** A word of a name or of what was typed, with the number that belongs to it: ‘cue 3’ is one, ‘hot’ another. */
export interface Word {
  /** Small letters; a hyphen joins: ‘plug-in’ is ‘plugin’. Empty for a number that stands alone. */
  readonly word: string;
  readonly number: number | null;
  /** What a hyphen joins, to be found by itself. */
  readonly parts: readonly string[];
}

const PIECE = /[\p{L}\p{M}]+(?:-[\p{L}\p{M}]+)*|\d+/gu;
/** Marks upon letters that people leave out as they type; in other scripts they are letters of their own. */
const MARKS = /([\p{Script=Latin}\p{Script=Greek}])\p{M}+/gu;

/** A text in small letters without their marks: ‘Bläser’ is ‘blaser’, ‘Straße’ is ‘strasse’. */
const folded = (text: string): string =>
  text
    .toUpperCase()
    .toLowerCase()
    .normalize('NFKD')
    .replace(MARKS, '$1')
    .normalize('NFC')
    // At the end of a word it has another form (Unicode, SpecialCasing).
    .replaceAll('ς', 'σ');

/** Reads a text word by word; a number belongs to the word before it. */
export function wordsOf(text: string): Word[] {
  const words: Word[] = [];
  for (const [piece] of folded(text).matchAll(PIECE)) {
    const last = words.at(-1);
    if (!/^\d/.test(piece)) {
      const parts = piece.split('-');
      words.push({ word: parts.join(''), number: null, parts: parts.length > 1 ? parts : [] });
    } else if (last && last.number === null) words[words.length - 1] = { ...last, number: +piece };
    else words.push({ word: '', number: +piece, parts: [] });
  }
  return words;
}
