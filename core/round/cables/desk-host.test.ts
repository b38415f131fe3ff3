import { bind } from '@rondo/core/profile';
import { toHex } from '@rondo/core/wire';
import { Room } from '../../testing/room.js';

describe('Rondo as the host of a desk', () => {
  const sixteen = () =>
    new Room({
      surfaces: ['harrow-8', 'harrow-8-side'],
      hosts: ['studio'],
      more: (profile) => {
        let next = profile;
        for (let strip = 0; strip < 16; strip++)
          for (const [control, fn, part] of [
            [`fader-${(strip % 8) + 1}`, 'volume', 'value'],
            [`mute-${(strip % 8) + 1}`, 'mute', 'push'],
          ] as const)
            next = bind(
              next,
              'Bind',
              { surface: `surface-${strip < 8 ? 1 : 2}`, control, part },
              {
                do: 'function',
                host: 'studio',
                function: fn,
                scope: { kind: 'window', offset: strip },
                behaviour: fn === 'mute' ? 'toggle' : 'follow',
              },
            ).document;
        return next;
      },
    });

  test('a main unit and an extender make sixteen strips, each on its own cable', () => {
    const room = sixteen();
    const studio = room.world.hosts.get('host:studio')!;
    room.slide('fader-3', 0.25, 2);
    expect(studio.values![studio.slotOf('volume/11')]).toBeCloseTo(0.25, 3);
    room.press('mute-8', 2);
    expect(studio.values![studio.slotOf('mute/16')]).toBe(1);
    expect(room.light('mute-8', 2)).toBe(1);
    expect(room.light('mute-8', 1)).toBe(0);
    // The texts of the extender go out under its own unit.
    const texts = room.sent.get('surface:surface-2')!.filter(([status]) => status === 0xf0);
    expect(new Set(texts.map((bytes) => bytes[4]))).toEqual(new Set([0x15]));
    expect(room.text('display-2', 'upper', 2).trim()).toBe('Bwd Sw');
  });

  test('it greets both, each is told apart by its serial number, and it knows their version', () => {
    const room = sixteen();
    expect(room.notices('greeting')).toHaveLength(2);
    for (const says of room.notices('greeting')) expect(says).toContain('its version is 1.02');
    expect(room.notices('twins')).toEqual([]);
  });

  test('a greeting answered in any way, or not at all, is told, and the faders work', () => {
    for (const [answer, told] of [
      ['f0 00 00 66 14 04 f7', 'refused the greeting'],
      ['f0 00 00 66 14 01 05 f7', 'that Rondo does not know (01 05)'],
      ['f0 00 00 66 14 03 f7', 'took the greeting'],
      ['', 'gave no answer'],
    ] as const) {
      const room = new Room({ surfaces: ['harrow-8'], hosts: ['studio'] });
      const { engine } = room.world;
      const link = engine.linkOf('surface:surface-1');
      // In the place of the simulated desk something that answers so.
      room.world.setReal(link, true);
      engine.setInputOpen(link, true, room.world.time);
      engine.setOutputOpen(link, true, room.world.time);
      room.run(100_000);
      expect(
        room.sent
          .get('surface:surface-1')!
          .some((m) => toHex(Uint8Array.from(m)) === 'f0 00 00 66 14 00 f7'),
      ).toBe(true);
      if (answer) room.say('surface:surface-1', answer);
      room.run(3_000_000);
      expect(room.notices('greeting').join()).toContain(told);
      room.say('surface:surface-1', '90 68 7f', 'e0 00 20');
      expect(
        engine.hand[engine.plan.parts.findIndex((p) => p.key === 'surface-1/fader-1/value')],
      ).toBeGreaterThan(0.2);
    }
  });

  test('two desks with one identity are told, and both go on', () => {
    const room = new Room({ surfaces: ['harrow-8', 'harrow-8'], hosts: ['studio'] });
    const serial = '41 42 43 44 45 46 47 01 02 03 04';
    room.say('surface:surface-1', `f0 00 00 66 14 01 ${serial} f7`);
    room.say('surface:surface-2', `f0 00 00 66 14 01 ${serial} f7`);
    expect(room.notices('twins')[0]).toMatch(/say they are the same desk/);
    room.do(() => room.desk(2).press('play', true));
    expect(room.world.engine.log!.inHand).toBeGreaterThan(0);
  });
});
