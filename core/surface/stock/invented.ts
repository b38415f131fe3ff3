import type { Surface } from '../surface.js';
import { controller, keyboard, keyboardWidth, note, run, type Drawn } from './parts.js';
import { stock } from './stock.js';

/*
 * Invented surfaces of the demo. Panels and messages are our own. Controllers are chosen from the numbers that MIDI 1.0
 * leaves undefined or general purpose, as far as there are enough of them.
 */

/** 14 rotaries in two rows of seven, 5 short faders, 6 buttons; plain controllers, no return. */
export const BURROW_14: Surface = stock({
  id: 'burrow-14',
  name: 'Burrow 14',
  about: 'Knob box: 14 rotaries, 5 short faders, 6 buttons. Plain controllers, nothing comes back.',
  width: 300,
  height: 170,
  device: { takes: false, notes: ['Switch the box to its controller preset.'] },
  controls: [
    ...run(14, (i) => ({
      id: `knob-${i + 1}`,
      kind: 'knob',
      label: `Knob ${i + 1}`,
      x: 14 + (i % 7) * 28,
      y: 18 + Math.floor(i / 7) * 36,
      width: 20,
      height: 20,
      sends: { value: controller(14 + i) },
    })),
    ...run(5, (i) => ({
      id: `fader-${i + 1}`,
      kind: 'fader',
      label: `Fader ${i + 1}`,
      x: 212 + i * 17,
      y: 18,
      width: 13,
      height: 66,
      sends: { value: controller(102 + i) },
    })),
    ...run(6, (i) => ({
      id: `button-${i + 1}`,
      kind: 'button',
      label: `Button ${i + 1}`,
      x: 14 + i * 46,
      y: 116,
      width: 36,
      height: 22,
      sends: { push: controller(110 + i) },
    })),
  ],
});

const PAD = 26;
const EDGE = 18;

/** Our own 64 colours: the dark, then seven hues in nine steps from dim to pale. */
function cobblePalette(): { value: number; name: string; colour: string }[] {
  const hues: [string, number][] = [
    ['white', -1],
    ['red', 4],
    ['orange', 30],
    ['yellow', 52],
    ['green', 130],
    ['blue', 215],
    ['violet', 285],
  ];
  const steps = Array.from({ length: 9 }, (_, i) => i);
  return [
    { value: 0, name: 'dark', colour: '#000000' },
    ...hues.flatMap(([name, hue], h) =>
      steps.map((step) => ({
        value: 1 + h * 9 + step,
        name: `${name} ${step + 1}`,
        colour: hsl(hue, hue < 0 ? 0 : 0.92 - step * 0.04, 0.14 + step * 0.09),
      })),
    ),
  ];
}

/** CSS colour of hue (degrees), saturation and lightness (0…1), as six hex digits. */
function hsl(hue: number, saturation: number, lightness: number): string {
  const chroma = saturation * Math.min(lightness, 1 - lightness);
  const part = (n: number) => {
    const k = (n + hue / 30 + 12) % 12;
    const value = lightness - chroma * Math.max(-1, Math.min(k - 3, 9 - k, 1));
    return Math.round(value * 255)
      .toString(16)
      .padStart(2, '0');
  };
  return `#${part(0)}${part(8)}${part(4)}`;
}

const cobbleEdge = (index: number, number: number, x: number, y: number): Drawn => ({
  id: `edge-${index + 1}`,
  kind: 'button',
  label: `Edge ${index + 1}`,
  x,
  y,
  width: EDGE,
  height: EDGE,
  round: true,
  sends: { push: controller(number) },
  takes: { light: controller(number) },
});

/** 8×8 colour pads with 12 edge buttons, eight below and four at the left; 64-colour table. */
export const COBBLE_64: Surface = stock({
  id: 'cobble-64',
  name: 'Cobble 64',
  about: 'Pad grid: 8×8 colour pads and 12 edge buttons. 64 colours, USB.',
  width: 290,
  height: 290,
  device: { palette: cobblePalette() },
  controls: [
    ...run(64, (i) => ({
      id: `pad-${i + 1}`,
      kind: 'pad',
      label: `Pad ${i + 1}`,
      x: 42 + (i % 8) * 30,
      y: 14 + Math.floor(i / 8) * 30,
      width: PAD,
      height: PAD,
      sends: { push: note(32 + i), pressure: { type: 'polyPressure', channel: 1, number: 32 + i } },
      takes: { light: note(32 + i) },
    })),
    ...run(4, (i) => cobbleEdge(i, 20 + i, 12, 18 + i * 60)),
    ...run(8, (i) => cobbleEdge(4 + i, 24 + i, 46 + i * 30, 260)),
  ],
});

