import { DESK_HEADER, DESK_UNITS, type DeskUnit } from '@rondo/core/wire';
import { LAMPS, type Surface } from '../surface.js';
import type { Drawn } from './parts.js';
import { stock } from './stock.js';

/*
 * Harrow 8, an invented desk. Panel: our own arrangement. Messages: the Mackie-style control protocol,
 * common practice, no published source. All on channel 1 but the faders, which have a channel each.
 */

const STRIPS = 8;
const FIRST_STRIP_X = 92;
export const STRIP_WIDTH = 46;
/** What its display's SysEx begins with, after the maker's id: the unit, and that text follows. */
const displayHeader = (unit: DeskUnit) => [...DESK_HEADER, DESK_UNITS[unit], 0x12];
const CELL = { width: 7, gap: 1 };
const FADER = { width: 24, height: 128 };
const FADER_TOP = 170;

const note = (number: number) => ({ type: 'note', channel: 1, number }) as const;
export const lampKey = (number: number) => ({
  kind: 'button' as const,
  sends: { push: note(number) },
  takes: { light: note(number) },
});

export function deskFader(index: number, x: number) {
  const bend = { type: 'pitchBend', channel: index + 1, bits: 10 } as const;
  return {
    kind: 'fader' as const,
    x,
    y: FADER_TOP,
    ...FADER,
    sends: { value: bend, touch: note(0x68 + index) },
    takes: { motor: bend },
  };
}

/** One of eight strips of a Mackie-style unit, from 0; `x` is where the first one begins, in millimetres. */
export function deskStrip(index: number, unit: DeskUnit, x: number): Drawn[] {
  const left = x + index * STRIP_WIDTH;
  const n = index + 1;
  const centred = (width: number) => left + (STRIP_WIDTH - width) / 2;
  const small = (
    place: number,
    name: string,
    legend: string,
    lamp: (typeof LAMPS)[number],
    first: number,
  ) => ({
    id: `${name.toLowerCase()}-${n}`,
    label: `${name} ${n}`,
    legend,
    lamp,
    round: true,
    strip: index,
    x: left + 3.5 + place * 13.5,
    y: 146,
    width: 12,
    height: 12,
    ...lampKey(first + index),
  });
  return [
    {
      id: `encoder-${n}`,
      kind: 'encoder' as const,
      label: `Encoder ${n}`,
      x: centred(30),
      y: 24,
      width: 30,
      height: 30,
      strip: index,
      sends: {
        value: {
          type: 'relative',
          channel: 1,
          number: 0x10 + index,
          encoding: 'signMagnitude',
        } as const,
        push: note(0x20 + index),
      },
      takes: {
        ring: { type: 'ring', channel: 1, number: 0x30 + index, style: 'fromCentre' } as const,
      },
    },
    {
      id: `display-${n}`,
      kind: 'display' as const,
      label: `Display ${n}`,
      x: left,
      y: 68,
      width: STRIP_WIDTH,
      height: 30,
      strip: index,
      takes: {
        upper: { type: 'text', header: displayHeader(unit), offset: index * 7, ...CELL } as const,
        lower: {
          type: 'text',
          header: displayHeader(unit),
          offset: 0x38 + index * 7,
          ...CELL,
        } as const,
        meter: { type: 'stripMeter', channel: 1, strip: index } as const,
      },
    },
    {
      id: `select-${n}`,
      label: `Select ${n}`,
      legend: 'Select',
      x: centred(32),
      y: 116,
      width: 32,
      height: 14,
      strip: index,
      ...lampKey(0x18 + index),
    },
    small(0, 'Mute', 'M', 'amber', 0x10),
    small(1, 'Solo', 'S', 'yellow', 0x08),
    small(2, 'Arm', 'R', 'red', 0x00),
    {
      id: `fader-${n}`,
      label: `Fader ${n}`,
      strip: index,
      ...deskFader(index, centred(FADER.width)),
    },
  ];
}

