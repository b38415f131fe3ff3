import distance from 'damerau-levenshtein';
import { SAME_WORDS } from './trade.js';
import type { Word } from './words.js';

/** What a word costs by how well it fits. */
const SAME = 0.6;
export const BEGINS = 0.5;
const PART = 0.4;
export const WITHIN = 3;
const SLIP = 3.5;

const groupOf = new Map(SAME_WORDS.flatMap((group, at) => group.map((word) => [word, at])));

/** How many letters may be wrong: none of a short word, one of a longer one, two of a long one. */
const slipsOf = (word: string): number => (word.length < 4 ? 0 : word.length < 8 ? 1 : 2);

/** Which letters a word has, a bit for each. */
function lettersOf(word: string): number {
  let bits = 0;
  for (let at = 0; at < word.length; at++) bits |= 1 << (word.charCodeAt(at) - 97);
  return bits;
}

/** Steps from one word to another (Damerau and Levenshtein); any number above `most` where there are more than that. */
function stepsTo(typed: string, word: string, most: number): number {
  // Each step adds one letter at most, and makes the word one longer or shorter at most.
  if (Math.abs(typed.length - word.length) > most) return most + 1;
  if (countOf(lettersOf(typed) & ~lettersOf(word)) > most) return most + 1;
  return distance(typed, word).steps;
}

/** How well a typed word fits another; Infinity where it does not. */
function quality(typed: string, word: string): number {
  if (typed === word) return 0;
  const group = groupOf.get(typed);
  if (group !== undefined && groupOf.get(word) === group) return SAME;
  if (word.startsWith(typed)) return BEGINS + (0.4 * (word.length - typed.length)) / word.length;
  if (typed.length >= 3 && word.includes(typed)) return WITHIN;
  const slips = slipsOf(typed);
  if (slips > 0 && word.length >= 4) {
    // Half a word may have its slip, too.
    const whole = stepsTo(typed, word, slips);
    const half =
      word.length > typed.length ? stepsTo(typed, word.slice(0, typed.length), slips) : 9;
    if (whole <= slips) return SLIP + 0.2 * whole;
    if (half <= slips) return SLIP + 0.5 + 0.2 * half;
  }
  return Infinity;
}

/** The words of a list, each once. */
export class Vocabulary {
  private readonly ids = new Map<string, number>();
  private readonly words: Pick<Word, 'word' | 'parts'>[] = [];

  idOf({ word, parts }: Pick<Word, 'word' | 'parts'>): number {
    const key = `${word} ${parts.join(' ')}`;
    const known = this.ids.get(key);
    if (known !== undefined) return known;
    this.ids.set(key, this.words.length);
    return this.words.push({ word, parts }) - 1;
  }

  /** What each word costs where this one was typed. */
  costsOf(typed: string): Float64Array {
    const costs = new Float64Array(this.words.length);
    for (const [id, { word, parts }] of this.words.entries()) {
      let best = quality(typed, word);
      for (const part of parts) best = Math.min(best, quality(typed, part) + PART);
      costs[id] = best;
    }
    return costs;
  }
}

/** How many bits are set. */
export function countOf(bits: number): number {
  let count = 0;
  for (let rest = bits; rest !== 0; rest &= rest - 1) count++;
  return count;
}
