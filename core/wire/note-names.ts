/** Octaves that makers write note 60 in. */
export const MIDDLE_C = [3, 4, 5] as const;
export type MiddleC = (typeof MIDDLE_C)[number];

const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const LETTERS: Readonly<Record<string, number>> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };
const SHARP = /[#♯]/;

/** How people read numbers here, as a language is: it changes nothing but names. ISO 16: A4 = 440 Hz = note 69. */
let octaveOf60: MiddleC = 4;

/** From now on note 60 is written with this octave everywhere. */
export function writeMiddleC(octave: MiddleC): void {
  octaveOf60 = octave;
}

/** A note number, 0–127, as a name: 60 is C3, C4 or C5, as the user chose. */
export const noteName = (note: number): string =>
  `${NAMES[note % 12]}${Math.floor(note / 12) - 5 + octaveOf60}`;

/** A note by its number, or by a name as {@link noteName} writes it; null where it is neither, or none of 0–127. */
export function noteOf(text: string): number | null {
  const said = text.trim();
  const found = /^([a-g])([#♯b♭]?)(-?\d{1,2})$/i.exec(said);
  let note = NaN;
  if (/^\d{1,3}$/.test(said)) note = Number(said);
  else if (found) {
    const [, letter, sign, octave] = found;
    const alteration = sign === '' ? 0 : SHARP.test(sign) ? 1 : -1;
    note = LETTERS[letter.toLowerCase()] + alteration + (Number(octave) + 5 - octaveOf60) * 12;
  }
  return note >= 0 && note <= 127 ? note : null;
}
