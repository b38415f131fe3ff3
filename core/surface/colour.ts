import {
  differenceCiede2000,
  formatHex,
  interpolate,
  modeLab65,
  modeLrgb,
  modeRgb,
  parseHex,
  useMode,
  wcagContrast,
  type Rgb,
} from 'culori/fn';

useMode(modeRgb);
useMode(modeLrgb);
useMode(modeLab65);

const BLACK = '#000000';
const far = differenceCiede2000();
const read = (colour: string): Rgb => parseHex(colour) ?? { mode: 'rgb', r: 0, g: 0, b: 0 };

/** How different two colours look: CIEDE2000 (Sharma, Wu and Dalal, 2005), between colours written `#rrggbb`. */
export const colourDistance = (a: string, b: string): number => far(read(a), read(b));

/** A colour between two, 0…1 of the way, mixed as light is: in linear light. */
export function mixColours(from: string, to: string, way: number): string {
  const mixed = interpolate(
    [from, to].map((text) => parseHex(text) ?? BLACK),
    'lrgb',
  );
  return formatHex(mixed(Math.max(0, Math.min(1, way))));
}

/** A colour at a share of its brightness, 0…1. */
export const dimmed = (colour: string, brightness: number): string =>
  brightness >= 1 ? colour : mixColours(BLACK, colour, brightness);

/** What is written on a light: dark and light as the panel's own print is, and black where neither can be read. */
const INKS = ['#221a08', '#fffdf7', BLACK];
/** The least contrast of text that is not large (WCAG 2.2, success criterion 1.4.3). */
const LEGIBLE = 4.5;

/** The colour in which text can be read on another. */
export const inkOn = (colour: string): string =>
  INKS.find((ink) => wcagContrast(ink, colour) >= LEGIBLE) ?? BLACK;

/** A colour's three parts, 0…255. */
export function rgbOf(colour: string): readonly [number, number, number] {
  const at = (from: number) => parseInt(colour.slice(from, from + 2), 16);
  return [at(1), at(3), at(5)];
}
