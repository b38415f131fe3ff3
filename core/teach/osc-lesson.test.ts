import fc from 'fast-check';
import { PANE, blankSurface, oscRangeOf, type Control, type Surface } from '@rondo/core/surface';
import { writeOscMessage, type OscArgument, type OscType } from '@rondo/core/wire';
import { control } from '../testing/bare-surface.js';
import { OscLesson, applyLore, stepsOf, type Taken } from './index.js';

/** A control of a layout that nobody has described: what it sends when it is moved from end to end, or pressed twice. */
interface Sender {
  readonly kind: 'fader' | 'button';
  readonly as: OscType;
  readonly low: number;
  readonly high: number;
  /** What stands before the value, and does not change. */
  readonly before: number;
}
const sender: fc.Arbitrary<Sender> = fc.oneof(
  fc.record({
    kind: fc.constant('fader' as const),
    as: fc.constantFrom<OscType>('float', 'double'),
    low: fc.constant(0),
    high: fc.constantFrom(1, 100),
    before: fc.nat(2),
  }),
  fc.record({
    kind: fc.constant('fader' as const),
    as: fc.constantFrom<OscType>('integer', 'long'),
    low: fc.constant(0),
    high: fc.constantFrom(127, 255, 1_023),
    before: fc.nat(2),
  }),
  fc.record({
    kind: fc.constant('button' as const),
    as: fc.constantFrom<OscType>('float', 'integer', 'boolean'),
    low: fc.constant(0),
    high: fc.constant(1),
    before: fc.nat(2),
  }),
);
const drawn = (senders: readonly Sender[]): Surface => ({
  ...blankSurface('layout', 'Layout'),
  device: { ...PANE.device },
  controls: senders.map(({ kind }, n): Control => ({
    ...control(`c${n}`, kind, {}),
    label: `Control ${n}`,
    x: n * 20,
  })),
});

/** A hand at a control from a time on: what comes, and when it is through. */
function touch({ kind, as, low, high, before }: Sender, n: number, from: number) {
  const shares = kind === 'button' ? [1, 0, 1, 0] : Array.from({ length: 21 }, (_, i) => i / 20);
  const lines = shares.map((share, i) => {
    const value = low + share * (high - low);
    const args: OscArgument[] = [
      ...Array.from({ length: before }, (): OscArgument => ({ as: 'integer', value: 7 })),
      { as, value },
    ];
    return { t: from + i * 30, bytes: writeOscMessage(`/page/${n}`, args) };
  });
  return { lines, until: from + shares.length * 30 };
}

test('every control of a layout is taught its own message by hands that hardly wait', () => {
  fc.assert(
    fc.property(
      fc.array(sender, { minLength: 1, maxLength: 12 }),
      fc.integer({ min: 60, max: 1_500 }),
      (senders, pause) => {
        let surface = drawn(senders);
        const lesson = new OscLesson(stepsOf(surface));
        let now = 1_000;
        const take = (taken: Taken | null) => {
          if (taken) surface = applyLore(surface, `c${taken.step}`, 0, taken.lore).document;
        };
        senders.forEach((one, n) => {
          const { lines, until } = touch(one, n, now);
          for (const { t, bytes } of lines) {
            lesson.feed(t, bytes);
            take(lesson.tick(t));
          }
          now = until + pause;
        });
        for (let t = now; t < now + 3_000; t += 60) take(lesson.tick(t));
        expect(lesson.view.phase).toBe('over');
        surface.controls.forEach(({ kind, sends, takes }, n) => {
          const { as, low, high, before, kind: drawnAs } = senders[n];
          const part = drawnAs === 'button' ? 'push' : 'value';
          const pattern = sends[part];
          expect(kind).toBe(drawnAs);
          expect(pattern).toMatchObject({
            type: 'osc',
            address: `/page/${n}`,
            argument: before + 1,
            as,
          });
          if (pattern?.type !== 'osc') throw new Error('It speaks OSC.');
          expect(oscRangeOf(pattern)).toEqual([low, high]);
          // It follows by the message that it sends.
          expect(takes).toEqual({ [drawnAs === 'button' ? 'light' : 'motor']: pattern });
        });
      },
    ),
    { numRuns: 200 },
  );
});

test('what another control sends in the same moment is no other control; afterwards it is the next', () => {
  const surface = drawn([
    { kind: 'fader', as: 'float', low: 0, high: 1, before: 0 },
    { kind: 'fader', as: 'float', low: 0, high: 1, before: 0 },
  ]);
  const lesson = new OscLesson(stepsOf(surface));
  const { lines, until } = touch({ kind: 'fader', as: 'float', low: 0, high: 1, before: 0 }, 0, 0);
  for (const { t, bytes } of lines) {
    lesson.feed(t, bytes);
    lesson.feed(t + 1, writeOscMessage('/page/0/touch', [{ as: 'integer', value: 1 }]));
  }
  const taken = lesson.tick(until + 1_000);
  expect(taken?.lore.sends.value).toMatchObject({ address: '/page/0' });
  expect(lesson.tick(until + 1_001)).toBeNull();
});

test('what is known already, or crosses the drawing, is asked about, and may be taken all the same', () => {
  const surface = drawn([
    { kind: 'fader', as: 'float', low: 0, high: 1, before: 0 },
    { kind: 'button', as: 'float', low: 0, high: 1, before: 0 },
  ]);
  const lesson = new OscLesson(stepsOf(surface));
  const fader = { kind: 'fader', as: 'float', low: 0, high: 1, before: 0 } as const;
  const feed = (n: number, from: number, one: Sender = fader) => {
    const { lines, until } = touch(one, n, from);
    for (const { t, bytes } of lines) lesson.feed(t, bytes);
    return lesson.tick(until + 1_000);
  };
  expect(feed(0, 0)?.step).toBe(0);
  expect(feed(5, 3_000)).toBeNull();
  expect(lesson.view.says).toMatch(/What came is moved, and Control 1 is drawn as a button/);
  expect(feed(1, 6_000, { ...fader, kind: 'button' })?.step).toBe(1);
  lesson.redo();
  expect(lesson.view.at).toBe(1);
  expect(feed(0, 9_000, { ...fader, kind: 'button' })).toBeNull();
  expect(lesson.view.says).toMatch(/That is what Control 0 sends/);
  expect(lesson.takeOffer()).toMatchObject({ step: 1 });
  expect(lesson.view.phase).toBe('over');
});
