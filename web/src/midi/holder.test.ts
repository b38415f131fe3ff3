import { jest } from '@jest/globals';
import { installWebMidi, type MidiPlan } from '../../testing/web-midi';
import { withoutSysex } from './access';
import { PortHolder, type Wire } from './holder';
import type { FromEngine, FromPage, Standing, ToEngine, ToPage } from './protocol';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [
    { id: 'i1', name: 'Harrow 8' },
    { id: 'i2', name: 'Cable A' },
  ],
  outputs: [
    { id: 'o1', name: 'Harrow 8' },
    { id: 'o2', name: 'Cable B' },
  ],
};

/** One end of a channel whose messages arrive at once, and what has come out of it. */
function wire<Out>() {
  const told: Out[] = [];
  const end: Wire = { postMessage: (message: Out) => void told.push(message), onmessage: null };
  const say = (message: unknown, ports: Wire[] = []) =>
    end.onmessage?.call(end as MessagePort, { data: message, ports } as unknown as MessageEvent);
  return { end, told, say };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

function hold(plan: Partial<MidiPlan> = {}) {
  const navigator = {};
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: navigator });
  const control = installWebMidi({ navigator }, { ...PLAN, ...plan });
  const page = wire<ToPage>();
  new PortHolder(page.end);
  const engines: ReturnType<typeof wire<ToEngine>>[] = [];
  return {
    control,
    page,
    say: (message: FromPage) => page.say(message),
    join() {
      const engine = wire<ToEngine>();
      engines.push(engine);
      page.say({ kind: 'engine' }, [engine.end]);
      return { told: engine.told, say: (message: FromEngine) => engine.say(message) };
    },
    async ask(): Promise<Standing> {
      page.say({ kind: 'ask' });
      await jest.advanceTimersByTimeAsync(0);
      return this.standing();
    },
    standing(): Standing {
      const last = page.told.filter((m) => m.kind === 'standing').at(-1);
      if (last?.kind !== 'standing') throw new Error('Nothing is told of the ports.');
      return last.standing;
    },
  };
}
const NOTE = [0x90, 60, 1];
const note = Uint8Array.from(NOTE);
const OFF = Uint8Array.of(0x80, 60, 64);
const routes = (link: string, input: string | null, output: string | null): FromEngine => ({
  kind: 'routes',
  routes: [{ link, input, output }],
});

test.each([
  ['granted', 'granted', [true]],
  ['plain only', 'granted without SysEx', [true, false]],
  ['refused', 'refused', [true, false]],
  ['no platform', 'no platform', [true]],
] as const)('%s: asks with SysEx first and says “%s”', async (answer, state, requests) => {
  const holder = hold({ answer });
  expect((await holder.ask()).state).toBe(state);
  expect(holder.control.requests.map(({ sysex }) => sysex)).toEqual(requests);
});

test('a browser without Web MIDI is told as such', async () => {
  const holder = hold();
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: {} });
  expect((await holder.ask()).state).toBe('no support');
});

test('what comes in goes to the engine past the page, once, also after a second request', async () => {
  const holder = hold();
  const engine = holder.join();
  await holder.ask();
  holder.say({ kind: 'listen', id: 'i1' });
  engine.say(routes('surface:desk', 'i1', null));
  await holder.ask();
  holder.control.play('i1', NOTE);
  expect(engine.told).toMatchObject([{ kind: 'bytes', link: 'surface:desk', bytes: note }]);
  expect(holder.page.told.some((m) => m.kind === 'bytes')).toBe(false);
  holder.say({ kind: 'watch', on: true });
  holder.control.play('i1', NOTE);
  expect(engine.told).toHaveLength(2);
  expect(holder.page.told.filter((m) => m.kind === 'bytes')).toHaveLength(1);
  holder.say({ kind: 'ignore', id: 'i1' });
  holder.control.play('i1', NOTE);
  expect(engine.told).toHaveLength(2);
});

test('what the engine sends reaches its output, and it is told in lots what was taken', async () => {
  const holder = hold();
  const engine = holder.join();
  await holder.ask();
  engine.say(routes('host:studio', null, 'o1'));
  for (let i = 0; i < 64; i++)
    engine.say({ kind: 'sends', list: [{ link: 'host:studio', bytes: note }], wills: [] });
  engine.say({ kind: 'sends', list: [{ link: 'host:other', bytes: note }], wills: [] });
  expect(holder.control.sent).toEqual({ o1: Array<number[]>(64).fill(NOTE) });
  const taken = engine.told.reduce((sum, m) => sum + (m.kind === 'taken' ? m.bytes : 0), 0);
  expect(taken).toBeGreaterThan(64 * 3 - 64);
  expect(engine.told.length).toBeLessThan(4);
});

