import fc from 'fast-check';
import { addRoute, emptyProfile, type MessageKind, type Profile } from '@rondo/core/profile';
import { DOUBT, LONGEST_SYSEX } from '@rondo/core/round';
import { HARROW_8, type Control, type Pattern, type Surface } from '@rondo/core/surface';
import { GENERIC_SURFACE, cc, control, note } from '../../testing/bare-surface.js';
import { Room } from '../../testing/room.js';
import { TRAVEL } from '@rondo/core/standin';

const follow = (
  surface: string,
  id: string,
  fn: string,
  host = 'host',
): Profile['bindings'][string] => ({
  id: `${surface}.${id}`,
  layer: 'base',
  control: { surface, control: id, part: 'value' },
  actions: [
    { do: 'function', host, function: fn, scope: { kind: 'fixed', strip: 0 }, behaviour: 'follow' },
  ],
});
/** A room with one surface of one's own before a Studio. */
function before(
  surface: Surface,
  bindings: readonly Profile['bindings'][string][],
  more: (profile: Profile) => Profile = (same) => same,
): Room {
  const empty = emptyProfile('wires', 'Wires');
  const profile: Profile = {
    ...empty,
    surfaces: { s: { id: 's', model: 'own', label: 'Own' } },
    surfaceOrder: ['s'],
    hosts: { host: { id: 'host', model: 'studio', label: 'Studio' } },
    hostOrder: ['host'],
    bindings: Object.fromEntries(
      bindings.map((one) => [one.id, { ...one, layer: empty.layerOrder[0] }]),
    ),
    bindingOrder: bindings.map(({ id }) => id),
  };
  return new Room({ profile: more(profile), own: { own: surface } });
}

test('a level meter over plain controllers falls when it is told so', () => {
  const meter: Control = control('fader', 'fader', { value: cc(7) }, { meter: cc(90) });
  const surface = { ...GENERIC_SURFACE, controls: [{ ...meter, strip: 1 }] };
  const room = before(surface, [follow('s', 'fader', 'volume')]);
  const { engine } = room.world;
  const slot = engine.plan.slots.findIndex(({ address }) => address === 'meter/1');
  const host = engine.plan.links.length - 1;
  const levels: number[] = [];
  for (const share of [0.2, 0.9, 0.5, 0]) {
    engine.playAt(slot, share, room.world.time);
    room.run(50_000);
    levels.push(
      room.sent
        .get('surface:s')!
        .filter(([s, n]) => s === 0xb0 && n === 90)
        .at(-1)![2],
    );
  }
  expect(host).toBeGreaterThan(0);
  expect(levels).toEqual([0.2, 0.9, 0.5, 0].map((share) => Math.round(share * 127)));
});

test('with a host of seven bits a motor of ten stays where the hand left it', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1_023 }), (place) => {
      const room = new Room({
        surfaces: ['harrow-8'],
        own: { 'harrow-8': HARROW_8 },
        hosts: ['box'],
        charts: {
          box: {
            format: 'rondo-host',
            version: 1,
            id: 'box',
            name: 'Box',
            about: '',
            tells: 'all',
            ask: '',
            bytesPerSecond: 60_000,
            rows: [
              { id: 'level', name: 'Level', kind: 'continuous', message: cc(20), feedback: 'same' },
            ],
          } as never,
        },
        more: (profile) => ({
          ...profile,
          bindings: {
            b: {
              id: 'b',
              layer: profile.layerOrder[0],
              control: { surface: profile.surfaceOrder[0], control: 'fader-1', part: 'value' },
              actions: [
                {
                  do: 'function',
                  host: profile.hostOrder[0],
                  function: 'level',
                  scope: { kind: 'host' },
                  behaviour: 'follow',
                },
              ],
            },
          },
          bindingOrder: ['b'],
        }),
      });
      room.slide('fader-1', place / 1_023).run(DOUBT + 2 * TRAVEL);
      expect(Math.round(room.desk().position('fader-1') * 1_023)).toBe(place);
    }),
    { numRuns: 20 },
  );
});

describe('what goes on', () => {
  const pads: Surface = {
    ...GENERIC_SURFACE,
    controls: [
      control('pad', 'pad', {
        push: note(36),
        pressure: { type: 'polyPressure', channel: 1, number: 36 },
      }),
    ],
  };
  const onto =
    (kinds: MessageKind[]) =>
    (profile: Profile): Profile =>
      addRoute(profile, { surface: 's' }, { host: 'host' }, { kinds }).document;
  const passed = (room: Room) => (room.sent.get('host:host') ?? []).map(([status]) => status);

  test('pads pass on notes only: pressure, programs and controllers never leak with them', () => {
    const room = before(pads, [], onto(['note']));
    room.sent.clear();
    room.say(
      'surface:s',
      '90 28 40',
      'a0 28 30',
      'd0 20',
      'c0 01',
      'b0 4a 10',
      'e0 00 40',
      '80 28 00',
    );
    expect(passed(room)).toEqual([0x90, 0x80]);
    const all = before(pads, [], onto(['pressure']));
    all.sent.clear();
    all.say('surface:s', '90 28 40', 'a0 28 30', 'd0 20');
    expect(passed(all)).toEqual([0xa0, 0xd0]);
  });

  test('both halves of a pair that goes on, and the choice of a parameter before its data', () => {
    const pair: Pattern = { type: 'controllerPair', channel: 1, number: 7, lsb: 39 };
    const nrpn: Pattern = { type: 'nrpn', channel: 1, number: 300, bits: 14 };
    const surface = {
      ...GENERIC_SURFACE,
      controls: [control('a', 'fader', { value: pair }), control('b', 'fader', { value: nrpn })],
    };
    const room = before(surface, [], onto(['controller']));
    room.sent.clear();
    const words = ['b0 07 40', 'b0 27 05', 'b0 63 02', 'b0 62 2c', 'b0 06 10', 'b0 26 03'];
    room.say('surface:s', ...words);
    const hex = (message: number[]) =>
      message.map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
    expect(room.sent.get('host:host')!.map(hex)).toEqual(words);
  });

  test('a SysEx goes on whole up to 64 KiB and its time is told; a longer one is refused, and that is told', () => {
    const room = before(pads, [], onto(['sysex']));
    room.sent.clear();
    const { engine } = room.world;
    const send = (length: number) => {
      const bytes = Uint8Array.from({ length }, (_, i) =>
        i === 0 ? 0xf0 : i === length - 1 ? 0xf7 : 5,
      );
      // It comes in pieces, as it does over a wire.
      for (let at = 0; at < length; at += 1_000)
        engine.at(room.world.time).receive(0, bytes, at, Math.min(length, at + 1_000));
      room.run(100_000);
      return (room.sent.get('host:host') ?? [])
        .filter(([status]) => status === 0xf0)
        .map((one) => one.length);
    };
    expect(send(600)).toEqual([600]);
    expect(room.notices('longSysex')[0]).toContain('600 bytes');
    room.run(1_000_000);
    expect(send(LONGEST_SYSEX)).toEqual([600, LONGEST_SYSEX]);
    expect(room.notices('longSysex')[0]).toMatch(/takes \d+\.\d s/);
    room.run(60_000_000);
    expect(send(LONGEST_SYSEX + 1)).toEqual([600, LONGEST_SYSEX]);
    expect(room.notices('longSysex')[0]).toContain('refused');
  });
});
