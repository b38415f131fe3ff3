import Papa from 'papaparse';
import { colourDistance, dimmed, rgbOf } from './colour.js';
import { topOf, type Pattern } from './pattern.js';
import type { Control, Device, PaletteColour, Surface } from './surface.js';

/** How a light takes what it is to show. */
export type LightTarget =
  | {
      readonly kind: 'onOff';
      readonly on: number;
      /** The number by which the device makes it blink; 0 where it does not know how. */
      readonly blink: number;
    }
  | { readonly kind: 'brightness'; readonly top: number }
  | { readonly kind: 'palette'; readonly palette: readonly PaletteColour[] }
  | { readonly kind: 'rgb' };

const BLACK = '#000000';
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
  if (pattern.type === 'colour') target = { kind: 'rgb' };
  else if (kind === 'brightness') target = { kind, top };
  else if (kind === 'palette')
    target = { kind, palette: device.palette.filter(({ value }) => value <= top) };
  else target = { kind: 'onOff', on: Math.min(top, 127), blink: device.blink ?? 0 };
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
  const dark = brightness <= 0 || colour === BLACK;
  switch (target.kind) {
    case 'onOff':
      return !dark && brightness >= LIT_FROM ? target.on : 0;
    case 'brightness':
      return dark ? 0 : Math.max(1, Math.round(Math.min(1, brightness) * target.top));
    case 'rgb': {
      if (dark) return 0;
      const [red, green, blue] = rgbOf(dimmed(colour, brightness)).map((part) => part >> 1);
      return (red << 14) | (green << 7) | blue;
    }
    case 'palette': {
      const { palette } = target;
      let known = found.get(palette);
      if (!known) found.set(palette, (known = new Map<string, number>()));
      const wanted = dark ? BLACK : dimmed(colour, brightness);
      let wire = known.get(wanted);
      if (wire === undefined) {
        const nearest = dark
          ? palette.find((entry) => entry.colour === BLACK)
          : nearestColour(palette, wanted);
        wire = nearest?.value ?? (dark ? 0 : 127);
        known.set(wanted, wire);
      }
      return wire;
    }
  }
}

/** The colour that a light shows for what was sent, as near as it is known; null for dark. */
export function shownColour(target: LightTarget, wire: number, lamp?: string): string | null {
  if (wire <= 0) return null;
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