test('ports come and go, and are told', async () => {
  const holder = hold();
  await holder.ask();
  holder.control.plug('o1', false);
  expect(holder.standing().outputs.map(({ id }) => id)).toEqual(['o2']);
  holder.control.plug('o1', true);
  expect(holder.standing().outputs.map(({ id }) => id)).toEqual(['o1', 'o2']);
});

test('a port that another program has is told, and taken as soon as that leaves it', async () => {
  const holder = hold({ taken: ['i1', 'o1'] });
  const engine = holder.join();
  await holder.ask();
  holder.say({ kind: 'listen', id: 'i1' });
  engine.say(routes('surface:desk', 'i1', 'o1'));
  engine.say({ kind: 'sends', list: [{ link: 'surface:desk', bytes: note }], wills: [] });
  await jest.advanceTimersByTimeAsync(0);
  expect(Object.keys(holder.standing().trouble).sort()).toEqual(['i1', 'o1']);
  expect(holder.standing().trouble['i1']).toContain('Another program has it');
  await jest.advanceTimersByTimeAsync(5_000);
  engine.say({ kind: 'pong' });
  expect(Object.keys(holder.standing().trouble).sort()).toEqual(['i1', 'o1']);
  holder.control.leave('i1');
  holder.control.leave('o1');
  await jest.advanceTimersByTimeAsync(5_000);
  expect(holder.standing().trouble).toEqual({});
  holder.control.play('i1', NOTE);
  expect(engine.told.filter((m) => m.kind === 'bytes')).toHaveLength(1);
});

test.each([
  ['a worker that does not answer', () => jest.advanceTimersByTime(12_000)],
  ['a worker that is said to be dead', (h: ReturnType<typeof hold>) => h.say({ kind: 'release' })],
  ['another worker', (h: ReturnType<typeof hold>) => h.join()],
  ['a page that is closed', () => globalThis.dispatchEvent(new Event('pagehide'))],
] as [string, (h: ReturnType<typeof hold>) => unknown][])(
  '%s: what it held is released, once',
  async (_, die) => {
    const holder = hold();
    const engine = holder.join();
    await holder.ask();
    engine.say(routes('host:studio', null, 'o1'));
    engine.say({ kind: 'sends', list: [], wills: [{ link: 'host:studio', bytes: OFF }] });
    die(holder);
    die(holder);
    expect(holder.control.sent['o1']).toEqual([[...OFF]]);
  },
);

test('a worker that answers is left alone', async () => {
  const holder = hold();
  const engine = holder.join();
  await holder.ask();
  for (let second = 0; second < 60; second++) {
    jest.advanceTimersByTime(1_000);
    engine.say({ kind: 'pong' });
  }
  expect(holder.page.told.some((m) => m.kind === 'engine lost')).toBe(false);
  jest.advanceTimersByTime(12_000);
  expect(holder.page.told.filter((m) => m.kind === 'engine lost')).toHaveLength(1);
});

test('what is held is released at the port where it is held when its link gets another', async () => {
  const holder = hold();
  const engine = holder.join();
  await holder.ask();
  engine.say(routes('host:studio', null, 'o1'));
  engine.say({ kind: 'sends', list: [], wills: [{ link: 'host:studio', bytes: OFF }] });
  engine.say(routes('host:studio', null, 'o2'));
  expect(holder.control.sent).toEqual({ o1: [[...OFF]] });
});

test('without SysEx the displays are left out and the rest is sent', async () => {
  const holder = hold({ answer: 'plain only' });
  await holder.ask();
  const bytes = Uint8Array.of(0x90, 1, 1, 0xf0, 1, 2, 0xf7, 0xe0, 0, 64);
  holder.say({ kind: 'send', id: 'o1', bytes });
  expect(holder.control.sent['o1']).toEqual([
    [0x90, 1, 1],
    [0xe0, 0, 64],
  ]);
  expect([...withoutSysex(Uint8Array.of(0xf0, 1, 0xf7))]).toEqual([]);
});
