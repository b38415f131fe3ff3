import fc from 'fast-check';
import JZZ from 'jzz';
import {
  addRoute,
  changeRoute,
  emptyProfile,
  loopOf,
  neapRink,
  nineFerriesMix,
  readProfile,
  removeHost,
  removeRoute,
  removeSurface,
  type Destination,
  type MessageKind,
  type Profile,
  type Route,
} from '@rondo/core/profile';
import { messageHostSchema, type MessageHost } from '@rondo/core/host';
import { compile } from '@rondo/core/round';
import type { Control } from '@rondo/core/surface';
import { GENERIC_SURFACE, cc, control, note } from '../../testing/bare-surface.js';
import { Room } from '../../testing/room.js';

/** What a general-purpose MIDI library says of a message. */
interface Said {
  isNoteOn(): boolean;
  isNoteOff(): boolean;
  getChannel(): number | undefined;
  setChannel(channel: number): Said & Iterable<number>;
  getNote(): number | undefined;
  setNote(note: number): Said & Iterable<number>;
}
const general = JZZ.MIDI as unknown as (bytes: readonly number[]) => Said & Iterable<number>;
const hex = (bytes: Iterable<number>) =>
  [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');

/** A program with one function, that tells how it stands. */
const PLAIN: MessageHost = messageHostSchema.parse({
  format: 'rondo-host',
  version: 1,
  id: 'plain',
  name: 'Plain',
  about: '',
  tells: 'all',
  ask: '',
  bytesPerSecond: 60_000,
  rows: [{ id: 'level', name: 'Level', kind: 'continuous', message: cc(20), feedback: 'same' }],
});

/** A box on the way to two programs; a key that is bound, and nothing else is. */
function room(...routes: (Partial<Route> & { readonly to: Destination })[]): Room {
  const empty = emptyProfile('routes', 'Routes');
  let profile: Profile = {
    ...empty,
    surfaces: {
      s: { id: 's', model: 'own', label: 'Own' },
      t: { id: 't', model: 'own', label: 'Other' },
    },
    surfaceOrder: ['s', 't'],
    hosts: {
      a: { id: 'a', model: 'plain', label: 'A' },
      b: { id: 'b', model: 'plain', label: 'B' },
    },
    hostOrder: ['a', 'b'],
    bindings: {
      key: {
        id: 'key',
        layer: 'base',
        control: { surface: 's', control: 'key', part: 'push' },
        actions: [{ do: 'flag', flag: 'f', how: 'toggle' }],
      },
    },
    bindingOrder: ['key'],
    flags: { f: { id: 'f', label: 'F' } },
    flagOrder: ['f'],
  };
  for (const { from = { surface: 's' }, to, ...terms } of routes)
    profile = addRoute(profile, from, to, { kinds: ['note'], ...terms }).document;
  const surface = {
    ...GENERIC_SURFACE,
    controls: [control('key', 'button', { push: note(127) })],
  };
  const made = new Room({ profile, own: { own: surface }, charts: { plain: PLAIN } });
  made.sent.clear();
  return made;
}
/** Two surfaces on one input: a key and a knob on the one, a parameter in fourteen bits on the other. */
function sharing(): Room {
  const own = (controls: readonly Control[]) => ({ ...GENERIC_SURFACE, controls: [...controls] });
  let profile = room().profile;
  profile = {
    ...profile,
    surfaces: { ...profile.surfaces, t: { id: 't', model: 'second', label: 'Other' } },
  };
  for (const surface of ['s', 't'])
    profile = addRoute(
      profile,
      { surface },
      { host: surface === 's' ? 'a' : 'b' },
      { kinds: ['note', 'controller', 'program', 'bend', 'pressure'] },
    ).document;
  const made = new Room({
    profile,
    own: {
      own: own([
        control('key', 'button', { push: note(127) }),
        control('knob', 'knob', { value: cc(20) }),
      ]),
      second: own([
        control('fine', 'fader', { value: { type: 'nrpn', channel: 1, number: 9, bits: 14 } }),
        control('wheel', 'wheel', { value: { type: 'pitchBend', channel: 1, bits: 14 } }),
      ]),
    },
    charts: { plain: PLAIN },
  });
  made.sent.clear();
  return made;
}

const A = { host: 'a' };
const B = { host: 'b' };
const heard = (one: Room, link: string) => (one.sent.get(link) ?? []).map(hex);
function reload(one: Room, profile: Profile): void {
  one.profile = profile;
  one.world.load(compile(profile, one.library));
  one.run(50_000);
}

const kindsOf = (bytes: readonly number[]): MessageKind => {
  const said = general(bytes);
  if (said.isNoteOn() || said.isNoteOff()) return 'note';
  switch (bytes[0] >> 4) {
    case 0xa:
    case 0xd:
      return 'pressure';
    case 0xb:
      return 'controller';
    case 0xc:
      return 'program';
    case 0xe:
      return 'bend';
    default:
      return bytes[0] === 0xf0 ? 'sysex' : 'clock';
  }
};
const channelMessage = fc
  .tuple(
    fc.constantFrom(0x80, 0x90, 0x90, 0xa0, 0xb0, 0xc0, 0xd0, 0xe0),
    fc.nat(15),
    // The bound key is left out.
    fc.nat(126),
    fc.nat(127),
  )
  .map(([kind, channel, one, two]) =>
    (kind & 0xe0) === 0xc0 ? [kind | channel, one] : [kind | channel, one, two],
  );
const other = fc.constantFrom<number[]>([0xf8], [0xfa], [0xfc], [0xf0, 0x7d, 1, 0xf7], [0xfe]);
const terms = fc.record({
  kinds: fc.uniqueArray(
    fc.constantFrom<MessageKind>(
      'note',
      'controller',
      'program',
      'bend',
      'pressure',
      'sysex',
      'clock',
    ),
  ),
  channels: fc.option(fc.uniqueArray(fc.integer({ min: 1, max: 16 }), { minLength: 1 }), {
    nil: undefined,
  }),
  notes: fc.option(
    fc
      .tuple(fc.nat(127), fc.nat(127))
      .map(([one, two]) => ({ from: Math.min(one, two), to: Math.max(one, two) })),
    { nil: undefined },
  ),
  transpose: fc.option(fc.integer({ min: -127, max: 127 }), { nil: undefined }),
  channel: fc.option(fc.integer({ min: 1, max: 16 }), { nil: undefined }),
  rest: fc.boolean(),
});

/** What goes along a route of a message, as a reader of the sentence would have it; null for nothing. */
function along(route: Route, bytes: readonly number[]): number[] | null {
  if (bytes[0] === 0xfe || !route.kinds.includes(kindsOf(bytes))) return null;
  if (bytes[0] >= 0xf0) return [...bytes];
  const said = general(bytes);
  const channel = said.getChannel()!;
  if (route.channels && !route.channels.includes(channel + 1)) return null;
  let out: Iterable<number> = bytes;
  const hasNote = [0x80, 0x90, 0xa0].includes(bytes[0] & 0xf0);
  if (hasNote) {
    const at = bytes[1];
    if (route.notes && (at < route.notes.from || at > route.notes.to)) return null;
    const to = at + (route.transpose ?? 0);
    // Taken, and out of every range: it goes nowhere.
    if (to < 0 || to > 127) return [];
    out = [bytes[0], to, bytes[2]];
  }
  const list = [...out];
  return route.channel === undefined ? list : [...general(list).setChannel(route.channel - 1)];
}

test('each message goes where its sentences say, changed as they say, and nowhere else', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(terms, fc.boolean()), { maxLength: 4 }),
      fc.array(fc.oneof({ weight: 6, arbitrary: channelMessage }, other), { maxLength: 12 }),
      (routes, messages) => {
        const one = room(...routes.map(([of, isA]) => ({ ...of, to: isA ? A : B })));
        const list = one.profile.routeOrder.map((id) => one.profile.routes[id]);
        for (const bytes of messages) {
          one.sent.clear();
          // Nothing sounds, so that each message is for itself.
          one.say('surface:s', hex(bytes));
          const wanted: Record<string, string[]> = { 'host:a': [], 'host:b': [] };
          const plain = list.filter(({ rest }) => !rest);
          const rest = list.filter((route) => route.rest);
          let isTaken = false;
          for (const route of [...plain, ...rest]) {
            if (route.rest && isTaken) continue;
            const goes = along(route, bytes);
            if (goes) isTaken = true;
            if (goes && goes.length > 0) {
              const to = `host:${'host' in route.to ? (route.to.host as string) : ''}`;
              wanted[to].push(hex(goes));
            }
          }
          for (const [link, words] of Object.entries(wanted))
            expect([bytes, link, heard(one, link)]).toEqual([bytes, link, words]);
          const { world } = one;
          world.engine.panic(world.time);
          one.run(1_000);
        }
      },
    ),
    { numRuns: 60 },
  );
});

