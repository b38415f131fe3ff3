import fc from 'fast-check';
import { Roving, type Place } from './roving';

const KEYS = [
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Home',
  'End',
  'PageUp',
  'Enter',
  'Escape',
  'a',
  ' ',
] as const;

/** Things anywhere on a sheet of 100 × 100. */
const boxes = fc.array(
  fc.record({
    x: fc.nat(90),
    y: fc.nat(90),
    width: fc.integer({ min: 1, max: 10 }),
    height: fc.integer({ min: 1, max: 10 }),
  }),
  { minLength: 1, maxLength: 12 },
);

test('over random keys and things that come and go: one stop of Tab, and one thing at most is taken hold of, the one that has the focus', () => {
  const step = fc.oneof(
    { weight: 9, arbitrary: fc.constantFrom(...KEYS) },
    { weight: 1, arbitrary: boxes },
  );
  fc.assert(
    fc.property(boxes, fc.array(step, { maxLength: 60 }), (first, steps) => {
      const roving = new Roving();
      let focused = '0';
      let places: Place[] = [];
      const arrange = (list: typeof first) => {
        places = list.map((box, n) => ({
          id: String(n),
          ...box,
          focus: () => {
            focused = String(n);
            roving.entered(focused);
          },
        }));
        roving.among(places.map(({ id }) => id));
        // A thing that has gone takes the focus along; Tab brings it to the stop.
        if (!places.some(({ id }) => id === focused))
          places.find(({ id }) => id === roving.stop())?.focus();
      };
      arrange(first);
      places[0].focus();
      for (const one of steps) {
        if (typeof one !== 'string') {
          arrange(one);
          continue;
        }
        const before = { focused, taken: roving.taken() };
        const event = new KeyboardEvent('keydown', { key: one, cancelable: true });
        const isForRoving = roving.key(event, focused, places);
        // What it has dealt with is no one else's.
        expect(event.defaultPrevented).toBe(isForRoving);
        // While it is taken hold of the arrows are its own.
        if (before.taken === before.focused && one !== 'Enter' && one !== 'Escape') {
          expect(isForRoving).toBe(false);
          expect(focused).toBe(before.focused);
        }
        if (!isForRoving) expect(roving.taken()).toBe(before.taken);
        expect(['', focused]).toContain(roving.taken());
        expect(roving.stop()).toBe(focused);
      }
    }),
  );
});

test('Enter takes hold and lets go, and does so once however long it is held', () => {
  const roving = new Roving();
  roving.among(['a']);
  const press = (key: string, repeat = false) =>
    roving.key(new KeyboardEvent('keydown', { key, repeat }), 'a', []);
  press('Enter');
  press('Enter', true);
  expect(roving.taken()).toBe('a');
  press('Enter');
  expect(roving.taken()).toBe('');
  press('Enter');
  expect(press('Escape')).toBe(true);
  expect(press('Escape')).toBe(false);
});
