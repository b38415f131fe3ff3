import fc from 'fast-check';
import { STOCK_SURFACES, type Control } from '@rondo/core/surface';
import { LINE, fitShort, nearest } from './geometry';

const SIZE = 4;
const room = (width: number) => Math.floor(width / (SIZE * 0.54));
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

describe('the control next to another', () => {
  const at = (id: string, x: number, y: number) =>
    ({ id, x, y, width: 10, height: 10 }) as unknown as Control;
  const grid = Array.from({ length: 12 }, (_, i) =>
    at(`${i}`, (i % 4) * 20, Math.floor(i / 4) * 20),
  );

  test('goes along a row and along a column, and ends at the edge', () => {
    const to = (from: number, way: [number, number]) =>
      nearest(
        grid[from],
        grid.filter((c) => c !== grid[from]),
        way,
      )?.id;
    for (let i = 0; i < 12; i++) {
      expect(to(i, [1, 0])).toBe(i % 4 === 3 ? undefined : `${i + 1}`);
      expect(to(i, [-1, 0])).toBe(i % 4 === 0 ? undefined : `${i - 1}`);
      expect(to(i, [0, 1])).toBe(i < 8 ? `${i + 4}` : undefined);
      expect(to(i, [0, -1])).toBe(i < 4 ? undefined : `${i - 4}`);
    }
  });

  test('every control of every stock surface is reached by arrows from any other', () => {
    for (const { name, controls } of STOCK_SURFACES.values()) {
      const playable = controls.filter((c) => !c.silent && c.kind !== 'display');
      const ways = [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as const;
      const seen = new Set([playable[0]]);
      for (const from of seen)
        for (const way of ways) {
          const next = nearest(
            from,
            playable.filter((c) => c !== from),
            way,
          );
          if (next) seen.add(next);
        }
      const lost = playable.filter((c) => !seen.has(c)).map(({ id }) => id);
      expect([name, ...lost]).toEqual([name]);
    }
  });
});
