import { fn, wide, profileOf, BoxRoom, onward } from '../../testing/box-room.js';

describe('actions', () => {
  test('several in order; one that fails stops no other, nor what is passed on', () => {
    const profile = profileOf([
      {
        on: 'key',
        passOn: true,
        actions: [
          fn('reverb', 'toggle'),
          fn('arm', 'toggle', { scope: { kind: 'fixed', strip: 19 } }),
          fn('mute', 'toggle'),
        ],
      },
    ]);
    const room = new BoxRoom(onward(profile)).tap('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.sent.join()).toContain('90017f');
    expect(room.sent.join()).toContain('900100');
  });

  test('what matches nothing is passed or blocked by kind', () => {
    const profile = profileOf([]);
    const room = new BoxRoom(onward(profile, 'note')).tap('key').move('knob', 0.5);
    expect(room.sent).toEqual(['host:studio 90017f', 'host:studio 900100']);
  });

  test('a condition that does not hold leaves the place to what is below', () => {
    const profile = profileOf(
      [
        { on: 'other', actions: { do: 'flag', flag: 'f', how: 'toggle' } },
        { on: 'key', actions: fn('mute', 'toggle') },
        {
          on: 'key',
          when: [
            { flag: 'f', is: 'on' },
            { host: 'studio', function: 'play', scope: { kind: 'host' }, is: 'on' },
          ],
          actions: fn('solo', 'toggle'),
        },
      ],
      { flags: { f: { id: 'f', label: 'F' } }, flagOrder: ['f'] },
    );
    const room = new BoxRoom(profile).tap('other').tap('key');
    expect([room.flag('f'), room.value('mute/1'), room.value('solo/1')]).toEqual([true, 1, 0]);
    room.host('play', 1).tap('key');
    expect([room.value('mute/1'), room.value('solo/1')]).toEqual([1, 1]);
  });

  test('exclusive groups: arm one, all others let go, also those of other banks', () => {
    const arm = (offset: number) => fn('arm', 'toggle', { scope: { kind: 'window', offset } });
    const room = new BoxRoom(
      profileOf([
        { on: 'key', group: 'one', actions: arm(0) },
        { on: 'other', group: 'one', actions: arm(1) },
        { on: 'shift', actions: { do: 'bank', by: 2 } },
      ]),
    );
    const armed = () => [1, 2, 3, 4].map((n) => room.value(`arm/${n}`));
    room.tap('key').tap('other');
    expect(armed()).toEqual([0, 1, 0, 0]);
    room.tap('shift').tap('key');
    expect(armed()).toEqual([0, 0, 1, 0]);
  });

  test('a chord sounds while it is held, as hard as it was played or as it says', () => {
    const notes = {
      do: 'notes',
      to: { host: 'studio' },
      channel: 2,
      notes: [60, 64],
      velocity: 99,
    } as const;
    const room = new BoxRoom(
      profileOf([{ on: 'key', actions: { ...notes, notes: [...notes.notes] } }]),
    ).down('key');
    expect(room.sent.join()).toBe('host:studio 913c63914063');
    expect([...room.world.engine.releaseBytes(1)]).toEqual([0x91, 60, 0, 0x91, 64, 0]);
    room.up('key');
    expect(room.sent.at(-1)).toBe('host:studio 913c00914000');
  });

  test('any message, with the value in its place, or the incoming one as it came', () => {
    const room = new BoxRoom(
      profileOf([
        {
          on: 'knob',
          actions: { do: 'send', to: { host: 'studio' }, message: 'F0 7D 01 high low F7' },
        },
        { on: 'key', actions: { do: 'send', to: { host: 'studio' } } },
      ]),
    );
    room.move('knob', 1).tap('key');
    expect(room.sent.map((line) => line.split(' ')[1])).toEqual([
      'f07d017f7ff7',
      '90017f',
      '900100',
    ]);
  });

  test('a host’s change triggers another host, once, whoever caused it', () => {
    const booth = (name: string) => fn(name, 'set', { host: 'booth' });
    const profile = profileOf(
      [
        {
          cause: {
            host: 'booth',
            function: 'play',
            scope: { kind: 'fixed', strip: 0 },
            when: 'on',
          },
          actions: wide('play'),
        },
        { on: 'key', actions: booth('play') },
      ],
      {
        hosts: {
          studio: { id: 'studio', model: 'studio', label: 'Studio' },
          booth: { id: 'booth', model: 'booth', label: 'Booth' },
        },
        hostOrder: ['studio', 'booth'],
      },
    );
    const room = new BoxRoom(profile);
    expect(room.value('play')).toBe(0);
    expect(room.tap('key').run(20_000).value('play')).toBe(1);
    room.host('play', 0).host('play/1', 0, 'booth').host('play/1', 1, 'booth').run(20_000);
    expect(room.value('play')).toBe(1);
  });

  test('a chain of causes that would come round is cut and told, and the rest works', () => {
    const cause = (name: string, when: 'on' | 'off') => ({
      cause: { host: 'studio', function: name, scope: { kind: 'fixed' as const, strip: 0 }, when },
    });
    const room = new BoxRoom(
      profileOf([
        { ...cause('mute', 'on'), actions: fn('solo', 'set', { to: 1 }) },
        { ...cause('solo', 'on'), actions: fn('mute', 'set', { to: 0 }) },
        { ...cause('mute', 'off'), actions: fn('solo', 'set', { to: 0 }) },
        { ...cause('solo', 'off'), actions: fn('mute', 'set', { to: 1 }) },
      ]),
    );
    room.host('mute/1', 1).run(2_000_000);
    expect(room.world.engine.causes.cut).toBeGreaterThan(0);
    expect(room.sent.length).toBeLessThan(10);
  });

  test('several controls on one function: all show it, and it lets go when the last does', () => {
    const room = new BoxRoom(
      profileOf([
        { on: 'key', actions: fn('mute', 'momentary') },
        { on: 'other', actions: fn('mute', 'momentary') },
      ]),
    );
    room.down('key').down('other').up('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.up('other').value('mute/1')).toBe(0);
  });
});
