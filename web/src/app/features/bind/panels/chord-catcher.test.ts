import fc from 'fast-check';
import { ChordCatcher } from './chord-catcher';

const on = (note: number, velocity = 90) => [0x91, note, velocity];
const off = (note: number) => [0x81, note, 64];
const note = fc.integer({ min: 0, max: 127 });

test('whatever was played before, a chord that is held whole is what is taken, lowest first', () => {
  const chord = fc.uniqueArray(note, { minLength: 1, maxLength: 16 });
  fc.assert(
    fc.property(fc.array(chord, { maxLength: 4 }), chord, (before, last) => {
      const catcher = new ChordCatcher();
      for (const one of before) {
        for (const key of one) catcher.take(on(key));
        for (const key of one) catcher.take(off(key));
      }
      for (const key of last) catcher.take(on(key));
      expect(catcher.notes).toEqual([...last].sort((a, b) => a - b));
      for (const key of last) catcher.take(on(key, 0));
      expect(catcher.notes).toHaveLength(last.length);
    }),
  );
});

test('nothing but notes counts, and never more than sixteen', () => {
  const catcher = new ChordCatcher();
  for (const bytes of [[0xb0, 60, 127], [0xf8], [0xc0, 3]]) expect(catcher.take(bytes)).toBe(false);
  for (let key = 0; key < 40; key++) catcher.join(key);
  expect(catcher.notes).toHaveLength(16);
});
