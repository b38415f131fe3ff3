import { jest } from '@jest/globals';
import { EngineWorkers, type WorkersOwner } from './engine-workers';

/** Workers that live until they are told to die. */
class StandInWorker {
  static all: StandInWorker[] = [];
  onerror: ((event: Event) => void) | null = null;
  onmessage: ((event: MessageEvent) => void) | null = null;
  readonly said: { kind: string }[] = [];
  isGone = false;
  constructor() {
    StandInWorker.all.push(this);
  }
  postMessage(message: { kind: string }): void {
    if (!this.isGone) this.said.push(message);
  }
  terminate(): void {
    this.isGone = true;
  }
  die(): void {
    this.onerror?.(new Event('error', { cancelable: true }));
  }
  static get living(): StandInWorker[] {
    return this.all.filter(({ isGone }) => !isGone);
  }
}

type Hold = (lock: object | null) => unknown;

/** A lock as the W3C's Web Locks describe it, of one other window that may have it and let go of it. */
function locks(isTaken: boolean) {
  const waiting: Hold[] = [];
  const request = (_name: string, options: { ifAvailable?: boolean } | Hold, hold?: Hold) => {
    if (typeof options === 'function') waiting.push(options);
    else hold?.(isTaken ? null : {});
    return Promise.resolve();
  };
  Object.defineProperty(navigator, 'locks', { value: { request }, configurable: true });
  return { letGo: () => waiting.shift()?.({}) };
}

function workers() {
  const told: string[] = [];
  const tell = (what: string) => () => void told.push(what);
  const owner: WorkersOwner = {
    hear: ({ kind }) => told.push(`heard ${kind}`),
    here: tell('here'),
    begun: tell('begun'),
    died: tell('died'),
    describe: () => {
      told.push('describe');
      one.postToDescriber({ kind: 'repaint' });
    },
  };
  const one = new EngineWorkers(owner);
  return { one, told };
}

let now = 0;
beforeEach(() => {
  StandInWorker.all = [];
  Object.assign(globalThis, { Worker: StandInWorker });
  now = 0;
  jest.spyOn(Date, 'now').mockImplementation(() => now);
});
afterEach(() => jest.restoreAllMocks());

test('the first window plays, however often it is started', () => {
  locks(false);
  const { one, told } = workers();
  one.start();
  one.start();
  expect(one.home()).toBe('here');
  expect(StandInWorker.living).toHaveLength(1);
  expect(told).toEqual(['begun', 'here']);
  one.post({ kind: 'panic' });
  one.postToDescriber({ kind: 'repaint' });
  expect(StandInWorker.all.map(({ said }) => said)).toEqual([[{ kind: 'panic' }]]);
});

test('an engine that dies is replaced at once, and left alone when it dies again and again', () => {
  locks(false);
  const { one, told } = workers();
  one.start();
  for (let deaths = 1; deaths <= 3; deaths++) {
    StandInWorker.living[0].die();
    expect(one.restarts()).toBe(deaths);
    expect(StandInWorker.living).toHaveLength(1);
  }
  StandInWorker.living[0].die();
  expect(one.failed()).toBe(true);
  expect(one.isPlaying).toBe(false);
  expect(StandInWorker.living).toHaveLength(0);
  // What was held is let go of each time, before another one begins.
  expect(told.filter((what) => what === 'died')).toHaveLength(4);
  one.replace();
  expect(StandInWorker.living).toHaveLength(0);
  one.startAgain();
  expect(one.failed()).toBe(false);
  expect(StandInWorker.living).toHaveLength(1);
});

test('deaths that lie far apart are no row', () => {
  locks(false);
  const { one } = workers();
  one.start();
  for (let deaths = 0; deaths < 12; deaths++) {
    StandInWorker.living[0].die();
    now += 8_000;
  }
  expect(one.failed()).toBe(false);
  expect(one.restarts()).toBe(12);
});

test('a second window compiles in a worker of its own, also after that has died, and plays once the first is closed', () => {
  const { letGo } = locks(true);
  const { one, told } = workers();
  one.start();
  expect(one.home()).toBe('elsewhere');
  one.post({ kind: 'panic' });
  expect(StandInWorker.living.map(({ said }) => said)).toEqual([[{ kind: 'repaint' }]]);
  StandInWorker.living[0].die();
  expect(StandInWorker.living.map(({ said }) => said)).toEqual([[{ kind: 'repaint' }]]);
  // It held nothing, and what another window holds is not let go of.
  expect(told).not.toContain('died');
  one.replace();
  expect(one.home()).toBe('elsewhere');
  letGo();
  expect(one.home()).toBe('here');
  expect(StandInWorker.living).toHaveLength(1);
  expect(told.slice(-2)).toEqual(['begun', 'here']);
});

test('a worker that dies of what it is to compile is left alone, until another edit or a hand', () => {
  locks(true);
  const { one } = workers();
  one.start();
  while (StandInWorker.living.length > 0) StandInWorker.living[0].die();
  expect(one.failed()).toBe(true);
  one.postToDescriber({ kind: 'repaint' });
  expect(StandInWorker.living).toHaveLength(0);
  one.startAgain();
  expect(StandInWorker.living).toHaveLength(1);
});
