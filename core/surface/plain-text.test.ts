import fc from 'fast-check';
import { keyCaption } from './plain-text';

const word = fc.constantFrom(
  'Hold',
  'all',
  'the',
  'tracks',
  'Semitones',
  'Function',
  'Halve',
  'loop',
  'Record',
);
const phrase = fc.array(word, { minLength: 1, maxLength: 4 }).map((words) => words.join(' '));

test('a caption is never wider than its key, and the whole where there is room', () => {
  fc.assert(
    fc.property(phrase, fc.integer({ min: 0, max: 30 }), (text, width) => {
      const caption = keyCaption(text, width);
      expect(caption.length).toBeLessThanOrEqual(width);
      if (text.length <= width) expect(caption).toBe(text);
    }),
  );
});

test('of things that differ by their number no two keys read the same', () => {
  fc.assert(
    fc.property(phrase, fc.boolean(), fc.integer({ min: 3, max: 20 }), (text, leads, width) => {
      const numbers = Array.from({ length: 25 }, (_, n) => n - 12);
      const signed = (n: number) => (n < 0 ? `−${-n}` : `+${n}`);
      const captions = numbers.map((n) =>
        keyCaption(leads ? `${signed(n)} ${text}` : `${text} ${n + 13}`, width),
      );
      expect(new Set(captions).size).toBe(captions.length);
    }),
  );
});

test.each([
  ['+1 semitones', 4, '+1st'],
  ['+10 semitones', 5, '+10st'],
  ['−11 semitones', 3, '−11'],
  ['◂ strip', 5, '◂str.'],
  ['strip ▸', 5, 'Str.▸'],
  ['Select', 5, 'Sel'],
  ['Function 7', 4, 'Fn 7'],
  ['Function', 5, 'Fn'],
  ['Harbour', 5, 'Harb.'],
  ['Halve the loop', 6, 'HalLoo'],
  ['Previous marker', 8, 'Prev mkr'],
])('%s in %d letters: %s', (text, width, caption) => {
  expect(keyCaption(text, width)).toBe(caption);
});