/** Notes that a program was told to begin more often than to end. */
function sounding(one: Room, links: readonly string[]): string[] {
  const on = new Set<string>();
  for (const link of links)
    for (const bytes of one.sent.get(link) ?? []) {
      const said = general(bytes);
      const key = `${link} ${said.getChannel()} ${said.getNote()}`;
      if (said.isNoteOn()) on.add(key);
      else if (said.isNoteOff()) on.delete(key);
    }
  return [...on];
}

test('whatever becomes of its route, of the key that it came from or of the cable, no note hangs', () => {
  const edit = fc.constantFrom(
    'transpose',
    'channel',
    'remove',
    'to',
    'bind',
    'panic',
    'unplug',
    'range',
    'rest',
    'nothing',
  );
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(15), fc.nat(126)), { minLength: 1, maxLength: 6 }),
      fc.array(edit, { minLength: 1, maxLength: 4 }),
      (keys, edits) => {
        const one = room(
          { to: A, transpose: 12 },
          { to: B, channel: 3, rest: false },
          { to: B, rest: true },
        );
        for (const [channel, key] of keys) one.say('surface:s', hex([0x90 | channel, key, 100]));
        for (const how of edits) {
          const { world, profile } = one;
          const [first] = profile.routeOrder;
          if (how === 'panic') world.engine.panic(world.time);
          else if (how === 'unplug')
            world.engine.setInputOpen(world.engine.linkOf('surface:s'), false, world.time);
          else if (how === 'bind') {
            const binding = { ...profile.bindings['key'], id: 'more' };
            reload(one, {
              ...profile,
              bindings: { ...profile.bindings, more: binding },
              bindingOrder: ['key', 'more'],
            });
          } else if (first !== undefined)
            reload(
              one,
              how === 'remove'
                ? removeRoute(profile, first).document
                : how === 'nothing'
                  ? profile
                  : changeRoute(profile, first, {
                      ...(how === 'transpose' ? { transpose: -5 } : {}),
                      ...(how === 'channel' ? { channel: 9 } : {}),
                      ...(how === 'to' ? { to: B } : {}),
                      ...(how === 'range' ? { notes: { from: 0, to: 3 } } : {}),
                      ...(how === 'rest' ? { rest: true } : {}),
                    }).document,
            );
          one.run(50_000);
        }
        for (const [channel, key] of keys) one.say('surface:s', hex([0x80 | channel, key, 0]));
        expect(sounding(one, ['host:a', 'host:b'])).toEqual([]);
      },
    ),
    { numRuns: 100 },
  );
});

