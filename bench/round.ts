import { STUDIO } from '@rondo/core/host';
import { emptyProfile, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { Engine, compile, type Library } from '@rondo/core/round';
import { logFor, toEngine, toStudio } from './any-core.js';
import { Studio } from '@rondo/core/standin';
import { HARROW_8, type Control, type Surface } from '@rondo/core/surface';
import { Cable } from '@rondo/core/standin';
import { table, timed } from './report.js';
import { unlimited, unlimitedLibrary } from './unlimited.js';

const FADERS = 9;
const CHUNK = 3 * FADERS;
const STRETCHES = 5;
/** Bytes of a report of 14 bits. */
const PAIR = 6;

/** A desk, the round and the Studio, ready to be run; and what has come out of it. */
interface WholeRound {
  readonly studio: Studio;
  /** Moves every fader so many times. */
  run(count: number): void;
  /** Counts anew from here. */
  reset(): void;
  seen(): { motorMessages: number; motorSum: number; expectedSum: number; reports: number };
}

/** Nine touched faders of a desk, each move to the Studio as a pair of controllers, its report and the motor back. */
export function wholeRoundToRun(): WholeRound {
  const plan = compile(nineFerriesMix(), unlimitedLibrary);
  const host = plan.links.findIndex(({ kind }) => kind === 'host');
  const there = new Cable();
  const back = new Cable();
  const clock = new Float64Array(1);
  let motorMessages = 0;
  let motorSum = 0;
  const engine = new Engine(plan, (link, bytes, from, to) => {
    if (link === host) there.push(bytes, from, to);
    else if (link === 0)
      for (let at = from; at + 2 < to; at += 3)
        if ((bytes[at] & 0xf0) === 0xe0) {
          motorMessages++;
          motorSum += bytes[at + 1] | (bytes[at + 2] << 7);
        }
  });
  engine.log = logFor(plan);
  let reports = 0;
  const studio = new Studio((bytes, from, to) => {
    // Several come in one stretch: each is a pair of controllers of three bytes.
    reports += (to - from) / PAIR;
    back.push(bytes, from, to);
  });
  // A track that no fader moves: what is selected is reported twice, once as such.
  studio.set(studio.slotOf('select/12'), 1);
  reports = 0;
  back.flow(() => undefined);
  for (const link of [0, host]) {
    engine.setInputOpen(link, true, 0);
    engine.setOutputOpen(link, true, 0);
  }
  const touch = Uint8Array.from(
    { length: CHUNK },
    (_, i) => [0x90, 0x68 + Math.floor(i / 3), 0x7f][i % 3],
  );
  toEngine(engine, clock, 0, touch, touch.length);
  const chunk = new Uint8Array(CHUNK);
  const arrive = (bytes: Uint8Array, _from: number, to: number) =>
    toStudio(studio, clock, bytes, to);
  const comeBack = (bytes: Uint8Array, _from: number, to: number) =>
    toEngine(engine, clock, host, bytes, to);
  let expectedSum = 0;
  const rounds = (count: number) => {
    for (let n = 0; n < count; n++) {
      clock[0] += 1_000;
      for (let f = 0; f < FADERS; f++) {
        const position = (n * 37 + f * 101) & 1_023;
        const bend = position << 4;
        chunk[3 * f] = 0xe0 | f;
        chunk[3 * f + 1] = bend & 0x7f;
        chunk[3 * f + 2] = bend >> 7;
        expectedSum += bend;
      }
      // What is due by itself is done too, as it is behind a page.
      engine.advance(clock[0]);
      toEngine(engine, clock, 0, chunk, CHUNK);
      there.flow(arrive);
      back.flow(comeBack);
    }
  };
  there.flow(arrive);
  back.flow(comeBack);
  return {
    studio,
    run: rounds,
    reset: () => {
      motorMessages = motorSum = reports = expectedSum = 0;
    },
    seen: () => ({ motorMessages, motorSum, expectedSum, reports }),
  };
}

/** Bytes in → host state → bytes out. */
export function wholeRound(): void {
  const { studio, run, reset, seen } = wholeRoundToRun();
  run(50_000);
  reset();
  const count = 100_000;
  // The best of several stretches: other tenants of the machine are no part of the figure.
  const stretches = Array.from({ length: STRETCHES }, () => timed(() => run(count)));
  const { motorMessages, motorSum, expectedSum, reports } = seen();
  const seconds = Math.min(...stretches);
  const messages = STRETCHES * count * FADERS;
  const ok = motorMessages === messages && reports === messages && motorSum === expectedSum;
  let stateOk = true;
  for (let f = 0; f < FADERS - 1; f++) {
    const last = (((count - 1) * 37 + f * 101) & 1_023) / 1_023;
    stateOk &&= Math.abs(studio.values[studio.slotOf(`volume/${f + 1}`)] - last) < 1 / 16_383;
  }
  table('Whole round, bytes in → host state → bytes out', [
    ['messages a second', ((count * FADERS) / seconds).toExponential(2)],
    ['ratio to the million asked for', ((count * FADERS) / seconds / 1e6).toFixed(2)],
    ['motor messages expected / seen', `${messages} / ${motorMessages}`],
    ['host reports expected / seen', `${messages} / ${reports}`],
    ['positions and host state as sent', ok && stateOk ? 'yes' : 'NO'],
  ]);
  if (!ok || !stateOk) process.exitCode = 1;
}

/** A plain surface of `count` controllers, all bound. */
export function manyBindings(count: number): { profile: Profile; library: Library } {
  const profile: Profile = emptyProfile('bench', 'Bench');
  profile.surfaces = {};
  profile.surfaceOrder = [];
  const surfaces = new Map<string, Surface>();
  const PER_SURFACE = 2_000;
  for (let first = 0; first < count; first += PER_SURFACE) {
    const id = `s${first}`;
    profile.surfaces[id] = { id, model: id, label: id };
    profile.surfaceOrder.push(id);
    const controls = Array.from(
      { length: Math.min(PER_SURFACE, count - first) },
      (_, i): Control => {
        const control = `c${i}`;
        const key = `${id}.${control}`;
        profile.bindings[key] = {
          id: key,
          layer: 'base',
          control: { surface: id, control, part: 'value' },
          feel: { takeover: 'jump' },
          actions: [
            {
              do: 'function',
              host: 'studio',
              function: i % 2 ? 'pan' : 'volume',
              scope: { kind: 'fixed', strip: i % STUDIO.strips.length },
              behaviour: 'follow',
            },
          ],
        };
        profile.bindingOrder.push(key);
        return {
          id: control,
          kind: 'fader',
          label: control,
          x: 0,
          y: 0,
          width: 1,
          height: 1,
          sends: { value: { type: 'controller', channel: (i >> 7) + 1, number: i & 0x7f } },
          takes: {},
        };
      },
    );
    surfaces.set(id, unlimited({ ...HARROW_8, id, controls }));
  }
  return {
    profile,
    library: { surface: (id) => surfaces.get(id), host: unlimitedLibrary.host },
  };
}

function costPerMessage(count: number): number {
  const { profile, library } = manyBindings(count);
  const plan = compile(profile, library);
  let bytesOut = 0;
  const engine = new Engine(plan, (_, _bytes, from, to) => {
    bytesOut += to - from;
  });
  const host = plan.links.length - 1;
  plan.links.forEach((_, link) => engine.setInputOpen(link, true, 0));
  engine.setOutputOpen(host, true, 0);
  // One pass over every control in an order that no cache line foretells; each message has a value of its own.
  const order = Array.from({ length: count }, (_, i) => (i * 7_919) % count);
  const bytes = new Uint8Array(3);
  const pass = (n: number) => {
    for (const i of order) {
      const local = i % 2_000;
      bytes[0] = 0xb0 | (local >> 7);
      bytes[1] = local & 0x7f;
      bytes[2] = (n + i) & 0x7f;
      engine.at(n).receive(Math.floor(i / 2_000), bytes, 0, 3);
    }
  };
  const passes = Math.ceil(2_000_000 / count);
  let n = 0;
  while (n < passes / 4) pass(n++);
  bytesOut = 0;
  const seconds = timed(() => {
    for (let i = 0; i < passes; i++) pass(n++);
  });
  if (bytesOut !== passes * count * 6) {
    console.error(`expected ${passes * count * 6} bytes out, saw ${bytesOut}`);
    process.exitCode = 1;
  }
  return (seconds / (passes * count)) * 1e9;
}

export function bindingsRatio(): void {
  costPerMessage(10);
  let few = Infinity;
  let many = Infinity;
  // By turns, so that a slow spell of the machine hits both.
  for (let n = 0; n < STRETCHES; n++) {
    few = Math.min(few, costPerMessage(10));
    many = Math.min(many, costPerMessage(5_000));
  }
  table('Cost per message by number of bindings', [
    ['10 bindings', `${few.toFixed(0)} ns`],
    ['5 000 bindings', `${many.toFixed(0)} ns`],
    ['ratio (at most 1.3)', (many / few).toFixed(2)],
  ]);
}
