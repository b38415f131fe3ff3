import { provideZonelessChangeDetection } from '@angular/core';
import { createApplication } from '@angular/platform-browser';
import { jest } from '@jest/globals';
import fc from 'fast-check';
import { neapRink, nineFerriesMix, type Profile, type SetUp } from '@rondo/core/profile';
import { EngineService } from './engine.service';
import { NOTHING_OWN } from './library';
import { Midi } from './midi';
import type { Order, Outcome } from './orders';
import type { FromWorker, ToWorker } from './protocol';
import { Runner } from './runner';

/** Time of all engines, µs. */
let clock = 0;

/** A worker with the real engine in it, on the page's own thread. */
class EngineWorker {
  static living: EngineWorker[] = [];
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: unknown = null;
  readonly runner = new Runner(
    (message) => this.onmessage?.({ data: message }),
    () => clock,
    0,
  );
  isGone = false;
  /** What plays in it; null where it only describes. */
  get world(): { engine: EngineState } | null {
    return (this.runner as unknown as { world: { engine: EngineState } | null }).world;
  }
  constructor() {
    EngineWorker.living.push(this);
  }
  postMessage(message: ToWorker): void {
    if (!this.isGone && message.kind !== 'join ports' && message.kind !== 'frame')
      this.runner.receive(JSON.parse(JSON.stringify(message)) as ToWorker);
  }
  terminate(): void {
    this.isGone = true;
    EngineWorker.living = EngineWorker.living.filter((one) => one !== this);
  }
}

/** Windows of one browser hear each other, and none itself (HTML, BroadcastChannel). */
class Channel {
  static all: Channel[] = [];
  onmessage: ((event: { data: unknown }) => void) | null = null;
  constructor(readonly name: string) {
    Channel.all.push(this);
  }
  postMessage(data: unknown): void {
    for (const other of Channel.all)
      if (other !== this && other.name === this.name)
        other.onmessage?.({ data: JSON.parse(JSON.stringify(data)) });
  }
}

type Held = (lock: object | null) => unknown;
/** Locks as the W3C's Web Locks describe them. */
class Locks {
  private readonly held = new Map<string, Held[]>();
  request = (name: string, options: { ifAvailable?: boolean } | Held, hold?: Held) => {
    const work = typeof options === 'function' ? options : hold!;
    const queue = this.held.get(name);
    if (typeof options !== 'function' && options.ifAvailable && queue) return void work(null);
    if (queue) queue.push(work);
    else {
      this.held.set(name, []);
      work({});
    }
    return Promise.resolve();
  };
  query = () => Promise.resolve({ held: [...this.held.keys()].map((name) => ({ name })) });
  /** Whoever has a lock is gone: the next one gets it. */
  free(name: string): void {
    const next = this.held.get(name)?.shift();
    if (next) next({});
    else this.held.delete(name);
  }
}

const NO_PORTS = {
  changed: () => undefined,
  inputs: () => [],
  outputs: () => [],
  hasOutput: () => false,
  listen: () => false,
  ignore: () => undefined,
  resume: () => Promise.resolve(),
  release: () => undefined,
  joinEngine: () => undefined,
};

interface Window {
  readonly engine: EngineService;
  readonly refused: Outcome[];
  leave(): void;
}

let locks = new Locks();
async function windowWith(profile: Profile): Promise<Window> {
  const app = await createApplication({
    providers: [provideZonelessChangeDetection(), { provide: Midi, useValue: { ...NO_PORTS } }],
  });
  const engine = app.injector.get(EngineService);
  const refused: Outcome[] = [];
  engine.refused = (_, outcome) => refused.push(outcome);
  engine.setProfile(profile, NOTHING_OWN);
  engine.start();
  app.tick();
  return {
    engine,
    refused,
    leave: () => {
      locks.free(`rondo-window ${engine.orders.me}`);
      app.destroy();
    },
  };
}

beforeEach(() => {
  jest.useFakeTimers();
  localStorage.clear();
  Channel.all = [];
  EngineWorker.living = [];
  locks = new Locks();
  clock = 0;
  Object.assign(globalThis, {
    Worker: EngineWorker,
    BroadcastChannel: Channel,
    MessageChannel: class {
      port1 = {};
      port2 = { postMessage: () => undefined };
    },
    requestAnimationFrame: () => 0,
  });
  Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
});
afterEach(() => jest.useRealTimers());

const MIX = nineFerriesMix();
const SET_UP: SetUp = {
  format: 'rondo-setup',
  version: 1,
  id: 'u-1',
  name: 'Saturday',
  profile: MIX.id,
  ports: {},
  layers: MIX.layerOrder.slice(1, 2),
  flags: {},
  bank: 3,
};

const on = fc.boolean();
const order: fc.Arbitrary<Order> = fc.oneof(
  fc.record({ kind: fc.constantFrom('panic' as const, 'repaint' as const) }),
  fc.record({ kind: fc.constant('holdOff' as const), on }),
  fc.record({ kind: fc.constantFrom('choosing' as const, 'teaching' as const), on }),
  fc.record({ kind: fc.constant('setUp' as const), setUp: fc.constant(SET_UP) }),
  fc.record({ kind: fc.constant('layer' as const), id: fc.constantFrom(...MIX.layerOrder), on }),
  fc.record({
    kind: fc.constant('flag' as const),
    id: fc.constantFrom(...MIX.flagOrder, 'gone'),
    on,
  }),
  fc.record({ kind: fc.constant('bank' as const), by: fc.constantFrom(-8, -1, 1, 8) }),
  fc.record({
    kind: fc.constantFrom('askAgain' as const, 'checkCable' as const, 'checkTwice' as const),
    link: fc.constantFrom('host:studio', 'host:gone'),
  }),
  fc.record({
    kind: fc.constant('ports' as const),
    link: fc.constantFrom('surface:desk', 'surface:gone'),
    choice: fc.record({ real: on, input: fc.constant(null), output: fc.constant(null) }),
  }),
);

