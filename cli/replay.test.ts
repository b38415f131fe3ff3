import fc from 'fast-check';
import { nineFerriesMix } from '@rondo/core/profile';
import { Replay } from './replay';

/** Anything that a desk or its foot board may send, well or badly. */
const line = fc.record({
  after: fc.nat({ max: 400 }),
  port: fc.constantFrom('desk', 'feet'),
  bytes: fc.oneof(
    fc.tuple(fc.constantFrom(0x90, 0xb0, 0xe0, 0xe3), fc.nat({ max: 127 }), fc.nat({ max: 127 })),
    fc.array(fc.nat({ max: 255 }), { minLength: 1, maxLength: 6 }),
  ),
});

test('the same recording gives the same bytes and the same state, whatever it holds', () => {
  fc.assert(
    fc.property(fc.array(line, { maxLength: 40 }), (lines) => {
      const run = () => {
        const out: string[] = [];
        const replay = new Replay(
          nineFerriesMix(),
          { surfaces: new Map(), hosts: new Map() },
          (text) => out.push(text),
          () => undefined,
        );
        let t = 0;
        for (const { after, port, bytes } of lines) {
          t += after;
          const hex = bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
          replay.take(`${t},${port},${hex}`);
        }
        replay.finish(700_000);
        return { out, state: replay.state() };
      };
      expect(run()).toEqual(run());
    }),
    { numRuns: 20 },
  );
});
