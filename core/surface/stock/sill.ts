import type { Surface } from '../surface.js';
import { run } from './parts.js';
import { stock } from './stock.js';

/** Header of its own texts: the number that is nobody's (MIDI 1.0, for use within a house), then which line. */
const text = (line: number) => ({
  type: 'text' as const,
  header: [0x7d, 0x53, line],
  width: 24,
  gap: 0,
});
const controller = (number: number) => ({ type: 'controller', channel: 1, number }) as const;
const note = (number: number) => ({ type: 'note', channel: 1, number }) as const;

/** A surface that there is on glass only: it is played on a phone or tablet. */
export const SILL: Surface = stock({
  id: 'sill',
  name: 'Sill',
  about: 'For a phone or tablet: 4 faders, 8 keys, an XY pad, a list and two large labels.',
  width: 300,
  height: 200,
  device: { bytesPerSecond: 1_000_000, light: 'brightness' },
  controls: [
    {
      id: 'title',
      kind: 'label',
      label: 'Title',
      x: 10,
      y: 8,
      width: 176,
      height: 26,
      takes: { upper: text(0) },
    },
    {
      id: 'place',
      kind: 'label',
      label: 'Place',
      x: 194,
      y: 8,
      width: 96,
      height: 26,
      takes: { upper: text(1) },
    },
    ...run(4, (i) => ({
      id: `fader-${i + 1}`,
      kind: 'fader',
      label: `Fader ${i + 1}`,
      x: 10 + i * 32,
      y: 44,
      width: 26,
      height: 94,
      strip: i,
      sends: { value: controller(20 + i), touch: note(80 + i) },
      takes: { motor: controller(20 + i) },
    })),
    ...run(8, (i) => ({
      id: `key-${i + 1}`,
      kind: 'button',
      label: `Key ${i + 1}`,
      x: 10 + (i % 4) * 32,
      y: 152 + Math.floor(i / 4) * 23,
      width: 28,
      height: 19,
      sends: { push: note(40 + i) },
      takes: { light: note(40 + i) },
    })),
    {
      id: 'list',
      kind: 'list',
      label: 'List',
      x: 142,
      y: 44,
      width: 44,
      height: 149,
      positions: [0, 18, 36, 54, 72, 90, 108, 127],
      names: ['One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight'],
      sends: { value: controller(30) },
      takes: { motor: controller(30) },
    },
    {
      id: 'xy',
      kind: 'xyPad',
      label: 'XY pad',
      x: 194,
      y: 44,
      width: 96,
      height: 120,
      across: 'xy-across',
      sends: { value: controller(32), touch: note(90) },
      takes: { motor: controller(32) },
    },
    {
      id: 'xy-across',
      kind: 'touchStrip',
      label: 'XY pad, across',
      x: 194,
      y: 170,
      width: 96,
      height: 22,
      sends: { value: controller(31) },
      takes: { motor: controller(31) },
    },
  ],
});