test('what sounds by a route is in the will of its program, and ends with it', () => {
  const one = room({ to: A, transpose: 12 });
  one.say('surface:s', '90 3c 40');
  const { engine } = one.world;
  expect(hex(engine.releaseBytes(engine.linkOf('host:a')))).toBe('90 48 00');
  one.say('surface:s', '80 3c 20');
  expect(engine.releaseBytes(engine.linkOf('host:a'))).toHaveLength(0);
  // The release velocity goes on with it.
  expect(heard(one, 'host:a')).toEqual(['90 48 40', '80 48 20']);
});

test('what is bound stays with its binding, unless that passes it on; then it goes along every route that has its channel', () => {
  const one = room({ to: A, kinds: ['controller'] }, { to: B, channels: [2] });
  one.say('surface:s', '90 7f 40');
  expect(heard(one, 'host:a')).toEqual([]);
  const { key } = one.profile.bindings;
  reload(one, { ...one.profile, bindings: { key: { ...key, passOn: true } } });
  one.say('surface:s', '90 7f 40');
  expect([heard(one, 'host:a'), heard(one, 'host:b')]).toEqual([['90 7f 40'], []]);
});

test('a program’s own messages go on too, but for the states that it reports', () => {
  const one = room({ from: A, to: { surface: 't' }, kinds: ['clock', 'note', 'controller'] });
  one.say('host:a', 'fa', 'f8', 'f8', 'b0 14 20', 'b0 15 20', '90 3c 40');
  expect(heard(one, 'surface:t')).toEqual(['fa', 'f8', 'f8', 'b0 15 20', '90 3c 40']);
  expect(one.belief('level', 'a').value).toBeCloseTo(32 / 127);
});