/** 12 pedals in two arcs of six, one expression pedal. */
export const TREADLE: Surface = stock({
  id: 'treadle',
  name: 'Treadle',
  about: 'Foot board: 12 pedals in two arcs of six and an expression pedal. DIN.',
  width: 620,
  height: 260,
  device: {
    wire: 'din',
    bytesPerSecond: 3_125,
    notes: ['Set all pedals to momentary.', 'Put the board on channel 1.'],
  },
  controls: [
    ...run(12, (i) => {
      const along = (i % 6) - 2.5;
      return {
        id: `pedal-${i + 1}`,
        kind: 'pedal',
        label: `Pedal ${i + 1}`,
        x: 224 + along * 82,
        y: (i < 6 ? 152 : 42) + along * along * 5,
        width: 56,
        height: 40,
        sends: { push: controller(80 + i) },
        takes: { light: controller(80 + i) },
      };
    }),
    {
      id: 'expression',
      kind: 'expression',
      label: 'Expression',
      x: 532,
      y: 60,
      width: 62,
      height: 150,
      sends: { value: controller(11) },
    },
  ],
});

const PLINTH_PAGES = [
  { id: 'stage', label: 'Stage' },
  { id: 'pads', label: 'Pads' },
];

/** A second and third set of controllers for the same knobs, faders and buttons. */
const onPages = (part: 'value' | 'push', number: number) => ({
  sends: { [part]: controller(number) },
  pages: Object.fromEntries(
    PLINTH_PAGES.map(({ id }, page) => [id, { sends: { [part]: controller(number, page + 2) } }]),
  ),
});

/** 32 keys, 6 pads, 5 knobs, 2 faders, pitch and modulation wheels, 4 transport buttons, three onboard pages. */
export const PLINTH_32: Surface = stock({
  id: 'plinth-32',
  name: 'Plinth 32',
  about: 'Keyboard with 32 keys, 6 pads, 5 knobs, 2 faders, two wheels and three onboard pages.',
  width: 90 + keyboardWidth(32),
  height: 190,
  firstPage: { id: 'studio', label: 'Studio', enter: 'C0 00' },
  pages: PLINTH_PAGES.map((page, index) => ({ ...page, enter: `C0 0${index + 1}` })),
  device: { takes: false, notes: ['Store each of the three pages after a change.'] },
  controls: [
    {
      id: 'pitch',
      kind: 'wheel',
      label: 'Pitch wheel',
      x: 14,
      y: 98,
      width: 18,
      height: 74,
      springs: 'centre',
      sends: { value: { type: 'pitchBend', channel: 1, bits: 14 } },
    },
    {
      id: 'modulation',
      kind: 'wheel',
      label: 'Modulation wheel',
      x: 42,
      y: 98,
      width: 18,
      height: 74,
      sends: { value: controller(1) },
    },
    ...run(5, (i) => ({
      id: `knob-${i + 1}`,
      kind: 'knob',
      label: `Knob ${i + 1}`,
      x: 78 + i * 28,
      y: 20,
      width: 20,
      height: 20,
      ...onPages('value', 14 + i),
    })),
    ...run(2, (i) => ({
      id: `fader-${i + 1}`,
      kind: 'fader',
      label: `Fader ${i + 1}`,
      x: 14 + i * 26,
      y: 14,
      width: 18,
      height: 66,
      ...onPages('value', 20 + i),
    })),
    ...run(6, (i) => ({
      id: `pad-${i + 1}`,
      kind: 'pad',
      label: `Pad ${i + 1}`,
      x: 216 + i * 20.5,
      y: 14,
      width: 18,
      height: 18,
      sends: {
        push: note(36 + i, 10),
        pressure: { type: 'polyPressure', channel: 10, number: 36 + i },
      },
    })),
    ...(['Back', 'Stop', 'Play', 'Record'] as const).map((label, i) => ({
      id: `transport-${i + 1}`,
      kind: 'button' as const,
      label,
      legend: ['◂◂', '■', '▶', '●'][i],
      x: 216 + i * 31,
      y: 46,
      width: 26,
      height: 14,
      ...onPages('push', 102 + i),
    })),
    ...keyboard(32, 48, 76, 98),
  ],
});

const HALVES = ['Left', 'Right'] as const;

