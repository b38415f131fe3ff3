import Papa from 'papaparse';
import { colourDistance, dimmed, rgbOf } from './colour.js';
import { topOf, type Pattern } from './pattern.js';
import type { Control, Device, PaletteColour, Surface } from './surface.js';

/** How a light takes what it is to show. */
export type LightTarget = {
  /** The number by which it is off: 0, or its dimmest where it never goes dark. */
  readonly off: number;
} & (
  | {
      readonly kind: 'onOff';
      readonly on: number;
      /** The number by which the device makes it blink; 0 where it does not know how. */
      readonly blink: number;
    }
  | { readonly kind: 'brightness'; readonly top: number }
  | { readonly kind: 'palette'; readonly palette: readonly PaletteColour[] }
  | { readonly kind: 'rgb' }
);

/** Seven bits of each part of a full-colour light that is off and never dark. */
const DIM_PART = 4;
const DIM_RGB = (DIM_PART << 14) | (DIM_PART << 7) | DIM_PART;
/** The number of a light that is off and never dark, where a number is its brightness. */
const DIMMEST = 1;

const BLACK = '#000000';
const ALMOST_BLACK = '#010101';
const WHITE = '#ffffff';
/** A lamp that can only be on or off is on from this brightness. */
const LIT_FROM = 0.5;

const targets = new WeakMap<Device, Map<string, LightTarget>>();

/** How a control's light takes what it is to show; the same object for lights that take it the same way. */
export function lightTarget({ device }: Surface, control: Control, pattern: Pattern): LightTarget {
  const top = topOf(pattern);
  const kind = control.light ?? device.light ?? (device.palette.length > 0 ? 'palette' : 'onOff');
  const key = pattern.type === 'colour' ? 'rgb' : `${kind} ${top}`;
  let known = targets.get(device);
  if (!known) targets.set(device, (known = new Map<string, LightTarget>()));
  let target = known.get(key);
  if (target) return target;
  const never = device.neverDark === true;
  const off = never ? DIMMEST : 0;
  if (pattern.type === 'colour') target = { kind: 'rgb', off: never ? DIM_RGB : 0 };
  else if (kind === 'brightness') target = { kind, top, off };
  else if (kind === 'palette') {
    const palette = device.palette.filter(({ value }) => value <= top);
    const black = palette.find((entry) => entry.colour === BLACK)?.value ?? 0;
    const dim = nearestColour(palette, ALMOST_BLACK)?.value ?? DIMMEST;
    // What is on is told apart from it: its dimmest is kept for off.
    const others = palette.filter(({ value }) => value !== dim);
    target =
      never && others.length > 0
        ? { kind, palette: others, off: dim }
        : { kind, palette, off: never ? dim : black };
  } else target = { kind: 'onOff', on: Math.min(top, 127), blink: device.blink ?? 0, off };
  known.set(key, target);
  return target;
}

/**
 * The entry of a colour table that looks most like a colour (CIEDE2000); the lowest number among equals. What is to
 * shine never gets black, where the table has anything else. Null where the table is empty.
 */
export function nearestColour(
  palette: readonly PaletteColour[],
  colour: string,
): PaletteColour | null {
  const usable =
    colour === BLACK ? palette : palette.filter((entry) => entry.colour.toLowerCase() !== BLACK);
  let best: PaletteColour | null = null;
  let least = Infinity;
  for (const entry of usable.length > 0 ? usable : palette) {
    const far = colourDistance(entry.colour, colour);
    if (far > least || (far === least && best && entry.value > best.value)) continue;
    least = far;
    best = entry;
  }
  return best;
}

const found = new WeakMap<readonly PaletteColour[], Map<string, number>>();

