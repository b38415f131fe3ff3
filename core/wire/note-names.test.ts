import fc from 'fast-check';
import { describePacked } from './text.js';
import { MIDDLE_C, noteName, noteOf, writeMiddleC } from './note-names.js';

afterEach(() => writeMiddleC(4));

test('note 60 is C4 where nobody chose, and A4 is note 69 (ISO 16)', () => {
  expect([noteName(60), noteName(69)]).toEqual(['C4', 'A4']);
  expect([noteName(0), noteName(127)]).toEqual(['C-1', 'G9']);
});

test('it is C3 or C5 where the user chose so, in every label that names a note', () => {
  for (const octave of MIDDLE_C) {
    writeMiddleC(octave);
    expect(noteName(60)).toBe(`C${octave}`);
    expect(describePacked(0x90 | (60 << 8) | (100 << 16))).toContain(`(C${octave})`);
  }
});

test('a name is read as it is written, with any octave of middle C; numbers are themselves', () => {
  fc.assert(
    fc.property(fc.constantFrom(...MIDDLE_C), fc.nat(127), (octave, note) => {
      writeMiddleC(octave);
      expect(noteOf(noteName(note))).toBe(note);
      expect(noteOf(String(note))).toBe(note);
    }),
  );
  writeMiddleC(4);
  expect(['c#4', 'Db4', 'e♭4', ' 60 '].map(noteOf)).toEqual([61, 61, 63, 60]);
  expect(['', 'H4', 'C', '128', 'G#9', 'C-2'].map(noteOf)).toEqual(new Array(6).fill(null));
});
