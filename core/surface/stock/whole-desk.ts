import type { Surface } from '../surface.js';
import { DESK, JOG_AND_COUNTER, STRIP_WIDTH, deskFader, deskStrip, lampKey } from './harrow8.js';
import { controller, type Drawn } from './parts.js';
import { stock } from './stock.js';

/*
 * A unit with everything that the Mackie-style protocol knows (common practice, no source), for desks that have more
 * than the invented one, and for programs that expect such a desk. The panel is a plain list of our own.
 */

const FIRST_STRIP_X = 92;
const STRIPS = 8;
const COLUMNS = 6;

/** Keys by the note of the first, each with its name. */
const KEYS: readonly (readonly [first: number, names: readonly string[]])[] = [
  [
    0x28,
    [
      'Encoders: track',
      'Encoders: send',
      'Encoders: pan',
      'Encoders: plug-in',
      'Encoders: equaliser',
      'Encoders: instrument',
    ],
  ],
  [0x2e, ['Bank left', 'Bank right', 'Strip left', 'Strip right', 'Flip', 'Overview']],
  [0x34, ['Text mode', 'Time format']],
  [0x36, [1, 2, 3, 4, 5, 6, 7, 8].map((n) => `Function ${n}`)],
  [0x3e, [1, 2, 3, 4, 5, 6, 7, 8].map((n) => `View ${n}`)],
  [0x46, [1, 2, 3, 4].map((n) => `Modifier ${n}`)],
  [0x4a, ['Read', 'Write', 'Trim', 'Touch', 'Latch', 'Group']],
  [0x50, ['Save', 'Undo', 'Cancel', 'Enter']],
  [0x54, ['Marker', 'Nudge', 'Loop', 'Punch', 'Replace', 'Click', 'Clear solos']],
  [0x5b, ['Rewind', 'Forward', 'Stop', 'Play', 'Record']],
  [0x60, ['Up', 'Down', 'Left', 'Right', 'Zoom', 'Scrub']],
  [0x66, ['Foot switch 1', 'Foot switch 2']],
];
/** Lamps without a key, by note. */
const LAMPS_ONLY: readonly (readonly [note: number, name: string])[] = [
  [0x71, 'Time code lamp'],
  [0x72, 'Beats lamp'],
  [0x73, 'Any solo lamp'],
];

const idOf = (name: string) =>
  name
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
    .join('-');

const keys: Drawn[] = KEYS.flatMap(([first, names]) =>
  names.map((name, i) => ({ id: idOf(name), label: name, ...lampKey(first + i) })),
).map((key, i) => ({
  ...key,
  x: 474 + (i % COLUMNS) * 34,
  y: 24 + Math.floor(i / COLUMNS) * 25,
  width: 31,
  height: 20,
}));

/** A Mackie-style main unit with every key of the protocol. */
export const WHOLE_DESK: Surface = stock({
  id: 'whole-desk',
  name: 'Mackie-style desk',
  about: 'Everything the Mackie-style protocol knows: eight strips, a master, and all of its keys.',
  width: 684,
  height: 350,
  device: { ...DESK, desk: 'main' },
  controls: [
    ...JOG_AND_COUNTER,
    {
      id: 'short-counter',
      kind: 'display',
      label: 'Two digits',
      x: 6,
      y: 128,
      width: 34,
      height: 18,
      takes: { upper: { type: 'digits', channel: 1, number: 0x4a, count: 2 } },
    },
    {
      id: 'pedal',
      kind: 'expression',
      label: 'Pedal',
      x: 8,
      y: 304,
      width: 76,
      height: 34,
      sends: { value: controller(0x2e) },
    },
    { id: 'fader-master', label: 'Master fader', ...deskFader(STRIPS, 34) },
    ...Array.from({ length: STRIPS }, (_, i) => deskStrip(i, 'main', FIRST_STRIP_X)).flat(),
    ...keys,
    ...LAMPS_ONLY.map(([number, name], i) => ({
      id: idOf(name),
      label: name,
      kind: 'button' as const,
      x: FIRST_STRIP_X + 4 + i * STRIP_WIDTH,
      y: 316,
      width: 38,
      height: 16,
      silent: true,
      takes: lampKey(number).takes,
    })),
  ],
});
