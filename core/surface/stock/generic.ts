import type { Surface } from '../surface.js';
import { controller, keyboard, keyboardWidth, note, run, type Drawn } from './parts.js';
import { stock } from './stock.js';

/*
 * Plain starting points. Controllers from 102 on are undefined in MIDI 1.0 and so safest; where they do not reach, the
 * undefined ones from 14 and the general purpose ones are used.
 */

const generic = (
  id: string,
  name: string,
  about: string,
  width: number,
  height: number,
  controls: Drawn[],
): Surface => stock({ id, name, about, width, height, controls });

const faders = (total: number, y: number): Drawn[] =>
  run(total, (i) => ({
    id: `fader-${i + 1}`,
    kind: 'fader',
    label: `Fader ${i + 1}`,
    x: 14 + i * 30,
    y,
    width: 20,
    height: 90,
    sends: { value: controller(102 + i) },
  }));

const grid = (columns: number, rows: number, first: number, size: number): Drawn[] =>
  run(columns * rows, (i) => ({
    id: `pad-${i + 1}`,
    kind: 'pad',
    label: `Pad ${i + 1}`,
    x: 14 + (i % columns) * (size + 4),
    y: 14 + Math.floor(i / columns) * (size + 4),
    width: size,
    height: size,
    sends: { push: note(first + i) },
    takes: { light: note(first + i) },
  }));

const keys = (total: number): Surface =>
  generic(
    `keys-${total}`,
    `${total} keys`,
    `A keyboard of ${total} keys with pitch and modulation wheels.`,
    74 + keyboardWidth(total),
    110,
    [
      {
        id: 'pitch',
        kind: 'wheel',
        label: 'Pitch wheel',
        x: 12,
        y: 18,
        width: 18,
        height: 74,
        springs: 'centre',
        sends: { value: { type: 'pitchBend', channel: 1, bits: 14 } },
      },
      {
        id: 'modulation',
        kind: 'wheel',
        label: 'Modulation wheel',
        x: 36,
        y: 18,
        width: 18,
        height: 74,
        sends: { value: controller(1) },
      },
      ...keyboard(total, 36, 62, 18),
    ],
  );

export const GENERIC: readonly Surface[] = [
  generic('faders-8', '8 faders', 'Eight faders, a controller each.', 258, 118, faders(8, 14)),
  generic(
    'faders-9-knobs-9',
    '9 faders and 9 knobs',
    'Nine faders with a knob over each, a controller each.',
    288,
    150,
    [
      ...run(9, (i) => ({
        id: `knob-${i + 1}`,
        kind: 'knob',
        label: `Knob ${i + 1}`,
        x: 14 + i * 30,
        y: 14,
        width: 20,
        height: 20,
        sends: { value: controller(20 + i) },
      })),
      ...faders(9, 46),
    ],
  ),
  generic(
    'pads-16',
    '16 pads',
    'Sixteen pads in four rows, a note each.',
    144,
    144,
    grid(4, 4, 36, 26),
  ),
  generic('grid-64', '8×8 grid', 'Sixty-four pads, a note each.', 216, 216, grid(8, 8, 0, 20)),
  keys(25),
  keys(49),
  keys(61),
  generic(
    'pedals-8',
    '8 pedals',
    'Eight pedals in two rows, a controller each.',
    268,
    134,
    run(8, (i) => ({
      id: `pedal-${i + 1}`,
      kind: 'pedal',
      label: `Pedal ${i + 1}`,
      x: 16 + (i % 4) * 62,
      y: 16 + Math.floor(i / 4) * 58,
      width: 50,
      height: 42,
      sends: { push: controller(102 + i) },
    })),
  ),
  generic('blank', 'Blank', 'An empty panel to draw on.', 300, 160, []),
];
