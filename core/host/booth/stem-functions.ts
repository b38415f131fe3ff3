import { FIRST_STEMS, STEM_GROUPS } from './sizes.js';
import { deck, host, smooth, text, upTo } from './sketches.js';

const STEM_WORDS = 'part, voice, drums, bass, keys, rest, ';

/** What there is of a stem on each deck: a record says whether it has it. */
export const stem = (n: number) => [
  deck({
    id: `stemHas${n}`,
    label: `Stem ${n} is there`,
    category: 'Stems',
    kind: 'toggle',
    told: true,
  }),
  deck({
    id: `stem${n}`,
    label: `Stem ${n} level`,
    category: 'Stems',
    kind: 'continuous',
    law: 'percent',
    rest: 1,
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'volume',
  }),
  deck({
    id: `stemMute${n}`,
    label: `Stem ${n} mute`,
    category: 'Stems',
    kind: 'toggle',
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'off',
  }),
  deck({
    id: `stemSolo${n}`,
    label: `Stem ${n} solo`,
    category: 'Stems',
    kind: 'toggle',
    needs: `stemHas${n}`,
    also: STEM_WORDS + 'alone',
  }),
  text(`stemName${n}`, `Stem ${n} name`, 'Stems'),
];
/** The crossfade of a stem between two decks. */
export const stemCross = (n: number) =>
  host({
    id: `stemCross${n}`,
    label: `Crossfade of stem ${n}`,
    category: 'Stems',
    kind: 'continuous',
    law: 'percent',
    rest: 0.5,
    also: 'swap, between decks, stem',
  });
/** The stems of the records, and their crossfades. Made in the order of the chart. */
export const stemFunctions = () => [
  deck({
    id: 'stemGroup',
    label: 'Parted into',
    category: 'Stems',
    kind: 'choice',
    choices: STEM_GROUPS.map((total) => `${total} stems`),
    told: true,
    also: 'stems, group, parts, how many',
  }),
  ...upTo(FIRST_STEMS, stem).flat(),
  smooth(
    'balance',
    'Voice against the rest',
    'Stems',
    'balance',
    0.5,
    'balance, acapella, instrumental, vocal',
  ),
  ...upTo(FIRST_STEMS, stemCross),
  host({
    id: 'stemPair',
    label: 'Stems crossfade between',
    category: 'Stems',
    kind: 'choice',
    choices: ['Decks 1 and 2', 'Decks 3 and 4'],
    also: 'pair, stem crossfade',
  }),
];
