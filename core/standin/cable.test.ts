import fc from 'fast-check';
import { Cable } from './cable.js';

/** A hand on a cable: bytes are written anew into one of two buffers, and a stretch of it goes in. */
const step = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.record({
      does: fc.constant('push' as const),
      buffer: fc.nat(1),
      byte: fc.nat(255),
      // The same stretch of the same buffer again and again, as those who write here do, and others.
      from: fc.constantFrom(0, 0, 0, 3),
      length: fc.constantFrom(0, 1, 3, 23, 24, 25, 192, 192, 192, 5_000),
    }),
  },
  { weight: 2, arbitrary: fc.record({ does: fc.constant('flow' as const) }) },
  { weight: 1, arbitrary: fc.record({ does: fc.constant('plug' as const), on: fc.boolean() }) },
);

test('what goes in comes out, whole and in order, whoever’s buffer it stood in; what goes into an unplugged cable is lost', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const cable = new Cable();
      const buffers = [new Uint8Array(6_000), new Uint8Array(6_000)];
      const expected: number[] = [];
      const came: number[] = [];
      const flow = () =>
        cable.flow((bytes, from, to) => {
          came.push(...bytes.subarray(from, to));
          // What is put in meanwhile waits.
          if (came.length % 2 === 0) {
            cable.push(Uint8Array.of(7), 0, 1);
            if (cable.plugged) expected.push(7);
          }
        });
      for (const one of steps) {
        if (one.does === 'flow') flow();
        else if (one.does === 'plug') cable.plugged = one.on;
        else {
          const buffer = buffers[one.buffer];
          buffer.forEach((_, i) => (buffer[i] = (one.byte + i) & 0xff));
          const to = one.from + one.length;
          cable.push(buffer, one.from, to);
          if (cable.plugged) expected.push(...buffer.subarray(one.from, to));
        }
      }
      while (!cable.isEmpty && came.length < expected.length) flow();
      expect(came).toEqual(expected.slice(0, came.length));
      expect(came.length).toBeGreaterThanOrEqual(expected.length - 1);
    }),
  );
});