/** All that can be said of how it is played: by the engine, by what is stored, and by each window. */
function account(windows: readonly Window[]) {
  const { engine } = EngineWorker.living.flatMap(({ world }) => world ?? [])[0];
  return {
    session: engine.session(),
    bank: engine.bank.start,
    holdOff: engine.holdOff,
    choosing: engine.choosing,
    stored: JSON.parse(localStorage.getItem(`rondo.session.${MIX.id}`) ?? 'null'),
    said: windows.map(({ engine: one }) => ({
      holdOff: one.holdOff(),
      setUp: one.setUp(),
      states: one.states(),
      ports: one.ports.choices(),
    })),
  };
}
interface EngineState {
  session(): unknown;
  readonly bank: { readonly start: number };
  readonly holdOff: boolean;
  readonly choosing: boolean;
}

/** Gives orders, each by one of some windows, and lets time go on between them. */
function give(windows: readonly Window[], list: readonly (readonly [number, Order])[]): void {
  for (const [who, one] of list) {
    windows[who % windows.length].engine.orders.give(one);
    clock += 10_000;
    for (const { runner } of EngineWorker.living) runner.tick();
  }
}

test('orders that are given in two windows leave the same engine, the same stored session and the same words as in one', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat({ max: 1 }), order), { minLength: 1, maxLength: 20 }),
      async (list) => {
        const accounts = [];
        for (const count of [1, 2]) {
          localStorage.clear();
          Channel.all = [];
          EngineWorker.living = [];
          locks = new Locks();
          Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
          clock = 0;
          const windows = [await windowWith(MIX)];
          if (count === 2) windows.push(await windowWith(MIX));
          // One window chooses and teaches for both: of two, each has its own.
          give(
            windows,
            list.map(([who, one]) => [
              one.kind === 'choosing' || one.kind === 'teaching' ? 0 : who,
              one,
            ]),
          );
          const { said, ...rest } = account(windows);
          accounts.push({
            ...rest,
            ...said[0],
            refused: windows.flatMap((one) => one.refused).length,
          });
          for (const one of said) expect(one).toEqual(said[0]);
          for (const one of windows) one.leave();
        }
        expect(accounts[1]).toEqual(accounts[0]);
      },
    ),
    { numRuns: 60 },
  );
});

test('touches are kept away as long as any window wants it; one that is gone wants it no more', async () => {
  const first = await windowWith(MIX);
  const second = await windowWith(MIX);
  const isKept = () => account([first]).choosing;
  second.engine.setChoosing(true);
  first.engine.setChoosing(true);
  first.engine.setChoosing(false);
  expect(isKept()).toBe(true);
  second.leave();
  expect(isKept()).toBe(false);
});

test('an engine that begins anew, here or in the next window, holds off and is kept away from as before', async () => {
  const first = await windowWith(MIX);
  const second = await windowWith(MIX);
  second.engine.setHoldOff(true);
  second.engine.setChoosing(true);
  first.engine.workers.replace();
  expect(account([first, second])).toMatchObject({ holdOff: true, choosing: true });
  EngineWorker.living.forEach((worker) => worker.terminate());
  Channel.all = Channel.all.filter((_, at) => at > 0);
  locks.free('rondo-engine');
  expect(second.engine.workers.home()).toBe('here');
  expect(account([second])).toMatchObject({ holdOff: true, choosing: true });
});

test('what is about a profile that does not play is refused in words, and nothing is kept of how it is played', async () => {
  const first = await windowWith(MIX);
  const second = await windowWith(neapRink());
  second.engine.moveBank(8);
  second.engine.askAgain('host:studio');
  expect(second.refused).toEqual(['otherProfile', 'otherProfile']);
  expect(second.engine.otherProfile()?.name).toBe(MIX.name);
  expect(second.engine.playedNow).toBeNull();
  expect(account([first]).bank).toBe(0);
  // What is about all is done.
  second.engine.setHoldOff(true);
  expect(account([first]).holdOff).toBe(true);
});

test('an order that nobody answers is said not to be done', async () => {
  await windowWith(MIX);
  const second = await windowWith(MIX);
  Channel.all = [];
  second.engine.panic();
  await jest.advanceTimersByTimeAsync(5_000);
  expect(second.refused).toEqual(['noAnswer']);
});

test('what a window of another version says is left alone', async () => {
  const first = await windowWith(MIX);
  const before = account([first]);
  for (const data of [
    null,
    'panic',
    { said: 'order', from: 1, n: 1, profile: MIX.id, order: { kind: 'panic' } },
    { said: 'order', from: crypto.randomUUID(), n: 1, profile: MIX.id, order: { kind: 'dance' } },
    {
      said: 'order',
      from: crypto.randomUUID(),
      n: 1,
      profile: MIX.id,
      order: { kind: 'bank', by: 1e9 },
    },
  ])
    new Channel('rondo.orders').postMessage(data);
  expect(account([first])).toEqual(before);
});