const TRANSPORT: readonly [string, string, string, number, (typeof LAMPS)[number]?][] = [
  ['rewind', 'Rewind', '◂◂', 0x5b],
  ['forward', 'Forward', '▸▸', 0x5c],
  ['stop', 'Stop', '■', 0x5d],
  ['play', 'Play', '▶', 0x5e, 'green'],
  ['record', 'Record', '●', 0x5f, 'red'],
  ['loop', 'Loop', 'Loop', 0x56],
  ['click', 'Click', 'Click', 0x59],
  ['marker', 'Marker', 'Marker', 0x54],
];

/** Two columns at the far right, row by row. */
const SIDE_KEYS: readonly [string, string, string, number][] = [
  ['bank-left', 'Bank left', '◂ bank', 0x2e],
  ['bank-right', 'Bank right', 'bank ▸', 0x2f],
  ['strip-left', 'Strip left', '◂ strip', 0x30],
  ['strip-right', 'Strip right', 'strip ▸', 0x31],
  ...[1, 2, 3, 4].map(
    (n) => [`layer-${n}`, `Layer ${n}`, `Layer ${n}`, 0x45 + n] as [string, string, string, number],
  ),
  ...[1, 2, 3, 4, 5, 6, 7, 8].map(
    (n) =>
      [`function-${n}`, `Function ${n}`, `F${n}`, 0x35 + n] as [string, string, string, number],
  ),
];

/** What all Mackie-style units can do: the number by which a lamp blinks by itself (common practice, no source). */
export const DESK = { blink: 1 } as const;

/** The jog wheel at the far left, and the time under it. */
export const JOG_AND_COUNTER: readonly Drawn[] = [
  {
    id: 'jog',
    kind: 'jog',
    label: 'Jog',
    x: 14,
    y: 24,
    width: 64,
    height: 64,
    sends: { value: { type: 'relative', channel: 1, number: 0x3c, encoding: 'signMagnitude' } },
  },
  {
    id: 'counter',
    kind: 'display',
    label: 'Counter',
    x: 6,
    y: 104,
    width: 80,
    height: 18,
    takes: { upper: { type: 'digits', channel: 1, number: 0x40, count: 10 } },
  },
];

/** The motor-fader desk of the demo: eight strips and a master, Mackie-style. */
export const HARROW_8: Surface = stock({
  id: 'harrow-8',
  name: 'Harrow 8',
  about: 'Motor-fader desk with eight strips, a master and a jog wheel. Mackie-style, USB.',
  width: 552,
  height: 350,
  device: {
    ...DESK,
    desk: 'main',
    notes: [
      'Choose the preset that speaks the Mackie-style protocol.',
      'Let each fader report touch.',
    ],
  },
  controls: [
    ...JOG_AND_COUNTER,
    { id: 'fader-master', label: 'Master fader', ...deskFader(STRIPS, 34) },
    ...Array.from({ length: STRIPS }, (_, index) => deskStrip(index, 'main', FIRST_STRIP_X)).flat(),
    ...TRANSPORT.map(([id, label, legend, number, lamp], index) => ({
      id,
      label,
      legend,
      ...(lamp ? { lamp } : {}),
      x: FIRST_STRIP_X + 2 + index * STRIP_WIDTH,
      y: 314,
      width: STRIP_WIDTH - 4,
      height: 22,
      ...lampKey(number),
    })),
    ...SIDE_KEYS.map(([id, label, legend, number], index) => ({
      id,
      label,
      legend,
      x: 474 + (index % 2) * 34,
      y: 24 + Math.floor(index / 2) * 34 + (index >= 4 ? 8 : 0) + (index >= 8 ? 8 : 0),
      width: 30,
      height: 22,
      ...lampKey(number),
    })),
  ],
});

/** The extender beside it: eight strips more, and nothing else. */
export const HARROW_8_SIDE: Surface = stock({
  id: 'harrow-8-side',
  name: 'Harrow 8 Side',
  about: 'Extender of the Harrow 8: eight strips more, on a port of its own. Mackie-style, USB.',
  width: STRIPS * STRIP_WIDTH + 20,
  height: 312,
  device: {
    ...DESK,
    desk: 'extender',
    notes: ['Set it to be an extender, not a main unit.', 'Let each fader report touch.'],
  },
  controls: Array.from({ length: STRIPS }, (_, index) => deskStrip(index, 'extender', 10)).flat(),
});
