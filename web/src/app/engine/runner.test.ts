import fc from 'fast-check';
import { bind, farShore, neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { compile, plainOf } from '@rondo/core/round';
import { Frame, Head, PartField, SlotField, frameLength } from './frame';
import { NOTHING_OWN, libraryWith } from './library';
import type { FromEngine } from '../../midi/protocol';
import type { FromWorker, ToWorker } from './protocol';
import { Runner } from './runner';

function start() {
  let now = 0;
  const told: (FromWorker | FromEngine)[] = [];
  const runner = new Runner(
    (message) => told.push(message),
    () => now,
    0,
  );
  runner.joinPorts((message) => told.push(message));
  const plan = compile(nineFerriesMix(), libraryWith(NOTHING_OWN));
  const say = (message: ToWorker) => runner.receive(message);
  say({ kind: 'profile', version: 3, profile: nineFerriesMix(), own: NOTHING_OWN });
  return {
    say,
    runner,
    told,
    plan,
    /** Nothing gets a turn for a while. */
    standStill(ms: number) {
      now += ms * 1_000;
    },
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

test('an encoder is turned on the drawing as far as its messages say, simulated or real', () => {
  const page = start();
  page.run(1_000);
  const turn = (value: number): ToWorker => ({
    kind: 'hand',
    link: 'surface:desk',
    control: 'encoder-1',
    does: 'turn',
    value,
  });
  const turned = () => page.frame().part(page.part('desk/encoder-1/value'), PartField.Position);
  for (const ticks of [3, 2, -1]) page.say(turn(ticks));
  expect(turned()).toBe(4);
  page.say({ kind: 'ports', link: 'surface:desk', real: true, input: 'in', output: 'out' });
  // Mackie-style (common practice, no source): controller 16, bit 6 is anticlockwise.
  for (const data of [5, 0x42])
    page.say({
      kind: 'bytes',
      link: 'surface:desk',
      bytes: Uint8Array.of(0xb0, 0x10, data),
      at: 10,
    });
  expect(turned()).toBe(7);
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
  page.say({ kind: 'ports', link: 'surface:desk', real: true, input: 'in', output: 'out' });
  page.run(2_000);
  const sends = () =>
    page.told.flatMap((m) => (m.kind === 'sends' ? m.list.flatMap(({ bytes }) => [...bytes]) : []));
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

describe('presses of a real key that waited while everything stood still', () => {
  /** A key of the desk is pressed and let go of so many times, that far apart; all is heard after it, in one go. */
  function presses(count: number, apart: number, timeWentOn: boolean) {
    const page = start();
    page.run(1_000);
    page.say({ kind: 'ports', link: 'surface:desk', real: true, input: 'in', output: 'out' });
    page.standStill(10_000);
    if (timeWentOn) page.runner.tick();
    for (let n = 0; n < count; n++)
      for (const [velocity, after] of [
        [0x7f, 0],
        [0, apart / 2],
      ])
        page.say({
          kind: 'bytes',
          link: 'surface:desk',
          bytes: Uint8Array.of(0x90, 0x10, velocity),
          at: 2_000 + n * apart + after,
        });
    return {
      isOn: page.frame().slot(page.slot('studio/mute/1'), SlotField.Value) === 1,
      isCut: page.told.some(
        (message) =>
          message.kind === 'notices' && message.list.some(({ kind }) => kind === 'cycle'),
      ),
    };
  }

  test.each([false, true])(
    'a hand’s are all done: how quick they were is what the port says (time went on before: %p)',
    (timeWentOn) => {
      fc.assert(
        fc.property(fc.integer({ min: 13, max: 40 }), fc.integer({ min: 25, max: 150 }), (n, ms) =>
          expect(presses(n, ms, timeWentOn)).toEqual({ isOn: n % 2 === 1, isCut: false }),
        ),
        { numRuns: 15 },
      );
    },
  );

  test('what no hand can make is cut all the same', () => {
    expect(presses(15, 10, true)).toMatchObject({ isCut: true });
  });
});

test('unplugged in the middle, the simulation comes back and is painted whole', () => {
  const page = start();
  page.say({ kind: 'ports', link: 'surface:desk', real: true, input: 'in', output: 'out' });
  page.run(500);
  page.say({ kind: 'ports', link: 'surface:desk', real: false, input: null, output: null });
  page.run(2_000);
  const position = page.frame().part(page.part('desk/fader-1/value'), PartField.Position);
  const value = page.frame().slot(page.slot('studio/volume/1'), SlotField.Value);
  expect(Math.round(position * 1023)).toBe(Math.round(value * 1023));
});

describe('while another profile is compiled', () => {
  /** A runner that compiles only when it is given time. */
  function slow() {
    const works: (() => void)[] = [];
    const told: FromEngine[] = [];
    const page: FromWorker[] = [];
    let now = 0;
    const runner = new Runner(
      (message) => page.push(message),
      () => (now += 300),
      0,
      (work) => works.push(work),
    );
    runner.joinPorts((message) => told.push(message));
    const say = (message: ToWorker) => runner.receive(message);
    let version = 0;
    const open = (profile: Profile) =>
      say({ kind: 'profile', version: ++version, profile, own: NOTHING_OWN });
    const ports = (link: string) =>
      say({ kind: 'ports', link, real: true, input: `${link} in`, output: null });
    const routes = () => {
      const last = told.filter((m) => m.kind === 'routes').at(-1);
      return last?.kind === 'routes' ? last.routes.map(({ link }) => link).sort() : [];
    };
    const finish = () => {
      while (works.length > 0) works.shift()?.();
    };
    return { say, open, ports, routes, finish, page };
  }
  const profiles = [nineFerriesMix(), farShore(), neapRink()];
  const linkOf = (profile: Profile) => `surface:${profile.surfaceOrder[0]}`;

  test('what is meant for one waits until that one plays, however they were passed through', () => {
    const step = fc.record({ at: fc.nat(2), finishes: fc.boolean() });
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 8 }), (steps) => {
        const runner = slow();
        runner.open(profiles[0]);
        for (const { at, finishes } of steps) {
          runner.open(profiles[at]);
          runner.ports(linkOf(profiles[at]));
          if (finishes) runner.finish();
        }
        runner.finish();
        expect(runner.routes()).toEqual([linkOf(profiles[steps[steps.length - 1].at])]);
      }),
      { numRuns: 30 },
    );
  });

  test('panic does not wait', () => {
    const runner = slow();
    runner.open(profiles[0]);
    runner.open(profiles[1]);
    const motorsFree = () => {
      const { say, page } = runner;
      say({ kind: 'frame', buffer: new ArrayBuffer(4096) });
      const last = page.filter((m) => m.kind === 'frame').at(-1);
      return last?.kind === 'frame' && new Float64Array(last.buffer)[Head.MotorsFree];
    };
    expect(motorsFree()).toBe(0);
    runner.say({ kind: 'panic' });
    expect(motorsFree()).toBe(1);
  });
});

test('a clock is followed from the surface whose role it is, and no longer when it stops', () => {
  const page = start();
  const profile = nineFerriesMix();
  const clocked = {
    ...profile,
    surfaces: {
      ...profile.surfaces,
      desk: {
        ...profile.surfaces['desk'],
        roles: { notes: [], clock: true },
      },
    },
  };
  const tempi = () => page.told.flatMap((m) => (m.kind === 'tempo' ? [m.tempo] : []));
  const beat = (from: number) => {
    for (let i = 0; i <= 48; i++)
      page.say({
        kind: 'bytes',
        link: 'surface:desk',
        bytes: Uint8Array.of(0xf8),
        // 24 clocks a beat (MIDI 1.0): 20 ms apart is 125 beats a minute.
        at: from + i * 20,
      });
  };
  beat(0);
  page.run(100);
  expect(tempi()).toEqual([]);
  page.say({ kind: 'profile', version: 4, profile: clocked, own: NOTHING_OWN });
  beat(1_000);
  page.run(2_000);
  expect(tempi()).toEqual([125]);
  page.run(2_000);
  expect(tempi()).toEqual([125, null]);
});

test('what was held on an output that goes away is released there when it is back', () => {
  const page = start();
  const chord = bind(
    nineFerriesMix(),
    'Bind',
    { surface: 'desk', control: 'function-1', part: 'push' },
    { do: 'notes', to: { host: 'studio' }, channel: 2, notes: [60, 64], velocity: 99 },
  ).document;
  page.say({ kind: 'profile', version: 4, profile: chord, own: NOTHING_OWN });
  page.run(500);
  const host = (output: string | null): ToWorker => ({
    kind: 'ports',
    link: 'host:studio',
    real: true,
    input: null,
    output,
  });
  page.say(host('out'));
  for (let ms = 0; ms < 500; ms += 50) {
    page.run(50);
    page.say({ kind: 'taken', link: 'host:studio', bytes: 256 });
  }
  page.say(hand('function-1', 'press', 1));
  page.run(100);
  const wills = page.told.flatMap((m) => (m.kind === 'sends' ? m.wills : []));
  const held = [...(wills.filter(({ link }) => link === 'host:studio').at(-1)?.bytes ?? [])];
  page.say(host(null));
  const before = page.told.length;
  page.say(host('out'));
  const first = page.told.slice(before).find((m) => m.kind === 'sends');
  expect(held).toEqual([0x91, 60, 0, 0x91, 64, 0]);
  expect(first?.kind === 'sends' && [...first.list[0].bytes]).toEqual(held);
});

test('what a surface sends on an input that another shares is no stray message of that other', () => {
  for (const shared of [true, false]) {
    const page = start();
    page.run(1_000);
    const inputs = [
      ['surface:desk', 'in'],
      ['surface:feet', shared ? 'in' : 'elsewhere'],
    ] as const;
    for (const [link, input] of inputs)
      page.say({ kind: 'ports', link, real: true, input, output: null });
    for (const [link] of inputs)
      page.say({ kind: 'bytes', link, bytes: Uint8Array.of(0xe0, 0, 0x40), at: 1_000 });
    const frame = page.frame();
    expect(frame.head(Head.InHand)).toBe(page.part('desk/fader-1/value'));
    const feet = page.plan.links.findIndex(({ key }) => key === 'surface:feet');
    expect(frame.head(Head.StrayLink)).toBe(shared ? -1 : feet);
  }
});

test('what plays is told as a plan before any frame of its version, and each frame is of the plan told last', () => {
  const page = start();
  const versions = fc.array(
    fc.record({ isOther: fc.boolean(), asks: fc.integer({ min: 0, max: 2 }) }),
    { minLength: 1, maxLength: 8 },
  );
  let version = 3;
  fc.assert(
    fc.property(versions, (edits) => {
      for (const { isOther, asks } of edits) {
        version++;
        const profile = isOther ? neapRink() : nineFerriesMix();
        page.say({ kind: 'profile', version, profile, own: NOTHING_OWN });
        for (let n = 0; n < asks; n++) page.say({ kind: 'frame', buffer: new ArrayBuffer(128) });
      }
      let known = -1;
      for (const message of page.told) {
        if (message.kind === 'plan') known = message.version;
        if (message.kind === 'frame')
          expect(new Float64Array(message.buffer)[Head.Version]).toBe(known);
      }
      expect(known).toBe(version);
    }),
    { numRuns: 20 },
  );
});

test('a profile that is only described is compiled, and nothing plays', () => {
  const told: FromWorker[] = [];
  const runner = new Runner(
    (message) => told.push(message),
    () => 0,
    0,
  );
  const profile = nineFerriesMix();
  runner.receive({ kind: 'describe', version: 7, profile, own: NOTHING_OWN });
  runner.tick();
  expect(told.filter(({ kind }) => kind === 'plan')).toEqual([
    { kind: 'plan', version: 7, plan: plainOf(compile(profile, libraryWith(NOTHING_OWN))) },
  ]);
  runner.receive({ kind: 'frame', buffer: new ArrayBuffer(128) });
  const frame = told.find((message) => message.kind === 'frame');
  expect(frame?.kind === 'frame' && new Float64Array(frame.buffer)[Head.Version]).toBe(-1);
});
