import { panLaw } from '../law.js';
import {
  PRIVATE,
  NAME,
  blockOf,
  channelOf,
  pair,
  controller,
  both,
  numbers,
  perStrip,
} from './messages.js';
import { STRIPS } from './session.js';

/** What every strip of the mixer has. */
export const mixerFunctions = () =>
  [
    {
      id: 'volume',
      label: 'Volume',
      words: ['level', 'fader', 'gain', 'loudness'],
      category: 'Strip',
      kind: 'continuous',
      law: 'fader',
      per: 'strip',
      messages: perStrip([7, 20], pair, 'continuous'),
    },
    {
      id: 'pan',
      label: 'Pan',
      words: ['balance', 'left', 'right', 'position'],
      category: 'Strip',
      kind: 'continuous',
      law: 'pan',
      rest: panLaw.fromUnit(0),
      per: 'strip',
      messages: perStrip([10, 21], pair, 'continuous'),
    },
    {
      id: 'mute',
      label: 'Mute',
      words: ['silence', 'off', 'cut'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([102, 110], controller, 'toggle'),
    },
    {
      id: 'solo',
      label: 'Solo',
      words: ['alone', 'listen'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      // There is nothing to hear the master apart from.
      messages: perStrip([103, 111], controller, 'toggle').map((messages, strip) =>
        strip === STRIPS.length - 1 ? null : messages,
      ),
    },
    {
      id: 'arm',
      label: 'Arm',
      words: ['record ready', 'rec', 'input'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      // Only tracks record.
      messages: [
        ...STRIPS.map(({ group }, strip) =>
          group === 'track' ? both(controller(channelOf(strip), 104)) : null,
        ),
        numbers.one('toggle'),
      ],
    },
    {
      id: 'select',
      label: 'Select',
      words: ['choose', 'focus'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([105, 113], controller, 'toggle').slice(0, STRIPS.length),
    },
    {
      id: 'meter',
      label: 'Level meter',
      words: ['peak', 'vu'],
      category: 'Strip',
      kind: 'meter',
      law: 'meter',
      per: 'strip',
      messages: STRIPS.map((_, strip) => ({
        report: controller(channelOf(strip), [106, 114][blockOf(strip)]),
      })),
    },
    {
      id: 'name',
      label: 'Track name',
      words: ['title', 'text'],
      category: 'Strip',
      kind: 'text',
      per: 'strip',
      messages: STRIPS.map((_, strip) => ({
        report: { type: 'text', header: [PRIVATE, NAME, strip], gap: 0 },
      })),
    },
  ] as const;