/** What goes over the wire for a colour, `#rrggbb`, at a brightness of 0…1; 0 is dark. */
export function lightWire(target: LightTarget, colour: string, brightness: number): number {
  const { off } = target;
  if (brightness <= 0 || colour === BLACK) return off;
  switch (target.kind) {
    case 'onOff':
      return brightness >= LIT_FROM ? target.on : off;
    case 'brightness':
      return Math.max(off + 1, Math.round(Math.min(1, brightness) * target.top));
    case 'rgb': {
      const [red, green, blue] = rgbOf(dimmed(colour, brightness)).map((part) => part >> 1);
      const wire = (red << 14) | (green << 7) | blue;
      // Brighter by one step where it would be the same as off.
      return wire === off && off > 0 ? wire + 1 : wire;
    }
    case 'palette': {
      const { palette } = target;
      let known = found.get(palette);
      if (!known) found.set(palette, (known = new Map<string, number>()));
      const wanted = dimmed(colour, brightness);
      let wire = known.get(wanted);
      if (wire === undefined) {
        wire = nearestColour(palette, wanted)?.value ?? 127;
        known.set(wanted, wire);
      }
      return wire;
    }
  }
}

/** The colour that a light shows for what was sent, as near as it is known; null for dark. */
export function shownColour(target: LightTarget, wire: number, lamp?: string): string | null {
  if (wire <= 0 || wire === target.off) return null;
  switch (target.kind) {
    case 'onOff':
      return lamp ?? WHITE;
    case 'brightness':
      return dimmed(lamp ?? WHITE, 0.25 + (0.75 * wire) / target.top);
    case 'rgb':
      return `#${[wire >> 14, (wire >> 7) & 0x7f, wire & 0x7f]
        .map((part) =>
          Math.round((part / 127) * 255)
            .toString(16)
            .padStart(2, '0'),
        )
        .join('')}`;
    case 'palette': {
      const entry = target.palette.find(({ value }) => value === wire);
      return entry ? (entry.colour === BLACK ? null : entry.colour) : WHITE;
    }
  }
}

/** What a table read from CSV has to say. */
export interface PaletteRead {
  readonly palette: readonly PaletteColour[];
  /** Lines that were left out, and why. */
  readonly faults: readonly { readonly line: number; readonly why: string }[];
}

const HEX_COLOUR = /^#?([0-9a-f]{6})$/i;
const MOST_COLOURS = 20_000;

/**
 * Reads a colour table from CSV (RFC 4180): number, colour and, where there is one, a name. The colour is `#rrggbb`, or
 * three columns of 0–255. A first line that is no entry is taken as a heading; lines that cannot be read are told.
 */
export function readPalette(csv: string): PaletteRead {
  const { data } = Papa.parse<string[]>(csv.trim(), { skipEmptyLines: 'greedy' });
  const palette = new Map<number, PaletteColour>();
  const faults: { line: number; why: string }[] = [];
  data.forEach((row, at) => {
    const [number, ...rest] = row.map((cell) => cell.trim());
    const value = Number(number);
    const say = (why: string) => {
      if (at > 0) faults.push({ line: at + 1, why });
    };
    if (number === '' || !Number.isInteger(value) || value < 0 || value > 16_383) {
      say(`“${number}” is no number from 0 to 16383.`);
      return;
    }
    const hex = HEX_COLOUR.exec(rest[0] ?? '')?.[1];
    const parts = rest.slice(0, 3).map(Number);
    const isParts =
      rest.length >= 3 && parts.every((part) => Number.isInteger(part) && part >= 0 && part <= 255);
    if (hex === undefined && !isParts) {
      say(`“${rest[0] ?? ''}” is no colour. Write #rrggbb, or red, green and blue from 0 to 255.`);
      return;
    }
    if (palette.size >= MOST_COLOURS) {
      say(`A table has at most ${MOST_COLOURS} colours.`);
      return;
    }
    const name = rest[hex !== undefined ? 1 : 3];
    const colour =
      hex !== undefined
        ? `#${hex.toLowerCase()}`
        : `#${parts.map((part) => part.toString(16).padStart(2, '0')).join('')}`;
    palette.set(value, { value, colour, ...(name ? { name: name.slice(0, 40) } : {}) });
  });
  return { palette: [...palette.values()].sort((a, b) => a.value - b.value), faults };
}
