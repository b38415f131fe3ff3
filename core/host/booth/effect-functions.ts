import { DECKS, EFFECT_UNITS, EFFECTS } from './sizes.js';
import { host, upTo } from './sketches.js';

/** What of an effect unit is there only where the unit is: the second one can be missing. */
export const fitted = (unit: number) => (unit === 2 ? { needs: 'effect2Fitted' } : {});

/** The effect units. Made in the order of the chart. */
export const effectFunctions = () => [
  ...upTo(EFFECT_UNITS, (unit) => [
    host({
      id: `effect${unit}On`,
      label: `Effect ${unit} on`,
      category: 'Effects',
      kind: 'toggle',
      ...fitted(unit),
      also: 'fx, unit',
    }),
    host({
      id: `effect${unit}Kind`,
      label: `Effect ${unit} type`,
      category: 'Effects',
      kind: 'choice',
      choices: [...EFFECTS],
      ...fitted(unit),
      also: `fx, unit, ${EFFECTS.join(', ').toLowerCase()}`,
    }),
    host({
      id: `effect${unit}Deck`,
      label: `Effect ${unit} goes to`,
      category: 'Effects',
      kind: 'choice',
      choices: ['All', ...upTo(DECKS, (n) => `Deck ${n}`)],
      ...fitted(unit),
      also: 'fx, assign, route, only on deck',
    }),
    ...(['Amount', 'Time', 'Tone'] as const).map((label) =>
      host({
        id: `effect${unit}${label}`,
        label: `Effect ${unit} ${label.toLowerCase()}`,
        category: 'Effects',
        kind: 'continuous',
        law: 'percent',
        rest: 0.5,
        ...fitted(unit),
        also: 'fx, unit, dry wet, parameter, mix',
      }),
    ),
  ]).flat(),
  host({
    id: 'effectLastOn',
    label: 'Effect used last on',
    category: 'Effects',
    kind: 'toggle',
    also: 'fx, again',
  }),
  host({
    id: 'effectLastAmount',
    label: 'Amount of the effect used last',
    category: 'Effects',
    kind: 'continuous',
    law: 'percent',
    rest: 0.5,
    also: 'fx, dry wet, mix',
  }),
];