test('the jitter of a clock that goes on is that of RFC 3550 for even ticks', () => {
  const one = room({ to: A, kinds: ['clock'] });
  const { engine } = one.world;
  const link = engine.linkOf('surface:s');
  const pace = () => engine.routes(one.world.time)[0];
  const tick = (after: number) => {
    one.run(after);
    engine.at(one.world.time).receive(link, Uint8Array.of(0xf8), 0, 1);
  };
  for (let n = 0; n < 24; n++) tick(20_000);
  expect(pace()).toMatchObject({ id: 'route-1', passed: 24, cameJitter: 0 });
  // J += (|D| − J) / 16: gaps of 20, 25, 20 … ms have |D| = 5 ms each.
  let jitter = 0;
  for (let n = 0; n < 40; n++) {
    tick(n % 2 === 0 ? 25_000 : 20_000);
    jitter += (5_000 - jitter) / 16;
  }
  expect(pace().cameJitter).toBeCloseTo(jitter, 3);
  expect(pace().wentJitter).toBeCloseTo(jitter, 3);
  expect(pace().tickGap).toBeGreaterThan(20_000);
  expect(pace().tickGap).toBeLessThan(25_000);
  // A clock that has stopped has no pace.
  one.run(600_000);
  expect(pace().tickGap).toBe(0);
});

