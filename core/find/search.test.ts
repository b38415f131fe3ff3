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
