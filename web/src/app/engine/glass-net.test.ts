import fc from 'fast-check';
import { emptyProfile } from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import { World } from '@rondo/core/standin';
import type { FromGlassEngine, ToGlassEngine } from '@rondo/core/wire';
import { GlassNet } from './glass-net';
import { libraryWith } from './library';
import type { NetEvents } from './osc-net';
import type { Hand } from './protocol';

/** A world with a desk before a Studio, and the server's end by hand. */
function glass() {
  const library = libraryWith({ surfaces: {}, hosts: {} } as never);
  const world = new World(compile(emptyProfile('p', 'P'), library));
  const sockets: { events: NetEvents; said: FromGlassEngine[]; isShut: boolean }[] = [];
  const later: (() => void)[] = [];
  const hands: Hand[] = [];
  let now = 0;
  const net = new GlassNet(
    (events) => {
      const socket = { events, said: [] as FromGlassEngine[], isShut: false };
      sockets.push(socket);
      return {
        send: (text) => socket.said.push(JSON.parse(String(text)) as FromGlassEngine),
        close: () => (socket.isShut = true),
      };
    },
    (work) => later.push(work),
    { world: () => world, hand: (hand) => hands.push(hand), now: () => now },
  );
  const say = (message: ToGlassEngine) => sockets.at(-1)!.events.text(JSON.stringify(message));
  const there = (...glasses: string[]) =>
    say({ kind: 'there', glasses: glasses.map((one) => ({ glass: one, surface: 'harrow-8' })) });
  const after = (micros: number) => {
    now += micros;
    world.advance(now);
    net.tell();
  };
  return { net, world, sockets, later, hands, say, there, after };
}
const kinds = (said: readonly FromGlassEngine[]) => said.map(({ says }) => says.kind);

test('whoever comes sees the panel and all that it shows; then only what changes, not more often than a screen', () => {
  const { net, world, sockets, there, after } = glass();
  net.set(true);
  sockets[0].events.opened();
  after(1_000_000);
  expect(sockets[0].said).toEqual([]);
  there('a');
  expect(kinds(sockets[0].said)).toEqual(['panel', 'changes']);
  after(20_000);
  sockets[0].said.length = 0;
  const desk = world.desks.get('surface:desk')!;
  desk.moveTo('jog', 1);
  desk.moveTo('fader-1', 0.9);
  after(20_000);
  const [first] = sockets[0].said;
  const place = desk.surface.controls.findIndex(({ id }) => id === 'fader-1');
  expect(first.says).toMatchObject({ changes: { at: [[place, expect.closeTo(0.9, 2)]] } });
  desk.moveTo('fader-1', 0.8);
  after(1_000);
  expect(sockets[0].said).toHaveLength(1);
  after(8_000);
  expect(sockets[0].said).toHaveLength(2);
  // Another that comes sees all of it, and the first is left in peace.
  sockets[0].said.length = 0;
  there('a', 'b');
  expect(sockets[0].said.map(({ glass: only, says }) => `${only} ${says.kind}`)).toEqual([
    'b panel',
    'b changes',
  ]);
  const whole = sockets[0].said[1].says;
  expect(whole).toMatchObject({ changes: { page: 0 } });
  expect(whole.kind === 'changes' && whole.changes.at).toHaveLength(desk.surface.controls.length);
});

test('a glass that could not take all is painted whole, and only that', () => {
  const { net, sockets, say, there } = glass();
  net.set(true);
  sockets[0].events.opened();
  there('a', 'b');
  sockets[0].said.length = 0;
  say({ kind: 'anew', glass: 'b', surface: 'harrow-8' });
  expect(sockets[0].said.map(({ glass: only }) => only)).toEqual(['b', 'b']);
});

test('whatever fingers of two glasses do, and whoever goes, nothing is held in the end', () => {
  const deed = fc.record({
    who: fc.constantFrom('a', 'b'),
    does: fc.constantFrom('touch' as const, 'press' as const),
    control: fc.constantFrom('fader-1', 'mute-1'),
    value: fc.constantFrom(0, 1),
  });
  const end = fc.constantFrom('both go', 'one goes', 'way breaks', 'network off');
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 12 }), end, (deeds, how) => {
      const { net, sockets, hands, say, there } = glass();
      net.set(true);
      sockets[0].events.opened();
      there('a', 'b');
      const open = new Set<string>();
      for (const { who, ...more } of deeds) {
        say({ kind: 'hand', glass: who, surface: 'harrow-8', ...more });
        const key = `${more.does} ${more.control}`;
        if (more.value > 0) open.add(`${who} ${key}`);
        else open.delete(`${who} ${key}`);
      }
      if (how === 'both go') there();
      else if (how === 'one goes') {
        there('b');
        for (const key of open) {
          const [who, does, control] = key.split(' ');
          if (who === 'b')
            say({
              kind: 'hand',
              glass: 'b',
              surface: 'harrow-8',
              does: does as 'touch',
              control,
              value: 0,
            });
        }
      } else if (how === 'way breaks') sockets[0].events.closed();
      else net.set(false);
      const last = new Map(hands.map((one) => [`${one.does} ${one.control}`, one.value]));
      expect([...last.values()].filter((value) => value > 0)).toEqual([]);
    }),
  );
});

test('of two glasses on one surface the last finger counts: who was first lets go of nothing', () => {
  const { net, hands, sockets, say, there } = glass();
  net.set(true);
  sockets[0].events.opened();
  there('a', 'b');
  const finger = (glass: string, value: number) =>
    say({ kind: 'hand', glass, surface: 'harrow-8', control: 'mute-1', does: 'press', value });
  finger('a', 1);
  finger('b', 1);
  finger('a', 0);
  finger('b', 0);
  expect(hands.map(({ value }) => value)).toEqual([1, 1, 0]);
});

test('a surface that real ports play, or that is not in the profile, says why it shows nothing', () => {
  const { net, world, hands, sockets, say, there, after } = glass();
  net.set(true);
  sockets[0].events.opened();
  there('a');
  world.setReal(world.engine.linkOf('surface:desk'), true);
  after(20_000);
  expect(sockets[0].said.at(-1)?.says).toMatchObject({
    why: expect.stringContaining('real ports'),
  });
  say({ kind: 'there', glasses: [{ glass: 'b', surface: 'other' }] });
  expect(sockets[0].said.at(-1)?.says).toMatchObject({
    why: expect.stringContaining('no such surface'),
  });
  say({ kind: 'hand', glass: 'a', surface: 'other', control: 'x', does: 'press', value: 1 });
  expect(hands).toEqual([]);
});

test('switched off there is no socket; one that breaks is opened again', () => {
  const { net, sockets, later } = glass();
  net.set(true);
  sockets[0].events.closed();
  later.shift()?.();
  expect(sockets).toHaveLength(2);
  net.set(false);
  expect(sockets[1].isShut).toBe(true);
  sockets[1].events.closed();
  expect(later).toEqual([]);
});
