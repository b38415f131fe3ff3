import fc from 'fast-check';
import { modelOfHost } from '@rondo/core/host';
import { bind, type Profile } from '@rondo/core/profile';
import {
  LinkDecoder,
  MessageMap,
  PANE,
  Sender,
  patternSchema,
  topOf,
  type Pattern,
  type Surface,
} from '@rondo/core/surface';
import {
  OscStream,
  inStream,
  readOscMessage,
  writeOscMessage,
  type OscArgument,
} from '@rondo/core/wire';
import { LAMPROOM, lamproomProfile, osc } from '../testing/osc-room.js';
import { Room } from '../testing/room.js';
import { Desk, type PlainHost } from '@rondo/core/standin';

const room = (change: (profile: Profile) => Profile = (same) => same) =>
  new Room({ profile: change(lamproomProfile()), charts: { lamproom: LAMPROOM } });
const DESK = 1;
const pane = (made: Room) => made.world.desks.get(`surface:${made.profile.surfaceOrder[0]}`)!;
const program = (made: Room) => [...made.world.hosts.values()][0] as PlainHost;
const at = (made: Room, fn: string) => program(made).values[program(made).slotOf(fn)];
const FADERS = ['grand', 'dim', 'panX', 'panY', 'speed', 'cue'];

/** What leaves on a link, as messages. */
function watch(made: Room, kind: 'surface' | 'host') {
  const messages: { address: string; values: readonly unknown[]; tags: string }[] = [];
  const stream = new OscStream((bytes, from, to) => {
    const message = readOscMessage(bytes.slice(from, to));
    if (!message) throw new Error('What Rondo sends is no OSC message.');
    messages.push(message);
  });
  made.world.tap = (link, bytes, from, to) => {
    if (made.world.engine.plan.links[link].kind === kind) stream.feed(bytes, from, to);
  };
  return messages;
}
const hear = (made: Room, link: number, address: string, args: readonly OscArgument[]) => {
  const bytes = inStream(writeOscMessage(address, args));
  return made.do(() => made.world.engine.at(made.world.time).receive(link, bytes, 0, bytes.length));
};

test('a fader on the glass moves a function that speaks OSC, and follows it', () => {
  fc.assert(
    fc.property(fc.nat(FADERS.length - 1), fc.nat(1000), fc.nat(1000), (n, hand, told) => {
      const made = room();
      const control = `fader-${n + 1}`;
      const { kind } = LAMPROOM.rows.find(({ id }) => id === FADERS[n])!;
      expect(kind).toBe('continuous');
      const step = 1 / topOf(LAMPROOM.rows.find(({ id }) => id === FADERS[n])!.message);
      made.do(() => pane(made).moveTo(control, hand / 1000));
      expect(Math.abs(at(made, FADERS[n]) - hand / 1000)).toBeLessThanOrEqual(step);
      made.do(() => program(made).set(program(made).slotOf(FADERS[n]), told / 1000));
      made.run(1_500_000);
      expect(Math.abs(pane(made).position(control) - told / 1000)).toBeLessThanOrEqual(2 * step);
    }),
    { numRuns: 40 },
  );
});

test('values go as their type and range say; an address with two arguments has both', () => {
  const made = room();
  const said = watch(made, 'host');
  made.do(() => pane(made).moveTo('fader-1', 1));
  made.do(() => pane(made).moveTo('fader-2', 1));
  made.do(() => pane(made).moveTo('fader-3', 0.25));
  made.do(() => pane(made).moveTo('fader-4', 0.75));
  made.do(() => pane(made).moveTo('fader-5', 1));
  made.do(() => pane(made).moveTo('fader-6', 0.5));
  made.press('key-1', 1);
  const last = (address: string) => said.filter((one) => one.address === address).at(-1);
  expect(last('/grand')).toMatchObject({ values: [6], tags: 'f' });
  expect(last('/dim')).toMatchObject({ values: [255], tags: 'i' });
  const [x, y] = last('/head/1/xy')?.values as number[];
  expect([x, y].map((v) => Math.round(v * 100) / 100)).toEqual([0.25, 0.75]);
  expect(last('/speed')).toMatchObject({ values: [0], tags: 'd' });
  expect(last('/cue')).toMatchObject({ values: [50], tags: 'h' });
  expect(last('/blind')).toMatchObject({ values: [true], tags: 'T' });
});

test('a message of several arguments says of its neighbours where the program has them, not what was sent last', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 100 }), fc.boolean(), (there, isSentBefore) => {
      const made = room();
      if (isSentBefore) made.do(() => pane(made).moveTo('fader-4', 0.9));
      made.do(() => program(made).set(program(made).slotOf('panY'), there / 100)).run(1_000_000);
      const said = watch(made, 'host');
      made.do(() => pane(made).moveTo('fader-3', 0.25));
      const [, y] = said.filter(({ address }) => address === '/head/1/xy').at(-1)!
        .values as number[];
      expect(y).toBeCloseTo(there / 100, 4);
      expect(at(made, 'panY')).toBeCloseTo(there / 100, 4);
    }),
    { numRuns: 20 },
  );
});

