import { FOCUS_SLOTS } from './choices.js';
import { INSERTS } from './inserts.js';
import { host, trigger, numbered } from './sketches.js';

/** What has focus: an insert of the selected strip, a page of its parameters at a time. */
export const focusFunctions = () => [
  host({
    id: 'focusInsert',
    label: 'Insert in focus',
    category: 'Focus',
    kind: 'choice',
    choices: INSERTS.map(({ name }) => name),
    also: 'plug-in, effect, selected',
  }),
  host({
    id: 'focusPage',
    label: 'Page of parameters',
    category: 'Focus',
    kind: 'choice',
    choices: ['1', '2'],
    also: 'plug-in, bank',
  }),
  trigger('focusNext', 'Next insert', 'Focus', 'plug-in, forward'),
  trigger('focusPrevious', 'Previous insert', 'Focus', 'plug-in, back'),
  host({
    id: 'focusOn',
    label: 'Insert in focus on',
    category: 'Focus',
    kind: 'toggle',
    also: 'plug-in, bypass',
  }),
  host({
    id: 'focusName',
    label: 'Name of the insert in focus',
    category: 'Focus',
    kind: 'text',
  }),
  ...numbered(FOCUS_SLOTS, (n) =>
    host({
      id: `focus${n}`,
      label: `Parameter ${n} of the plug-in in focus`,
      category: 'Focus',
      kind: 'continuous',
      law: 'percent',
      needs: `focusHas${n}`,
      also: `plug-in, slot ${n}, macro`,
    }),
  ),
  ...numbered(FOCUS_SLOTS, (n) =>
    host({
      id: `focusHas${n}`,
      label: `Parameter ${n} is there`,
      category: 'Focus',
      kind: 'toggle',
      told: true,
    }),
  ),
  ...numbered(FOCUS_SLOTS, (n) =>
    host({
      id: `focusText${n}`,
      label: `Parameter ${n}, name and value`,
      category: 'Focus',
      kind: 'text',
    }),
  ),
];
