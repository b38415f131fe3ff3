import { readChart, type MessageHost } from '@rondo/core/host';
import { bind, type Action } from '@rondo/core/profile';
import { Know } from '@rondo/core/round';
import { Room } from '../testing/room.js';
import type { PlainHost } from '@rondo/core/standin';
import { motors, LEVELS_14 } from '../testing/motor-surface.js';
import { chartHost, follow, value } from '../testing/chart-host.js';

describe('mirror', () => {
  test('two surfaces mirror through a host that only reports changes, whoever moves', () => {
    const room = new Room({
      surfaces: ['motors-8', 'harrow-8'],
      hosts: ['lantern'],
      own: { 'motors-8': motors(14) },
      charts: { lantern: chartHost(LEVELS_14, { tells: 'changes' }) },
      more: (profile) => {
        const one = bind(profile, 'Bind', value('fader-1', 1), follow('level1')).document;
        return bind(one, 'Bind', value('fader-5', 2), follow('level1')).document;
      },
    });
    const synth = room.world.hosts.get('host:lantern') as PlainHost;
    for (const place of [0.2, 0.9, 0.35]) {
      room.do(() => room.desk(1).moveTo('fader-1', place), 1_500_000);
      expect(room.desk(2).position('fader-5')).toBeCloseTo(place, 2);
      room.slide('fader-5', 1 - place, 2).run(1_000_000);
      expect(room.desk(1).position('fader-1')).toBeCloseTo(1 - place, 2);
      expect(synth.values[synth.slotOf('level1')]).toBeCloseTo(1 - place, 2);
      room.do(() => synth.set(synth.slotOf('level1'), 0.5), 1_500_000);
      expect(room.desk(1).position('fader-1')).toBeCloseTo(0.5, 3);
      expect(room.desk(2).position('fader-5')).toBeCloseTo(0.5, 2);
    }
    // Nothing goes round once all is still.
    const sent = () => [...room.sent.values()].reduce((sum, list) => sum + list.length, 0);
    room.run(12_000_000);
    const still = sent();
    room.run(1_000_000);
    // But for the slow refresh of what is shown, one output of each surface every tenth of a second.
    expect(sent() - still).toBeLessThanOrEqual(24);
    expect(room.notices('cycle')).toEqual([]);
  });
});

describe('what is known of a message host', () => {
  const host = (more: Partial<MessageHost>) =>
    new Room({
      surfaces: ['cobble-64'],
      hosts: ['lantern'],
      charts: {
        lantern: chartHost('Drone,CC 20', {
          ...more,
          rows: readChart('Name,Message,Kind\nDrone,CC 20,toggle').rows as MessageHost['rows'],
        }),
      },
      more: (profile) =>
        bind(
          profile,
          'Bind',
          { surface: 'surface-1', control: 'pad-1', part: 'push' },
          {
            ...(follow('drone') as Extract<Action, { do: 'function' }>),
            behaviour: 'toggle',
          },
        ).document,
    });

  test('one that tells nothing is assumed to have what it was sent, and may look so', () => {
    const room = host({ tells: 'nothing' });
    expect(room.belief('drone').know).toBe(Know.Unknown);
    room.press('pad-1');
    expect(room.belief('drone')).toMatchObject({ know: Know.Assumed, value: 1 });
    const lit = room.light('pad-1');
    expect(lit).toBeGreaterThan(0);
  });

  test('one that can be asked is asked on connect and by hand', () => {
    const room = host({ tells: 'all', ask: 'F0 7D 01 F7' });
    const asked = () =>
      (room.sent.get('host:lantern') ?? []).filter((bytes) => bytes[0] === 0xf0).length;
    expect(room.belief('drone').know).toBe(Know.Known);
    const { engine } = room.world;
    const link = engine.linkOf('host:lantern');
    const before = asked();
    expect(engine.askAgain(link, room.world.time)).toBe(true);
    room.run(100_000);
    expect(asked()).toBe(before + 1);
    room.world.plug(link, false);
    room.run(100_000);
    expect(room.belief('drone').know).toBe(Know.Unknown);
    room.world.plug(link, true);
    room.run(300_000);
    expect(room.belief('drone').know).toBe(Know.Known);
  });
});

test('text goes out as SysEx on entering a layer, made from a template, 7-bit and never too long', () => {
  const room = new Room({
    surfaces: ['cobble-64'],
    hosts: ['lantern'],
    charts: { lantern: chartHost('Drone,CC 20') },
    more: (profile) => ({
      ...profile,
      layers: {
        ...profile.layers,
        fog: {
          id: 'fog',
          label: 'Föhn & fog',
          enter: [
            {
              do: 'send',
              to: { host: 'lantern' },
              message: 'F0 7D 10 text 00 F7',
              text: '{layer} of {profile}',
            },
          ],
        },
      },
      layerOrder: [...profile.layerOrder, 'fog'],
    }),
  });
  room.world.engine.setLayer('fog', true, room.world.time);
  room.run(100_000);
  const [sysex] = room.sent.get('host:lantern')!.filter(([status]) => status === 0xf0);
  expect(String.fromCharCode(...sysex.slice(3, -2))).toBe('Fohn & fog of Room');
  expect(sysex.slice(-2)).toEqual([0, 0xf7]);
});
