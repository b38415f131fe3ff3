import { CRATES, RECORDS, choiceAt } from '@rondo/core/host';
import fc from 'fast-check';
import { Booth } from './index.js';

const step = fc.oneof(
  fc.record({
    does: fc.constantFrom('browse', 'chosen', 'crate'),
    by: fc.double({ min: -40, max: 40, noNaN: true }),
  }),
  fc.record({
    does: fc.constantFrom('crateOpen', 'listUp', 'listDown'),
    by: fc.constantFrom(0, 1),
  }),
);

test('however one goes through crates and records: a record is chosen, in an open crate one of its own, and its name is told', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 20 }), (steps) => {
      const booth = new Booth(() => undefined);
      const choice = (id: string, total: number) => choiceAt(total, booth.values[booth.slotOf(id)]);
      steps.forEach(({ does, by }) => {
        const before = [...booth.values];
        booth.set(booth.slotOf(does), by);
        const record = choice('chosen', RECORDS.length);
        expect(booth.texts[booth.slotOf('chosenText')]).toBe(RECORDS[record].title);
        // A record chosen by itself may be of any crate; what goes through an open one then comes into it. A press that
        // is let go of, and a part of a tick, do nothing.
        const didSomething = booth.values.some((value, slot) => value !== before[slot]);
        if (does !== 'chosen' && didSomething && booth.values[booth.slotOf('crateOpen')] === 1)
          expect(CRATES[choice('crate', CRATES.length)].records).toContain(record);
      });
    }),
  );
});
