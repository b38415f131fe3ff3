import { RECORDS } from '@rondo/core/host';
import { bind, neapRink, type Profile } from '@rondo/core/profile';
import type { Booth } from '@rondo/core/standin';
import { Room } from '../testing/room.js';

test('Neap Rink: a key that stays in plays a sampler while it is in; the wheels bend the deck and mix the headphones', () => {
  const room = new Room({ profile: neapRink() });
  const { desks, hosts } = room.world;
  const [mixer, keys] = [desks.get('surface:mixer')!, desks.get('surface:keys')!];
  const booth = hosts.get('host:booth') as Booth;
  const value = (address: string) => booth.values[booth.slotOf(address)];

  room.do(() => mixer.press('right-send', true), 100_000);
  expect(value('sampler8')).toBe(1);
  room.do(() => mixer.press('right-send', false), 100_000);
  expect(value('sampler8')).toBe(1);
  // Pressed again it comes out.
  room.do(() => mixer.press('right-send', true), 100_000);
  expect(value('sampler8')).toBe(0);

  const focus = Math.round(value('focusDeck') * 3) + 1;
  room.do(() => keys.moveTo('pitch', 1), 200_000);
  expect(value(`bend/${focus}`)).toBeGreaterThan(0.9);
  room.do(() => keys.moveTo('pitch', 0.5), 200_000);
  expect(value(`bend/${focus}`)).toBeCloseTo(0.5, 2);
  for (const to of [0, 0.2, 0.5, 0.8, 1]) room.do(() => keys.moveTo('modulation', to), 100_000);
  expect(value('headphoneMix')).toBeGreaterThan(0.95);
});

test('a key goes through a list by single steps, on and back, whatever the list has told', () => {
  const wheel = (key: string, by: number) => (profile: Profile) =>
    bind(
      profile,
      'Bind',
      { surface: 'pads', control: key, part: 'push' },
      {
        do: 'function',
        host: 'booth',
        function: 'browse',
        scope: { kind: 'host' },
        behaviour: 'step',
        by,
      },
    ).document;
  const room = new Room({ profile: wheel('pad-1', 1)(wheel('pad-2', -1)(neapRink())) });
  const booth = room.world.hosts.get('host:booth') as Booth;
  const pads = room.world.desks.get('surface:pads')!;
  const chosen = () => Math.round(booth.values[booth.slotOf('chosen')] * (RECORDS.length - 1));
  const press = (pad: string) => {
    room.do(() => pads.press(pad, true), 50_000);
    room.do(() => pads.press(pad, false), 50_000);
  };
  let at = 0;
  for (const by of [1, 1, 1, -1, 1, -1, -1, -1, -1]) {
    press(by > 0 ? 'pad-1' : 'pad-2');
    at = Math.max(0, at + by);
    expect(chosen()).toBe(at);
  }
});
