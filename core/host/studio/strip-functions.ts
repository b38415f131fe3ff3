import { AUTOMATION_STATES } from './choices.js';
import { SENDS, INSERTS } from './inserts.js';
import { strips, tracks } from './sketches.js';

/** Levels, sends, automation and inserts of every strip. */
export const stripFunctions = () => [
  strips({
    id: 'meterLeft',
    label: 'Left level',
    category: 'Strip',
    kind: 'meter',
    law: 'meter',
    also: 'peak, vu, stereo',
  }),
  strips({
    id: 'meterRight',
    label: 'Right level',
    category: 'Strip',
    kind: 'meter',
    law: 'meter',
    also: 'peak, vu, stereo',
  }),
  ...SENDS.map((bus, index) =>
    tracks({
      id: `send${index + 1}`,
      label: `Send to ${bus}`,
      category: 'Sends',
      kind: 'continuous',
      law: 'fader',
      also: `aux, send ${index + 1}, bus`,
    }),
  ),
  strips({
    id: 'automation',
    label: 'Automation state',
    category: 'Automation',
    kind: 'choice',
    choices: [...AUTOMATION_STATES],
    also: 'read, write, touch, latch, off, lane',
  }),
  ...INSERTS.flatMap(({ name, also, parameters }, insert) => [
    strips({
      id: `insert${insert + 1}On`,
      label: `${name} on`,
      category: 'Inserts',
      kind: 'toggle',
      also: `${also}, plug-in, bypass, insert ${insert + 1}`,
    }),
    ...parameters.map((parameter, index) =>
      strips({
        ...parameter,
        id: `insert${insert + 1}Parameter${index + 1}`,
        label: `${name} ${parameter.label.charAt(0).toLowerCase()}${parameter.label.slice(1)}`,
        category: 'Inserts',
        kind: 'continuous',
        also: `${also}, plug-in, parameter, insert ${insert + 1}`,
      }),
    ),
  ]),
];
