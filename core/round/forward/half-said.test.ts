import fc from 'fast-check';
import { addRoute, bind, editBindings, type MessageKind } from '@rondo/core/profile';
import type { Pattern } from '@rondo/core/surface';
import { GENERIC_SURFACE, control } from '../../testing/bare-surface.js';
import { fn } from '../../testing/box-room.js';
import { Room } from '../../testing/room.js';
import type { PlainHost } from '@rondo/core/standin';

/* What is only a part of something, or means nothing alone, on its way along routes. */

const KEY = 'surface:surface-1';

/** A surface of one control, from which all notes and controllers go on to a program; what has gone on, as hex. */
function along(value: Pattern, isBound = false) {
  const room = new Room({
    surfaces: ['mine'],
    own: {
      mine: { ...GENERIC_SURFACE, id: 'mine', controls: [control('it', 'encoder', { value })] },
    },
    hosts: ['studio'],
    more: (profile) => {
      const [from, to] = [{ surface: 'surface-1' }, { host: 'studio' }];
      const kinds: MessageKind[] = ['note', 'controller'];
      const routed = addRoute(profile, from, to, { kinds }).document;
      const ref = { surface: 'surface-1', control: 'it', part: 'value' } as const;
      return isBound ? bind(routed, 'Bind', ref, fn('volume')).document : routed;
    },
  });
  room.sent.clear();
  return {
    room,
    sent: () =>
      (room.sent.get('host:studio') ?? []).map((bytes) =>
        bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(''),
      ),
  };
}

const UP_DOWN: Pattern = { type: 'upDown', message: 'note', channel: 1, up: 40, down: 41 };
const TICKS = ['90 28 7f', '90 28 00', '90 29 7f', '80 29 40'];
const notes = (all: readonly string[]) => all.filter((hex) => /^[89]/.test(hex));

test('a pair of notes for up and down that is bound leaves nothing on a route, neither presses nor releases', () => {
  const { room, sent } = along(UP_DOWN, true);
  room.say(KEY, ...TICKS);
  expect(sent()).not.toEqual([]);
  expect(notes(sent())).toEqual([]);
  room.say(KEY, '90 30 7f', '90 30 00');
  expect(notes(sent())).toEqual(['90307f', '903000']);
});

test('one that is not bound goes on as a whole', () => {
  const { room, sent } = along(UP_DOWN);
  room.say(KEY, ...TICKS);
  expect(notes(sent())).toEqual(['90287f', '902800', '90297f', '802940']);
});

test('a low half that nothing came to goes on along routes when it has waited', () => {
  const { room, sent } = along({
    type: 'controllerPair',
    channel: 1,
    number: 7,
    lsb: 39,
    lsbFirst: true,
  });
  room.say(KEY, 'b0 27 11');
  room.run(50_000);
  expect(sent()).toEqual(['b02711']);
});

test('a motor of two halves that tells where it went is no hand; another place with the same low half is one', () => {
  const pair: Pattern = { type: 'controllerPair', channel: 1, number: 7, lsb: 39 };
  const hex = (n: number) => n.toString(16).padStart(2, '0');
  fc.assert(
    fc.property(fc.nat(127), fc.nat(127), fc.nat(127), (high, low, other) => {
      const fader = {
        ...control('it', 'fader', { value: pair }),
        takes: { motor: pair },
      };
      const ref = { surface: 'surface-1', control: 'it', part: 'value' } as const;
      const room = new Room({
        surfaces: ['mine'],
        own: { mine: { ...GENERIC_SURFACE, id: 'mine', controls: [fader] } },
        hosts: ['studio'],
        more: (profile) =>
          editBindings(
            bind(profile, 'Bind', ref, fn('volume')).document,
            'Jump',
            ['b1'],
            (binding) => {
              binding.feel = { takeover: 'jump' };
            },
          ).document,
      });
      const value = () => room.belief('volume/1').value;
      const place = (h: number) => (h * 128 + low) / 16_383;
      const program = [...room.world.hosts.values()][0] as PlainHost;
      room.sent.clear();
      program.set(program.slotOf('volume/1'), place(high));
      room.world.settle();
      room.run(30_000);
      const told = (room.sent.get(KEY) ?? []).slice(-2).map((bytes) => bytes.map(hex).join(' '));
      const said = [`b0 07 ${hex(high)}`, `b0 27 ${hex(low)}`];
      // Studio rounds to fourteen bits: it is there, to the bit.
      if (told.length < 2 || told.join() !== said.join()) return;
      const there = value();
      room.say(KEY, ...said);
      expect(value()).toBe(there);
      room.say(KEY, `b0 07 ${hex(other)}`, `b0 27 ${hex(low)}`);
      expect(value()).toBeCloseTo(place(other), 5);
    }),
    { numRuns: 60 },
  );
});
