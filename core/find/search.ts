import { OTHER_WORDS } from './trade.js';
import { wordsOf, type Word } from './words.js';
import { BEGINS, WITHIN, Vocabulary, countOf } from './vocabulary.js';

/** Something that is found by words. */
export interface Entry {
  /** What it is called, without whose it is: ‘Hot cue 3’. */
  readonly name: string;
  /** Whose it is: ‘Deck 2’, ‘the selected track’; '' where there is only one. */
  readonly whose: string;
  /** By what else it may be asked for whose it is: ‘track 5’. */
  readonly alsoWhose: string;
  /** Other words for it. */
  readonly also: string;
  /** What it stands under, and of which host it is. */
  readonly under: string;
}

/** How well something fits what was typed. */
export interface Fit {
  /** 0 is best. */
  readonly cost: number;
  /** Every word is one of its own, and none of its name is missing. */
  readonly isExact: boolean;
  /** No word was only nearly right. */
  readonly isSure: boolean;
  /** It was asked for whose it is. */
  readonly isNamed: boolean;
}

/** What a word costs by where it stands. */
const PLACE = { name: 0, whose: 0.2, alsoWhose: 0.4, also: 1.5, under: 2 } as const;
type Place = keyof typeof PLACE;
const PLACES = Object.keys(PLACE) as Place[];

const PLACE_COSTS = PLACES.map((place) => PLACE[place]);
const NAME = PLACES.indexOf('name');
const WHOSE = PLACES.indexOf('whose');
const ALSO_WHOSE = PLACES.indexOf('alsoWhose');
const ALSO = PLACES.indexOf('also');
const INITIALS = 2;
/** A number that stands with another word of the name, or with whose it is. */
const ASIDE = { name: 0.8, whose: 1, alsoWhose: 1.5, also: 9, under: 9 } as const;
const ASIDE_COSTS = PLACES.map((place) => ASIDE[place]);
/** Another word for it that has its own number: ‘send 2’. */
const NUMBERED = 0.7;
const MISSING = 0.2;
/** Words that nobody types. */
const SMALL = new Set(['to', 'the', 'a', 'of', 'while', 'held']);
const OUT_OF_ORDER = 0.1;
/** The same word of a name asked for twice. */
const AGAIN = 0.5;
const REWORDED = 0.3;

const NO_NUMBER = -1;
/** A small word stands nowhere. */
const NOWHERE = -1;
/** Names have fewer words; what comes later counts as one. */
const LAST_BIT = 30;

interface Token extends Word {
  /** Where its word stands in the vocabulary. */
  readonly id: number;
  readonly place: Place;
  /** Where in its place it stands, small words not counted; the first of two for two words that are written as one. */
  readonly at: number;
  /** Words of the name that it stands for, a bit for each; 0 for small words, and in other places. */
  readonly names: number;
}
/** An entry's words, column by column: a question goes through all of them for each of its own words. */
interface Read {
  /** All of its name and whose it is, to be known as a whole. */
  readonly whole: string;
  readonly texts: readonly string[];
  /** Where each word stands in the vocabulary. */
  readonly ids: Int32Array;
  /** In which of {@link PLACES}. */
  readonly places: Uint8Array;
  /** −1 for none. */
  readonly numbers: Int32Array;
  readonly ats: Int32Array;
  readonly bits: Int32Array;
  /** How many words its name has, small ones not counted. */
  readonly names: number;
  /** What a number in its name costs, where none was asked for: the first of a numbered run stands first. */
  readonly numbered: number;
  readonly initials: string;
}

function read(entry: Entry, vocabulary: Vocabulary): Read {
  const tokens = PLACES.flatMap((place) => tokensOf(entry[place], place, vocabulary));
  const names = tokens.filter(({ place }) => place === 'name');
  const pairs = names.slice(1).flatMap((second, before) => {
    const first = names[before];
    return first.number === null && second.word !== '' ? [joined(first, second, vocabulary)] : [];
  });
  const all = [...tokens, ...pairs];
  return {
    whole: wholeOf(wordsOf(`${entry.name} ${entry.whose}`)),
    texts: all.map(({ word }) => word),
    ids: Int32Array.from(all, ({ id }) => id),
    places: Uint8Array.from(all, ({ place }) => PLACES.indexOf(place)),
    numbers: Int32Array.from(all, ({ number }) => number ?? NO_NUMBER),
    ats: Int32Array.from(all, ({ at }) => at),
    bits: Int32Array.from(all, (token) => token.names),
    names: countOf(names.reduce((all, token) => all | token.names, 0)),
    numbered: [...names, ...pairs].reduce(
      (sum, { number }) => sum + (number === null ? 0 : Math.min(number, 99) * 0.001),
      0,
    ),
    initials: names
      .flatMap(({ word, parts }) => (parts.length > 0 ? parts : [word]))
      .map((word) => word.charAt(0))
      .join(''),
  };
}

/** Two words that are written as one. */
function joined(first: Token, second: Token, vocabulary: Vocabulary): Token {
  const word = first.word + second.word;
  const id = vocabulary.idOf({ word, parts: second.parts });
  const at = first.at >= 0 ? first.at : second.at;
  return { ...second, word, id, at, names: first.names | second.names };
}

