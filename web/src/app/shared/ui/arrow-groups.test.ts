import '@angular/compiler';
import fc from 'fast-check';
import { nextOf } from './arrow-groups';

test('arrows go through all of a group and come round; there and back is where one was', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 30 }), fc.nat(29), (count, from) => {
      fc.pre(from < count);
      let at = from;
      const seen = new Set<number>();
      for (let n = 0; n < count; n++) seen.add((at = nextOf('ArrowRight', at, count)));
      expect([seen.size, at]).toEqual([count, from]);
      expect(nextOf('ArrowUp', nextOf('ArrowDown', from, count), count)).toBe(from);
      expect([nextOf('Home', from, count), nextOf('End', from, count)]).toEqual([0, count - 1]);
      expect(nextOf('a', from, count)).toBe(-1);
    }),
  );
});
