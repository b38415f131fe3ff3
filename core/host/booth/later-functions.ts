import { CRATES } from '../records.js';
import { fitted } from './effect-functions.js';
import { EFFECT_UNITS } from './sizes.js';
import { deck, host, trigger, smooth, upTo } from './sketches.js';
import { stem, stemCross } from './stem-functions.js';

/** What came later: at the end, since a function has its messages by its place. Made in the order of the chart. */
export const laterFunctions = () => [
  trigger('stop', 'Stop', 'Deck', 'halt, back to the cue point'),
  // For what springs back to its middle: there the record runs at its own speed.
  smooth('bend', 'Bend', 'Deck', 'pitch', 0.5, 'nudge by wheel, push, hold back, catch up'),
  ...upTo(EFFECT_UNITS, (unit) =>
    deck({
      id: `effect${unit}Assigned`,
      label: `Effect ${unit} assigned`,
      category: 'Effects',
      kind: 'toggle',
      rest: 1,
      ...fitted(unit),
      also: 'fx, on deck, to deck, route, send',
    }),
  ),
  ...stem(5),
  stemCross(5),
  host({
    id: 'crate',
    label: 'Crate',
    category: 'Browser',
    kind: 'choice',
    choices: CRATES.map(({ name }) => name),
    also: 'folder, box, playlist, list',
  }),
  host({
    id: 'crateOpen',
    label: 'Crate open',
    category: 'Browser',
    kind: 'toggle',
    rest: 1,
    also: 'open crate, close crate, folder, enter, back, leave',
  }),
  host({
    id: 'listUp',
    label: 'Up in the list',
    category: 'Browser',
    kind: 'trigger',
    also: 'previous, browse, crate, record',
  }),
  host({
    id: 'listDown',
    label: 'Down in the list',
    category: 'Browser',
    kind: 'trigger',
    also: 'next, browse, crate, record',
  }),
  host({
    id: 'search',
    label: 'Search field',
    category: 'Browser',
    kind: 'toggle',
    view: true,
    also: 'find, type, look for, filter, records',
  }),
];