const wholeOf = (words: readonly Word[]): string =>
  words.map(({ word, number }) => `${word}${number ?? ''}`).join(' ');

function tokensOf(text: string, place: Place, vocabulary: Vocabulary): Token[] {
  let next = 0;
  return wordsOf(text).map((word) => {
    const at = SMALL.has(word.word) && word.number === null ? NOWHERE : next++;
    const names = place === 'name' && at >= 0 ? 1 << Math.min(at, LAST_BIT) : 0;
    return { ...word, id: vocabulary.idOf(word), place, at, names };
  });
}

/** Finds entries by words. Made once for a list; each question then looks every word up once. */
export class Index<T extends Entry> {
  private readonly reads: readonly Read[];
  private readonly vocabulary = new Vocabulary();

  constructor(readonly entries: readonly T[]) {
    this.reads = entries.map((entry) => read(entry, this.vocabulary));
  }

  /**
   * How each entry fits what was typed, in the order of the entries; null where a word of it is nowhere.
   * @param typed as it was typed; an empty text fits all alike
   */
  fits(typed: string): (Fit | null)[] {
    const texts = [typed.toLowerCase()];
    const other = OTHER_WORDS.reduce((text, [said, meant]) => text.replace(said, meant), texts[0]);
    if (other !== texts[0]) texts.push(other);
    const asked = texts.map((text) => {
      const words = wordsOf(text);
      return {
        whole: wholeOf(words),
        words,
        costs: words.map(({ word }) => this.vocabulary.costsOf(word)),
      };
    });
    return this.reads.map((one) => {
      let best: Fit | null = null;
      asked.forEach(({ whole, words, costs }, at) => {
        const fit = fitOf(one, words, costs);
        if (!fit) return;
        // Whoever writes all of it out means it.
        const cost = whole === one.whole ? -1 : fit.cost + at * REWORDED;
        if (!best || cost < best.cost) best = { ...fit, cost };
      });
      return best;
    });
  }
}

function fitOf(read: Read, words: readonly Word[], costs: readonly Float64Array[]): Fit | null {
  const { texts, ids, places, numbers, ats, bits, names, initials } = read;
  let cost = 0;
  let isExact = true;
  let isSure = true;
  let isNamed = false;
  let last = NOWHERE;
  let hit = 0;
  const used: number[] = [];
  for (let nth = 0; nth < words.length; nth++) {
    const { word, number } = words[nth];
    const own = costs[nth];
    let best = Infinity;
    let found = -1;
    for (let token = 0; token < ids.length; token++) {
      const plain = word === '' ? BEGINS : own[ids[token]];
      // The place and the number only ever add to it.
      if (plain >= best) continue;
      const place = places[token];
      const isOwnNumber = number !== null && numbers[token] === number && word === texts[token];
      const where = place === ALSO && isOwnNumber ? NUMBERED : PLACE_COSTS[place];
      const all = plain + where + (number === null ? 0 : numberCost(read, token, word, number));
      // Of two that fit alike, the one that nothing else has asked for.
      const again = used.includes(token) ? AGAIN : 0;
      if (all + again < best) {
        best = all + again;
        found = token;
      }
    }
    if (best === Infinity && word.length >= 2 && number === null && initials.startsWith(word)) {
      cost += INITIALS;
      isExact = false;
      continue;
    }
    if (found < 0 || best >= 9) return null;
    if (best >= WITHIN) isSure = false;
    if (best > PLACE.alsoWhose) isExact = false;
    const isName = places[found] === NAME;
    if (isName) {
      const at = ats[found] === NOWHERE ? last : ats[found];
      if (at < last || (last < 0 && at > 0)) cost += OUT_OF_ORDER;
      last = at;
      hit |= bits[found];
    }
    if (places[found] === WHOSE || places[found] === ALSO_WHOSE) isNamed = true;
    // The number said whose: ‘mute 3’.
    if (number !== null && isName && numbers[found] === NO_NUMBER && !hasNumber(read, number))
      isNamed = true;
    used.push(found);
    cost += best;
  }
  const missing = names - countOf(hit);
  if (missing > 0) isExact = false;
  cost += MISSING * missing + read.numbered;
  return { cost, isExact: isExact && words.length > 0, isSure, isNamed };
}

/** Whether the name has a number. */
function hasNumber({ numbers, places }: Read, number: number): boolean {
  for (let token = 0; token < numbers.length; token++)
    if (places[token] === NAME && numbers[token] === number) return true;
  return false;
}

/** What it costs that a number stands with another word; Infinity where it stands with none. */
function numberCost(
  { numbers, places }: Read,
  token: number,
  word: string,
  number: number,
): number {
  if (numbers[token] === number) return 0;
  if (numbers[token] !== NO_NUMBER || word === '') return Infinity;
  const place = places[token];
  let best = Infinity;
  for (let other = 0; other < numbers.length; other++) {
    if (numbers[other] !== number) continue;
    // Whose it is has its own number, or none.
    const counts = place === NAME ? places[other] <= ALSO_WHOSE : places[other] === place;
    if (counts) best = Math.min(best, ASIDE_COSTS[places[other]]);
  }
  return best;
}