test('one message may mean several controls, by its arguments and by a pattern of addresses', () => {
  const made = room();
  hear(made, 0, '/pane/fader/[1-3]', [{ as: 'double', value: 0.5 }]);
  expect(['grand', 'dim', 'panX', 'panY'].map((fn) => Math.round(at(made, fn) * 10))).toEqual([
    5, 5, 5, 0,
  ]);
  hear(made, 0, '/*/*/*', [{ as: 'integer', value: 1 }]);
  expect(['grand', 'panY', 'cue'].map((fn) => at(made, fn))).toEqual([1, 1, 1]);
  hear(made, DESK, '/head/1/xy', [
    { as: 'float', value: 0.2 },
    { as: 'integer', value: 1 },
  ]);
  made.run(1_500_000);
  expect(pane(made).position('fader-3')).toBeCloseTo(0.2, 2);
  expect(pane(made).position('fader-4')).toBe(1);
});

test('what is not well formed, unknown, or no number moves nothing, and is told', () => {
  const made = room();
  const before = [...program(made).values];
  for (const bytes of [
    Uint8Array.of(0x2f, 0x61, 0, 0, 0x2c, 0x66, 0, 0),
    Uint8Array.of(0, 0, 0, 0),
  ]) {
    const framed = inStream(bytes);
    made.do(() => made.world.engine.at(made.world.time).receive(0, framed, 0, framed.length));
  }
  hear(made, 0, '/nobody/1', [{ as: 'float', value: 1 }]);
  hear(made, 0, '/pane/fader/1', [{ as: 'string', value: 'loud' }]);
  expect([...program(made).values]).toEqual(before);
  expect(made.notices('strangeOsc')).toHaveLength(1);
});

test('a host is asked by its own message, and sent one that is typed; it has no notes', () => {
  const made = room((profile) => {
    const [surface] = profile.surfaceOrder;
    const [host] = profile.hostOrder;
    const key = (n: number) => ({ surface, control: `key-${n}`, part: 'push' }) as const;
    const sends = bind(profile, 'Bind', key(2), {
      do: 'send',
      to: { host },
      message: '/cue/go 3 "Act two" value',
    }).document;
    const raw = bind(sends, 'Bind', key(4), { do: 'send', to: { host } }).document;
    return bind(raw, 'Bind', key(3), { do: 'notes', to: { host }, channel: 1, notes: [60] })
      .document;
  });
  const said = watch(made, 'host');
  made.do(() => pane(made).press('key-2', true));
  expect(said).toEqual([{ address: '/cue/go', values: [3, 'Act two', 1], tags: 'isf' }]);
  made.do(() => pane(made).press('key-3', true));
  expect(said).toHaveLength(1);
  made.do(() => pane(made).press('key-4', true));
  expect(said.at(-1)).toMatchObject({ address: '/pane/key/4', tags: 'i' });
  const { plan } = made.world.engine;
  expect(plan.broken.map(({ why }) => why)).toEqual([
    'Lamproom speaks OSC, which has no notes. Send it a message instead.',
  ]);
  made.do(() => made.world.engine.askAgain(DESK, made.world.time));
  expect(said.at(-1)).toEqual({ address: '/lamproom/tell', values: [], tags: '' });
});

test('a host is asked only by what its rows speak, and an onboard page of a touch screen says nothing of MIDI', () => {
  const ask = (host: Partial<typeof LAMPROOM>) => modelOfHost({ ...LAMPROOM, ...host }).ask;
  expect(ask({})?.[4]).toBe(0x2f);
  expect(ask({ ask: 'F0 7D F7' })).toBeUndefined();
  expect(ask({ ask: '/tell', rows: [] })).toBeUndefined();
  const paged: Surface = { ...PANE, pages: [{ id: 'two', label: 'Two', enter: 'C0 05' }] };
  const said: number[] = [];
  const desk = new Desk(paged, (bytes, from, to) => said.push(...bytes.slice(from, to)));
  desk.turnPage(1);
  expect(said).toEqual([]);
});

test('what a sender writes a decoder reads as the same whole number, whatever the type and range', () => {
  const ends = fc.integer({ min: -2_000, max: 2_000 });
  fc.assert(
    fc.property(
      fc.constantFrom('float', 'double', 'integer', 'long', 'boolean'),
      fc.option(fc.tuple(ends, ends).filter(([a, b]) => a !== b)),
      fc.integer({ min: 1, max: 16 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (as, range, argument, share) => {
        const [low, high] = range ?? [];
        const pattern = patternSchema.parse({ ...osc('/a/b', { argument }), as, low, high });
        const sender = new Sender([pattern]);
        const buffer = new Uint8Array(512);
        const wire = sender.wire(0, share);
        const length = sender.write(0, wire, buffer, 0);
        const decoder = new LinkDecoder(new Float64Array(1), new MessageMap([pattern]));
        const { told } = decoder.acceptOsc(buffer, 4, length);
        expect(told).toHaveLength(1);
        expect(Math.round(told[0].value * topOf(pattern))).toBe(wire);
      },
    ),
  );
});

test('the glass that ships with Rondo has a message of its own for every control', () => {
  const patterns = PANE.controls.flatMap(({ sends }): Pattern[] => Object.values(sends));
  expect(patterns.length).toBe(PANE.controls.length);
  expect(new MessageMap(patterns).collisions).toEqual([]);
});
