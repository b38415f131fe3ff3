import fc from 'fast-check';
import { LINE, fitShort } from './geometry';

const SIZE = 4;
const room = (width: number) => Math.max(2, Math.floor(width / (SIZE * 0.54)));
const word = fc.stringMatching(/^[A-Za-z]{1,9}$/);

test('what a key does stands on at most two lines, each no longer than there is room for', () => {
  fc.assert(
    fc.property(
      fc.array(word, { minLength: 1, maxLength: 5 }),
      fc.integer({ min: 5, max: 60 }),
      fc.integer({ min: 4, max: 20 }),
      (words, width, height) => {
        const text = words.join(' ');
        const lines = fitShort(text, width, height, SIZE).split('\n');
        expect(lines.length).toBeLessThanOrEqual(height < 2 * LINE * SIZE ? 1 : 2);
        for (const line of lines) expect(line.length).toBeLessThanOrEqual(room(width));
        if (text.length <= room(width)) expect(lines).toEqual([text]);
      },
    ),
  );
});

test('what differs in its number alone is still told apart', () => {
  const keys = [1, 2, 3, 4, 5, 6, 7, 8];
  for (const [width, height] of [
    [17, 17],
    [17, 5],
    [8, 8],
  ])
    for (const name of ['Hot cue', 'Function', 'Sampler', 'Modifier'])
      expect(new Set(keys.map((n) => fitShort(`${name} ${n}`, width, height, SIZE))).size).toBe(8);
});
