import { neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, type InputPart } from '@rondo/core/surface';
import fc from 'fast-check';
import { NOTHING_OWN, libraryWith } from '../../../engine/library';
import { Names } from '../names';
import { choiceKey, type Choice } from './choice';
import { search } from './choice-search';
import { choicesFor } from './choices';
import { QUERIES, type Query } from './queries.data';

function with_(profile: Profile, surface: string, control: string, part: InputPart): Choice[] {
  const model = STOCK_SURFACES.get(surface)!;
  return choicesFor(
    new Names(profile, libraryWith(NOTHING_OWN)),
    model,
    model.controls.find(({ id }) => id === control)!,
    part,
    () => 'something',
  );
}
const CHOICES: Readonly<Record<Query['with'], readonly Choice[]>> = {
  'studio key': with_(nineFerriesMix(), 'harrow-8', 'function-1', 'push'),
  'studio fader': with_(nineFerriesMix(), 'harrow-8', 'fader-3', 'value'),
  'booth key': with_(neapRink(), 'cobble-64', 'pad-1', 'push'),
  'booth knob': with_(neapRink(), 'burrow-14', 'knob-1', 'value'),
};

test.each(QUERIES)('$with, “$typed”: $means', ({ with: what, typed, means }) => {
  const found = search(CHOICES[what], typed);
  expect(found.slice(0, 3).map(({ label }) => label)[0]).toBe(means);
});

test('what is called exactly so comes before what was used lately, and that before the rest', () => {
  const keys = CHOICES['booth key'];
  const recent = ['Hot cue 8, Deck 3', 'Loop out, Deck 2'].map((label) =>
    choiceKey(keys.find((choice) => choice.label === label)!),
  );
  const first = (typed: string) => search(keys, typed, 'any', recent).map(({ label }) => label);
  expect(first('cue').at(0)).toBe('Cue, the deck in focus');
  expect(first('loop').at(0)).toBe('Loop, the deck in focus');
  expect(first('out').at(0)).toBe('Loop out, the deck in focus');
  expect(first('loop out deck 2').at(0)).toBe('Loop out, Deck 2');
});

test('no two lines read the same, with whatever is in hand', () => {
  for (const choices of Object.values(CHOICES)) {
    const lines = choices.map(({ label, host }) => `${label} ${host ?? ''}`);
    expect(lines).toHaveLength(new Set(lines).size);
  }
});

/** Words as they are typed in haste. */
const slip = fc.constantFrom<(word: string) => string>(
  (word) => word,
  (word) => word.toUpperCase(),
  (word) => word.slice(0, 2) + word.slice(3),
  (word) => word.slice(0, 1) + word.charAt(2) + word.charAt(1) + word.slice(3),
  (word) => `${word.slice(0, 2)}x${word.slice(3)}`,
);

test('every line is found by its own label, at once', () => {
  // All of them would take a minute: one in twenty, others in every run.
  const first = Math.floor(Math.random() * 20);
  for (const choices of Object.values(CHOICES))
    for (const { label } of choices.filter((_, at) => at % 20 === first))
      expect([first, search(choices, label)[0].label]).toEqual([first, label]);
});

test('a name that begins another is found whole: “Loop”, beside “Loop in”', () => {
  const [first] = search(CHOICES['booth key'], 'loop, the deck in focus');
  expect(first.label).toBe('Loop, the deck in focus');
});

test('upper case and small letters are the same', () => {
  const choices = CHOICES['booth key'];
  const back = choices.findIndex(({ label }) => label === 'Deck in focus, back');
  fc.assert(
    fc.property(fc.nat({ max: choices.length - 1 }), (at) => {
      const { label } = choices[at];
      expect(search(choices, label.toUpperCase())[0].label).toBe(label);
    }),
    { examples: [[back]] },
  );
});

test('one slip in one long word of a label still finds it among the first', () => {
  const choices = CHOICES['studio fader'];
  fc.assert(
    fc.property(fc.nat({ max: choices.length - 1 }), slip, fc.nat(), (at, change, which) => {
      const { label } = choices[at];
      const words = label.split(' ');
      const long = words.flatMap((word, n) => (/^[A-Za-z]{6,}/.test(word) ? [n] : []));
      fc.pre(long.length > 0);
      const n = long[which % long.length];
      words[n] = change(words[n]);
      const found = search(choices, words.join(' ')).slice(0, 3);
      expect(found.map((choice) => choice.label)).toContain(label);
    }),
  );
});
