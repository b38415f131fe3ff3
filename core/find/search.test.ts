import distance from 'damerau-levenshtein';
import fc from 'fast-check';
import { Index, wordsOf, type Entry } from './index.js';

const entry = (name: string, whose = '', also = '', under = ''): Entry => ({
  name,
  whose,
  alsoWhose: '',
  also,
  under,
});
const best = (entries: readonly Entry[], typed: string): string | undefined => {
  const fits = new Index(entries).fits(typed);
  const found = entries
    .map((one, at) => ({ one, fit: fits[at] }))
    .filter(({ fit }) => fit !== null)
    .sort((a, b) => a.fit!.cost - b.fit!.cost);
  return found.at(0)?.one.name;
};

test('a number belongs to the word before it, wherever digits and letters meet', () => {
  expect(wordsOf('Hot cue 3, Deck 2')).toMatchObject([
    { word: 'hot', number: null },
    { word: 'cue', number: 3 },
    { word: 'deck', number: 2 },
  ]);
  expect(wordsOf('cue3')).toEqual(wordsOf('CUE 3'));
  expect(wordsOf('plug-in')).toMatchObject([{ word: 'plugin', parts: ['plug', 'in'] }]);
});

test('reading words loses no number and no letter', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('hot', 'cue', 'low-mid', '3', '12', 'on')), (pieces) => {
      const words = wordsOf(pieces.join(' '));
      const back = words.flatMap(({ word, number }) => [
        ...(word === '' ? [] : [word]),
        ...(number === null ? [] : [String(number)]),
      ]);
      expect(back).toEqual(pieces.map((piece) => piece.replace('-', '')));
    }),
  );
});

test.each([
  ['Bläser', 'blaser'],
  ['Straße', 'STRASSE'],
  ['Éclairage 2', 'eclairage 2'],
  ['Ήχος', 'ηχοσ'],
  ['Бас', 'бас'],
  ['ドラム', 'ドラム'],
])('letters of any script are found, with or without their marks: %s by %s', (name, typed) => {
  const others = [entry('Chorus 2'), entry('Бег'), entry('Κιθάρα'), entry(name)];
  expect(best(others, typed)).toBe(name);
  const exact = (words: string) =>
    new Index(others).fits(words).flatMap((fit, at) => (fit?.isExact ? [others[at].name] : []));
  expect(exact(typed)).toEqual([name]);
  expect(exact('chorus 2')).toEqual(['Chorus 2']);
});

test('a number finds its own and no other', () => {
  const cues = [1, 2, 3, 13, 30].map((n) => entry(`Hot cue ${n}`));
  for (const n of [1, 2, 3, 13, 30]) expect(best(cues, `cue ${n}`)).toBe(`Hot cue ${n}`);
  expect(best(cues, 'cue 4')).toBeUndefined();
});

test('exact words beat half words, half words beat slips; the trade’s own words are as good as ours', () => {
  const list = [entry('Pandora'), entry('Pan'), entry('Plan')];
  expect(best(list, 'pan')).toBe('Pan');
  expect(best([entry('Volume'), entry('Tempo')], 'vlume')).toBe('Volume');
  expect(best([entry('Volume'), entry('Tempo')], 'bpm')).toBe('Tempo');
  expect(best([entry('Equaliser low cut'), entry('Pan')], 'hipass')).toBe('Equaliser low cut');
  expect(best([entry('Volume')], 'nothing of that sort')).toBeUndefined();
});

test('whatever is typed, nothing is thrown, and nothing typed fits all alike', () => {
  const list = [entry('Volume', 'Deck 1'), entry('Low-mid Q')];
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (typed) => {
      expect(new Index(list).fits(typed)).toHaveLength(2);
    }),
  );
  expect(new Index(list).fits('  ').every((fit) => fit !== null)).toBe(true);
});

test('a word is found through as many slips of a letter as it may have, and through no more', () => {
  const letter = fc.constantFrom(...'abcdefghijklmnopqrstuvwxyz');
  const slip = fc.record({ at: fc.nat(), how: fc.nat(3), letter });
  const slipped = (
    word: string,
    { at, how, letter: one }: { at: number; how: number; letter: string },
  ) => {
    const place = at % word.length;
    const [before, after] = [word.slice(0, place), word.slice(place)];
    if (how === 0) return before + after.slice(1);
    if (how === 1) return before + one + after;
    if (how === 2) return before + one + after.slice(1);
    return before + after.slice(1, 2) + after.slice(0, 1) + after.slice(2);
  };
  const words = ['volume', 'crossfader', 'threshold', 'compressor', 'marker', 'automation'];
  fc.assert(
    fc.property(fc.constantFrom(...words), fc.array(slip, { maxLength: 5 }), (word, slips) => {
      const typed = slips.reduce(slipped, word);
      // A general-purpose library counts the steps; that many may be wrong of a word of this length.
      const { steps } = distance(typed, word);
      const most = typed.length < 4 ? 0 : typed.length < 8 ? 1 : 2;
      const [fit] = new Index([entry(word)]).fits(typed);
      if (steps <= most) expect(fit).not.toBeNull();
      const half = word.slice(0, typed.length);
      const isPart = word.startsWith(typed) || (typed.length >= 3 && word.includes(typed));
      const isInitial = typed.length >= 2 && word.charAt(0) === typed;
      if (steps > most && distance(typed, half).steps > most && !isPart && !isInitial)
        expect(fit).toBeNull();
    }),
    { numRuns: 2_000 },
  );
});
