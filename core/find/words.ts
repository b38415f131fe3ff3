/** A word of a name or of what was typed, with the number that belongs to it: ‘cue 3’ is one, ‘hot’ another. */
export interface Word {
  /** Small letters; a hyphen joins: ‘plug-in’ is ‘plugin’. Empty for a number that stands alone. */
  readonly word: string;
  readonly number: number | null;
  /** What a hyphen joins, to be found by itself. */
  readonly parts: readonly string[];
}

const PIECE = /[a-z]+(?:-[a-z]+)*|\d+/g;

/** Reads a text word by word; a number belongs to the word before it. */
export function wordsOf(text: string): Word[] {
  const words: Word[] = [];
  for (const [piece] of text.toLowerCase().normalize('NFKD').matchAll(PIECE)) {
    const last = words.at(-1);
    if (!/^\d/.test(piece)) {
      const parts = piece.split('-');
      words.push({ word: parts.join(''), number: null, parts: parts.length > 1 ? parts : [] });
    } else if (last && last.number === null) words[words.length - 1] = { ...last, number: +piece };
    else words.push({ word: '', number: +piece, parts: [] });
  }
  return words;
}