/** Two-channel club mixer, sends only; three-position switch, centre-detent knobs, self-latching buttons. */
export const CROSSTIE_2: Surface = stock({
  id: 'crosstie-2',
  name: 'Crosstie 2',
  about: 'Two-channel club mixer that also sends messages. It takes none: no lights can be driven.',
  width: 240,
  height: 330,
  device: {
    takes: false,
    notes: ['Hold both cue buttons while switching it on: it then sends messages.'],
  },
  controls: [
    ...HALVES.flatMap((half, side): Drawn[] => {
      const left = 22 + side * 122;
      const channel = side + 1;
      const id = half.toLowerCase();
      const knob = (name: string, row: number, number: number, more: Partial<Drawn>): Drawn => ({
        id: `${id}-${name.toLowerCase()}`,
        kind: 'knob',
        label: `${half} ${name.toLowerCase()}`,
        x: left,
        y: 18 + row * 32,
        width: 22,
        height: 22,
        sends: { value: controller(number, channel) },
        ...more,
      });
      const own = 'the mixer’s own equaliser is switched off';
      return [
        knob('Trim', 0, 14, { inside: 'the deck plays from the computer' }),
        knob('High', 1, 15, { detent: true, inside: own }),
        knob('Mid', 2, 16, { detent: true, inside: own }),
        knob('Low', 3, 17, { detent: true, inside: own }),
        knob('Filter', 0, 18, { x: left + 44, detent: true }),
        {
          id: `${id}-cue`,
          kind: 'button',
          label: `${half} cue`,
          legend: 'Cue',
          x: left + 42,
          y: 62,
          width: 26,
          height: 14,
          latching: true,
          sends: { push: note(20, channel) },
        },
        {
          id: `${id}-send`,
          kind: 'button',
          label: `${half} send`,
          legend: 'Send',
          x: left + 42,
          y: 94,
          width: 26,
          height: 14,
          latching: true,
          sends: { push: note(21, channel) },
        },
        {
          id: `${id}-fader`,
          kind: 'fader',
          label: `${half} fader`,
          x: left + 1,
          y: 152,
          width: 20,
          height: 100,
          sends: { value: { type: 'controllerPair', channel, number: 19, lsb: 51 } },
        },
      ];
    }),
    {
      id: 'curve',
      kind: 'switch',
      label: 'Curve switch',
      x: 108,
      y: 226,
      width: 24,
      height: 26,
      positions: [0, 64, 127],
      sends: { value: controller(22) },
    },
    {
      id: 'crossfader',
      kind: 'fader',
      label: 'Crossfader',
      x: 64,
      y: 280,
      width: 112,
      height: 22,
      sends: { value: { type: 'controllerPair', channel: 1, number: 23, lsb: 55 } },
    },
    {
      id: 'booth',
      kind: 'knob',
      label: 'Booth level',
      x: 109,
      y: 168,
      width: 22,
      height: 22,
      silent: true,
      inside: 'never: it works on the mixer’s own output only',
    },
  ],
});

/** A touch screen: what it sends and takes goes by OSC. */
export const PANE: Surface = stock({
  id: 'pane',
  name: 'Pane',
  about: 'Touch screen with 6 faders, 12 keys and a touch strip, over OSC.',
  width: 260,
  height: 180,
  device: { wire: 'network', bytesPerSecond: 1_000_000 },
  controls: [
    ...run(6, (i) => {
      const osc = {
        type: 'osc',
        address: `/pane/fader/${i + 1}`,
        argument: 1,
        as: 'float',
      } as const;
      return {
        id: `fader-${i + 1}`,
        kind: 'fader',
        label: `Fader ${i + 1}`,
        x: 12 + i * 26,
        y: 14,
        width: 20,
        height: 110,
        sends: { value: osc },
        takes: { motor: osc },
      };
    }),
    ...run(12, (i) => {
      const osc = {
        type: 'osc',
        address: `/pane/key/${i + 1}`,
        argument: 1,
        as: 'integer',
      } as const;
      return {
        id: `key-${i + 1}`,
        kind: 'button',
        label: `Key ${i + 1}`,
        x: 174 + (i % 3) * 26,
        y: 14 + Math.floor(i / 3) * 29,
        width: 22,
        height: 23,
        sends: { push: osc },
        takes: { light: osc },
      };
    }),
    {
      id: 'strip',
      kind: 'touchStrip',
      label: 'Touch strip',
      x: 12,
      y: 140,
      width: 236,
      height: 22,
      sends: { value: { type: 'osc', address: '/pane/strip', argument: 1, as: 'float' } },
    },
  ],
});
