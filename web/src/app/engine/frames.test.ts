import fc from 'fast-check';
import type { PlainPlan } from '@rondo/core/round';
import { Frame, Head, frameLength } from './frame';
import { Frames } from './frames';

/** Plans of different sizes: only how many there are of each counts. */
const planOf = (parts: number): PlainPlan =>
  ({ parts: Array(parts).fill({}), outs: [], slots: [], links: [] }) as unknown as PlainPlan;

const step = fc.oneof(
  fc.record({ does: fc.constant('draw' as const) }),
  fc.record({ does: fc.constant('answer' as const) }),
  fc.record({ does: fc.constant('edit' as const), parts: fc.nat(3) }),
  fc.record({ does: fc.constant('compile' as const) }),
  fc.record({ does: fc.constant('die' as const) }),
);

test('over random edits, answers and deaths: one buffer under way, each frame painted once, and of the version that is read', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      let under: ArrayBuffer | null = null;
      let asked = 0;
      const frames = new Frames(
        (buffer) => {
          expect(under).toBeNull();
          under = buffer;
          asked++;
        },
        () => undefined,
      );
      let version = 1;
      let parts = 1;
      // The worker plays what it was given last; the page knows the plan once that is told.
      let plan: PlainPlan | null = planOf(parts);
      const seen: Frame[] = [];
      const slow: Frame[] = [];
      frames.paint((frame) => seen.push(frame));
      frames.paint((frame) => slow.push(frame), { every: 3, turn: 0 });
      for (const one of steps) {
        if (one.does === 'edit') {
          parts = one.parts;
          version++;
          plan = null;
        } else if (one.does === 'compile') plan = planOf(parts);
        else if (one.does === 'die') {
          under = null;
          version++;
          frames.anew();
        } else if (one.does === 'answer' && under) {
          const buffer: ArrayBuffer = under;
          new Float64Array(buffer)[Head.Version] = version;
          under = null;
          frames.take(buffer);
        } else if (one.does === 'draw') {
          const before = seen.length;
          const painted = frames.draw(plan, version);
          expect(seen.length - before).toBe(painted ? 1 : 0);
          if (painted) {
            expect(painted).toBe(frames.now);
            expect(painted.plan).toBe(plan);
            expect(painted.head(Head.Version)).toBe(version);
            expect(painted.numbers).toHaveLength(frameLength(painted.plan));
          }
          // Whoever knows the plan has always asked for what comes next.
          if (plan) expect(under).not.toBeNull();
        }
      }
      expect(new Set(seen).size).toBe(seen.length);
      expect(seen.length).toBeLessThanOrEqual(asked);
      expect(slow).toEqual(seen.filter((_, at) => (at + 1) % 3 === 0));
    }),
  );
});

test('two buffers take turns: however many frames, no third is made', () => {
  const made = new Set<ArrayBuffer>();
  let under: ArrayBuffer | undefined;
  const frames = new Frames(
    (buffer) => {
      made.add(buffer);
      under = buffer;
    },
    () => undefined,
  );
  const plan = planOf(2);
  for (let turn = 0; turn < 20; turn++) {
    frames.draw(plan, 0);
    if (under) frames.take(under);
  }
  expect(made.size).toBe(2);
});
