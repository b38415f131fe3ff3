import { SIDES } from './sizes.js';
import { deck, toggle, smooth } from './sketches.js';

/** What a deck has in the mixer. Made in the order of the chart. */
export const mixerFunctions = () => [
  smooth('gain', 'Gain', 'Mixer', 'kill', 0.5, 'trim, level'),
  smooth('high', 'High', 'Mixer', 'kill', 0.5, 'eq, equaliser, treble, hi'),
  smooth('highMid', 'High mid', 'Mixer', 'kill', 0.5, 'eq, equaliser, presence, four bands'),
  smooth('mid', 'Mid', 'Mixer', 'kill', 0.5, 'eq, equaliser, middle'),
  smooth('low', 'Low', 'Mixer', 'kill', 0.5, 'eq, equaliser, bass'),
  smooth('filter', 'Filter', 'Mixer', 'balance', 0.5, 'low-pass, high-pass, sweep, colour'),
  smooth('fader', 'Fader', 'Mixer', 'fader', 0.794, 'volume, level, channel, line'),
  toggle('headphone', 'Headphone cue', 'Mixer', 'pfl, listen, monitor'),
  deck({
    id: 'side',
    label: 'Crossfader side',
    category: 'Mixer',
    kind: 'choice',
    choices: [...SIDES],
    also: 'assign, a, b, through',
  }),
  deck({
    id: 'meter',
    label: 'Level',
    category: 'Mixer',
    kind: 'meter',
    law: 'meter',
    also: 'peak',
  }),
];
