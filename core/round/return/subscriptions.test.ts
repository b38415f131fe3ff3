import fc from 'fast-check';
import { HOOKS, Subscriptions } from './subscriptions.js';

const SLOTS = 5;
const OUTS = 6;

test('an output is due for each hook on a slot that changes, in the order of outputs, however it came to hang there', () => {
  const hanging = fc.tuple(
    fc.nat(OUTS - 1),
    fc.nat(HOOKS - 1),
    fc.integer({ min: -1, max: SLOTS - 1 }),
  );
  fc.assert(
    fc.property(fc.array(hanging, { maxLength: 60 }), (steps) => {
      const due: number[] = [];
      const subscriptions = new Subscriptions(SLOTS, OUTS, (out) => due.push(out));
      const now = new Map<number, number>();
      for (const [out, at, slot] of steps) {
        const hook = out * HOOKS + at;
        const before = now.get(hook) ?? -1;
        expect(subscriptions.hang(out, at, slot)).toBe(before !== slot);
        now.set(hook, slot);
      }
      for (let slot = 0; slot < SLOTS; slot++) {
        due.length = 0;
        subscriptions.changed(slot);
        const meant = [...now]
          .filter(([, on]) => on === slot)
          .map(([hook]) => hook)
          .sort((a, b) => a - b)
          .map((hook) => Math.floor(hook / HOOKS));
        expect(due).toEqual(meant);
        expect(subscriptions.isShown(slot)).toBe(meant.length > 0);
      }
    }),
  );
});
