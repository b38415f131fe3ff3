import fc from 'fast-check';
import { LONGEST_ADDRESS } from './osc.js';
import { addressFault } from './osc-template.js';
import {
  KEY_WAYS,
  chordOf,
  readStroke,
  strokeAddress,
  strokeOf,
  strokeText,
  type Stroke,
} from './keys.js';

/** Some of the names in W3C UI Events KeyboardEvent code Values, from each of its sections. */
const NAMES = ['KeyA', 'KeyZ', 'Digit0', 'F12', 'Comma', 'Space', 'Enter', 'ArrowUp', 'NumpadAdd'];
const MODIFIERS = ['ControlLeft', 'AltLeft', 'ShiftLeft', 'MetaLeft'];
const chord = fc
  .tuple(fc.subarray(MODIFIERS), fc.constantFrom(...NAMES))
  .map(([down, code]) => [...down, code]);
const stroke: fc.Arbitrary<Stroke> = fc.oneof(
  fc.record({
    way: fc.constant('press' as const),
    chords: fc.array(chord, { minLength: 1, maxLength: 8 }),
  }),
  fc.record({
    way: fc.constantFrom('hold' as const, 'repeat' as const),
    chords: fc.tuple(chord),
  }),
);

test('a stroke is the same after it was written, and after it was an address, which OSC 1.0 allows', () => {
  fc.assert(
    fc.property(stroke, (one) => {
      const address = strokeAddress(one);
      const isLong = address.length > LONGEST_ADDRESS;
      const read = readStroke(strokeText(one));
      expect(read).toEqual(isLong ? { fault: expect.stringContaining('too many') } : one);
      if (isLong) return;
      expect(addressFault(address)).toBe('');
      expect(strokeOf(address)).toEqual(one);
    }),
  );
});

test('strokes are read as people write them', () => {
  const chords = (text: string) => (readStroke(text) as Stroke).chords.map((one) => one.join('+'));
  expect(chords('ctrl+S')).toEqual(['ControlLeft+KeyS']);
  expect(chords('Cmd+shift+KeyZ')).toEqual(['ShiftLeft+MetaLeft+KeyZ']);
  expect(chords('Control+K, 5')).toEqual(['ControlLeft+KeyK', 'Digit5']);
  expect(readStroke('hold space')).toEqual({ way: 'hold', chords: [['Space']] });
  expect(strokeText({ way: 'press', chords: [['ControlLeft', 'KeyS']] })).toBe('Control+S');
  expect(readStroke('ctrl+Anything')).toEqual({ fault: expect.stringContaining('“Anything”') });
  expect(readStroke('hold A, B')).toEqual({ fault: expect.stringContaining('Only one') });
  expect(readStroke('')).toEqual({ fault: expect.stringContaining('is no key') });
});

test('a key that goes down makes a chord with the modifiers that are down; a modifier alone makes none', () => {
  const none = { ctrlKey: false, altKey: false, shiftKey: false, metaKey: false };
  expect(chordOf({ ...none, code: 'KeyS', ctrlKey: true })).toEqual(['ControlLeft', 'KeyS']);
  expect(chordOf({ ...none, code: 'ControlLeft', ctrlKey: true })).toBeNull();
  expect(chordOf({ ...none, code: 'Unidentified' })).toBeNull();
});

test('an address that is none is never taken for a stroke, and none is thrown at', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      const read = strokeOf(text);
      if (read) expect(KEY_WAYS).toContain(read.way);
    }),
  );
  for (const address of ['/keys', '/keys/press', '/keys/press/', '/keys/jump/KeyA', '/other/KeyA'])
    expect(strokeOf(address)).toBeNull();
});
