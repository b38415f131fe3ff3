import { surfaceSchema, type Surface } from '../surface.js';

/*
 * Harrow 8, an invented desk. Panel: our own arrangement. Messages: the Mackie-style control protocol,
 * common practice, no published source. All on channel 1 but the faders, which have a channel each.
 */

const STRIPS = 8;
const FIRST_STRIP_X = 92;
const STRIP_WIDTH = 46;
const UNIT = 0x14;
const DISPLAY_HEADER = [0x00, 0x00, 0x66, UNIT, 0x12];
const CELL = { width: 7, gap: 1 };
const FADER = { width: 24, height: 128 };
const FADER_TOP = 170;

const note = (number: number) => ({ type: 'note', channel: 1, number }) as const;
const lampKey = (number: number) => ({
  kind: 'button' as const,
  sends: { push: note(number) },
  takes: { light: note(number) },
});

function fader(index: number, x: number) {
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

function strip(index: number) {
  const left = FIRST_STRIP_X + index * STRIP_WIDTH;
  const n = index + 1;
  const centred = (width: number) => left + (STRIP_WIDTH - width) / 2;
  const small = (place: number) => ({
    x: left + 3.5 + place * 13.5,
    y: 146,
    width: 12,
    height: 12,
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
        upper: { type: 'text', header: DISPLAY_HEADER, offset: index * 7, ...CELL } as const,
        lower: { type: 'text', header: DISPLAY_HEADER, offset: 0x38 + index * 7, ...CELL } as const,
        meter: { type: 'stripMeter', channel: 1, strip: index } as const,
      },
    },
    {
      id: `select-${n}`,
      label: `Select ${n}`,
      x: centred(32),
      y: 116,
      width: 32,
      height: 14,
      strip: index,
      ...lampKey(0x18 + index),
    },
    { id: `mute-${n}`, label: `Mute ${n}`, strip: index, ...small(0), ...lampKey(0x10 + index) },
    { id: `solo-${n}`, label: `Solo ${n}`, strip: index, ...small(1), ...lampKey(0x08 + index) },
    { id: `arm-${n}`, label: `Arm ${n}`, strip: index, ...small(2), ...lampKey(index) },
    { id: `fader-${n}`, label: `Fader ${n}`, strip: index, ...fader(index, centred(FADER.width)) },
  ];
}

const TRANSPORT: readonly [string, string, number][] = [
  ['rewind', 'Rewind', 0x5b],
  ['forward', 'Forward', 0x5c],
  ['stop', 'Stop', 0x5d],
  ['play', 'Play', 0x5e],
  ['record', 'Record', 0x5f],
  ['loop', 'Loop', 0x56],
  ['click', 'Click', 0x59],
  ['marker', 'Marker', 0x54],
];

/** Two columns at the far right, row by row. */
const SIDE_KEYS: readonly [string, string, number][] = [
  ['bank-left', 'Bank left', 0x2e],
  ['bank-right', 'Bank right', 0x2f],
  ['strip-left', 'Strip left', 0x30],
  ['strip-right', 'Strip right', 0x31],
  ['layer-1', 'Layer 1', 0x46],
  ['layer-2', 'Layer 2', 0x47],
  ['layer-3', 'Layer 3', 0x48],
  ['layer-4', 'Layer 4', 0x49],
  ['function-1', 'Function 1', 0x36],
  ['function-2', 'Function 2', 0x37],
  ['function-3', 'Function 3', 0x38],
  ['function-4', 'Function 4', 0x39],
  ['function-5', 'Function 5', 0x3a],
  ['function-6', 'Function 6', 0x3b],
  ['function-7', 'Function 7', 0x3c],
  ['function-8', 'Function 8', 0x3d],
];

/** The motor-fader desk of the demo: eight strips and a master, Mackie-style. */
export const HARROW_8: Surface = surfaceSchema.parse({
  id: 'harrow-8',
  name: 'Harrow 8',
  about: 'Motor-fader desk with eight strips, a master and a jog wheel. Mackie-style, USB.',
  width: 552,
  height: 350,
  bytesPerSecond: 60_000,
  controls: [
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
    { id: 'fader-master', label: 'Master fader', ...fader(STRIPS, 34) },
    ...Array.from({ length: STRIPS }, (_, index) => strip(index)).flat(),
    ...TRANSPORT.map(([id, label, number], index) => ({
      id,
      label,
      x: FIRST_STRIP_X + 2 + index * STRIP_WIDTH,
      y: 314,
      width: STRIP_WIDTH - 4,
      height: 22,
      ...lampKey(number),
    })),
    ...SIDE_KEYS.map(([id, label, number], index) => ({
      id,
      label,
      x: 474 + (index % 2) * 34,
      y: 24 + Math.floor(index / 2) * 34 + (index >= 4 ? 8 : 0) + (index >= 8 ? 8 : 0),
      width: 30,
      height: 22,
      ...lampKey(number),
    })),
  ],
});
