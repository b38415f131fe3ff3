import { nineFerriesMix } from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import { Frame, Head, PartField, SlotField, frameLength } from './frame';
import { NOTHING_OWN, libraryWith } from './library';
import type { FromWorker, ToWorker } from './protocol';
import { Runner } from './runner';

function start() {
  let now = 0;
  const told: FromWorker[] = [];
  const runner = new Runner(
    (message) => told.push(message),
    () => now,
    0,
  );
  const plan = compile(nineFerriesMix(), libraryWith(NOTHING_OWN));
  const say = (message: ToWorker) => runner.receive(message);
  say({ kind: 'profile', version: 3, profile: nineFerriesMix(), own: NOTHING_OWN });
  return {
    say,
    told,
    plan,
    run(ms: number) {
      for (const end = now + ms * 1_000; now < end;) {
        now += 5_000;
        runner.tick();
      }
    },
    frame(): Frame {
      say({ kind: 'frame', buffer: new ArrayBuffer(frameLength(plan) * 8) });
      const answer = told.filter((m) => m.kind === 'frame').at(-1);
      return new Frame(plan, answer?.kind === 'frame' ? answer.buffer : new ArrayBuffer(0));
    },
    part: (key: string) => plan.parts.findIndex((part) => part.key === key),
    slot: (key: string) => plan.slots.findIndex((slot) => slot.key === key),
  };
}
const hand = (control: string, does: 'touch' | 'move' | 'press', value: number): ToWorker => ({
  kind: 'hand',
  link: 'surface:desk',
  control,
  does,
  value,
});

test('a hand on the drawing reaches the host, and the frame shows both', () => {
  const page = start();
  page.run(1_000);
  page.say(hand('fader-2', 'touch', 1));
  page.say(hand('fader-2', 'move', 0.25));
  const frame = page.frame();
  expect(frame.head(Head.Version)).toBe(3);
  expect(frame.part(page.part('desk/fader-2/value'), PartField.Position)).toBeCloseTo(0.25, 3);
  expect(frame.slot(page.slot('studio/volume/2'), SlotField.Value)).toBeCloseTo(0.25, 3);
  expect(frame.head(Head.InHand)).toBe(page.part('desk/fader-2/value'));
});

test('a buffer made for another profile comes back with its head only', () => {
  const page = start();
  page.say({ kind: 'frame', buffer: new ArrayBuffer(128) });
  const answer = page.told.at(-1);
  expect(answer?.kind === 'frame' && new Float64Array(answer.buffer)[Head.Version]).toBe(3);
});

test('a real desk: its bytes act, the answer goes to its port, and waits for the page to take it', () => {
  const page = start();
  page.run(1_000);
  page.say({ kind: 'ports', link: 'surface:desk', real: true, input: true, output: true });
  page.run(2_000);
  const sends = () => page.told.flatMap((m) => (m.kind === 'send' ? [...m.bytes] : []));
  const stalled = sends().length;
  // The whole repaint is longer; what is under way stays within some milliseconds of bytes.
  expect(stalled).toBeGreaterThan(0);
  expect(stalled).toBeLessThan(512);
  for (let taken = 0; taken < sends().length;) {
    const bytes = sends().length - taken;
    taken += bytes;
    page.say({ kind: 'taken', link: 'surface:desk', bytes });
    page.run(50);
  }
  page.say({ kind: 'bytes', link: 'surface:desk', bytes: Uint8Array.of(0x90, 0x10, 0x7f), at: 10 });
  page.run(20);
  expect(page.frame().slot(page.slot('studio/mute/1'), SlotField.Value)).toBe(1);
  expect(sends().slice(-3)).toEqual([0x90, 0x10, 0x7f]);
});

test('unplugged in the middle, the simulation comes back and is painted whole', () => {
  const page = start();
  page.say({ kind: 'ports', link: 'surface:desk', real: true, input: true, output: true });
  page.run(500);
  page.say({ kind: 'ports', link: 'surface:desk', real: false, input: false, output: false });
  page.run(2_000);
  const position = page.frame().part(page.part('desk/fader-1/value'), PartField.Position);
  const value = page.frame().slot(page.slot('studio/volume/1'), SlotField.Value);
  expect(Math.round(position * 1023)).toBe(Math.round(value * 1023));
});
