import fc from 'fast-check';
import { withEnd } from './note-range';

test('an end is where it was put, and the range is never empty', () => {
  const note = fc.nat(127);
  fc.assert(
    fc.property(
      note,
      note,
      note,
      fc.constantFrom('from' as const, 'to' as const),
      (a, b, to, end) => {
        const range = withEnd({ from: Math.min(a, b), to: Math.max(a, b) }, end, to);
        expect(range[end]).toBe(to);
        expect(range.from).toBeLessThanOrEqual(range.to);
      },
    ),
  );
});
