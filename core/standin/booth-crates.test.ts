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
      steps.forEach(({ does, by }) => booth.set(booth.slotOf(does), by));
      const choice = (id: string, total: number) => choiceAt(total, booth.values[booth.slotOf(id)]);
      const record = choice('chosen', RECORDS.length);
      expect(booth.texts[booth.slotOf('chosenText')]).toBe(RECORDS[record].title);
      const browsed = steps.some(({ does }) => does !== 'chosen');
      if (
        browsed &&
        booth.values[booth.slotOf('crateOpen')] === 1 &&
        steps.at(-1)?.does !== 'chosen'
      )
        expect(CRATES[choice('crate', CRATES.length)].records).toContain(record);
    }),
  );
});
