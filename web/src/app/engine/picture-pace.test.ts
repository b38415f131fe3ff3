import fc from 'fast-check';
import { PicturePace } from './picture-pace';

/** Times at which pictures are painted that take so long each, by frames of the browser; ms. */
function painted(costs: readonly number[], frame: number): { at: number; cost: number }[] {
  const pace = new PicturePace();
  const all: { at: number; cost: number }[] = [];
  let now = 0;
  for (const cost of costs) {
    while (!pace.isDue(now)) now += frame;
    all.push({ at: now, cost });
    pace.took(now, now + cost);
    // The browser's next frame comes once the thread is free.
    now = Math.max(now + frame, Math.ceil((now + cost) / frame) * frame);
  }
  return all;
}
const FRAME = 1_000 / 60;

test('pictures take half of the thread at most, and every frame is painted where they are light', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.1, max: 400, noNaN: true }), { minLength: 2 }),
      (costs) => {
        const all = painted(costs, FRAME);
        for (const [n, { at, cost }] of all.slice(0, -1).entries()) {
          const gap = all[n + 1].at - at;
          if (cost <= 50) expect(gap).toBeGreaterThanOrEqual(cost / 0.5 - 1e-6);
          // Nor does it wait longer than that asks for, or a tenth of a second beside the work itself.
          expect(gap).toBeLessThanOrEqual(Math.max(cost, Math.min(100, cost / 0.5)) + 2 * FRAME);
        }
      },
    ),
  );
  const light = painted(Array<number>(60).fill(3), FRAME);
  expect(light.at(-1)!.at).toBeCloseTo(59 * FRAME, 3);
});