describe('loops', () => {
  const between = (from: Destination, to: Destination, more: Partial<Route> = {}): Route =>
    ({
      id: `${JSON.stringify(from)}${JSON.stringify(to)}`,
      from,
      to,
      kinds: ['note'],
      ...more,
    }) as Route;
  const [S, T] = [{ surface: 's' }, { surface: 't' }];
  const base = room().profile;

  test('are told with the way that a message would take', () => {
    expect(loopOf(base, between(S, A), [])).toBeNull();
    expect(loopOf(base, between(A, S), [between(S, A)])).toEqual(['A', 'Own', 'A']);
    expect(loopOf(base, between(B, S), [between(S, A), between(A, B)])).toEqual([
      'B',
      'Own',
      'A',
      'B',
    ]);
    expect(loopOf(base, between(S, S), [])).toEqual(['Own', 'Own']);
  });

  test('are none where no message goes all the way round', () => {
    expect(loopOf(base, between(A, S, { kinds: ['clock'] }), [between(S, A)])).toBeNull();
    expect(
      loopOf(base, between(A, S, { channels: [2] }), [between(S, A, { channels: [1] })]),
    ).toBeNull();
    expect(
      loopOf(base, between(A, S, { channels: [2] }), [
        between(S, A, { channels: [1], channel: 2 }),
      ]),
    ).toBeNull();
    expect(
      loopOf(base, between(A, S, { channels: [2], channel: 1 }), [
        between(S, A, { channels: [1], channel: 2 }),
      ]),
    ).toEqual(['A', 'Own', 'A']);
  });

  test('that a file brings along are not gone: the first of its routes count', () => {
    const one = room({ to: A }, { from: A, to: S }, { from: A, to: T });
    expect(one.world.engine.plan.routes.map(({ id }) => id)).toEqual(['route-1', 'route-3']);
  });

  test('of any routes those that count let no message come back', () => {
    const ends = [S, T, A, B];
    const route = fc.tuple(fc.nat(3), fc.nat(3), terms);
    fc.assert(
      fc.property(fc.array(route, { maxLength: 7 }), (list) => {
        const one = room(
          ...list.map(([from, to, of]) => ({ ...of, from: ends[from], to: ends[to] })),
        );
        const counted = one.world.engine.plan.routes;
        // Each kind for itself, as a graph of links and channels: no walk meets its start.
        for (let bit = 0; bit < 7; bit++) {
          const next = Array.from({ length: 4 * 16 }, (_, at) =>
            counted
              .filter(
                ({ from, kinds, channels }) =>
                  from === at >> 4 && (kinds >> bit) & 1 && (channels >> (at & 15)) & 1,
              )
              .map(({ to, channel }) => (to << 4) | (channel < 0 ? at & 15 : channel)),
          );
          for (let start = 0; start < next.length; start++) {
            const seen = new Set(next[start]);
            for (const at of seen) for (const to of next[at]) seen.add(to);
            expect(seen.has(start)).toBe(false);
          }
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('in the profile', () => {
  test('a route goes with either of its ends', () => {
    const { profile } = room({ to: A }, { to: B }, { from: B, to: { surface: 't' } });
    expect(removeHost(profile, 'b').document.routeOrder).toEqual(['route-1']);
    expect(removeSurface(profile, 's').document.routeOrder).toEqual(['route-3']);
  });

  test('before version 5 a surface said itself where its messages go on to', () => {
    const { routes: _routes, routeOrder: _order, ...rest } = nineFerriesMix();
    const onward = { to: { host: 'studio' }, kinds: ['note'] };
    const old = {
      ...rest,
      version: 4,
      surfaces: { ...rest.surfaces, desk: { ...rest.surfaces['desk'], onward } },
    };
    const read = readProfile(JSON.parse(JSON.stringify(old)));
    expect(read.ok && read.document.routes).toEqual({
      desk: { id: 'desk', from: { surface: 'desk' }, ...onward },
    });
    expect(read.ok && read.document.surfaces).toEqual(rest.surfaces);
    // What is shown beside its controls stays.
    const { routes: _1, routeOrder: _2, ...rink } = neapRink();
    const same = readProfile({ ...rink, version: 4 });
    expect(same).toEqual({ ok: true, document: neapRink() });
  });
});

test('surfaces on one input: what is one’s own is nothing to the other, what is nobody’s goes on from both', () => {
  const both = (one: Room, bytes: readonly number[]) => {
    const { engine } = one.world;
    for (const key of ['surface:s', 'surface:t'])
      engine
        .at(one.world.time)
        .receive(engine.linkOf(key), Uint8Array.from(bytes), 0, bytes.length);
    one.run(20_000);
  };
  const owners: readonly [string, (bytes: readonly number[]) => boolean][] = [
    ['a', ([status, number]) => (status & 0xef) === 0x80 && number === 127],
    ['a', ([status, number]) => status === 0xb0 && number === 20],
    [
      'b',
      ([status, number]) => status === 0xb0 && [6, 38, 96, 97, 98, 99, 100, 101].includes(number),
    ],
    ['b', ([status]) => status === 0xe0],
  ];
  fc.assert(
    fc.property(
      fc.tuple(
        fc.constantFrom(0x80, 0x90, 0xa0, 0xb0, 0xe0),
        fc.constantFrom(0, 0, 5),
        fc.constantFrom(1, 6, 20, 21, 38, 98, 99, 127),
        fc.nat(127),
      ),
      ([kind, channel, one, two]) => {
        const bytes = [kind | channel, one, two];
        const made = sharing();
        const { engine } = made.world;
        for (const key of ['surface:s', 'surface:t']) engine.setHeardOn(engine.linkOf(key), 0);
        both(made, bytes);
        const owner = owners.find(([, isIts]) => isIts(bytes))?.[0];
        // The other's route, whatever it takes, has nothing of it.
        const others = ['a', 'b'].filter((host) => owner !== undefined && host !== owner);
        for (const host of others) expect(heard(made, `host:${host}`)).toEqual([]);
        if (owner === undefined && !(kind === 0x80) && !(kind === 0x90 && two === 0))
          for (const host of ['a', 'b']) expect(heard(made, `host:${host}`)).toEqual([hex(bytes)]);
      },
    ),
    { numRuns: 60 },
  );
});
