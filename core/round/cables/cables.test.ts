import { bind } from '@rondo/core/profile';
import { Room, TICK } from '../../testing/room.js';
import { DESK_PROGRAM, hostId, standing } from '../../testing/standing.js';

describe('cables', () => {
  const real = (kind: 'surface' | 'host') => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: standing('harrow-8', ['whole-desk']),
    });
    const { engine } = room.world;
    const link = engine.plan.links.findIndex((one) => one.kind === kind);
    room.world.setReal(link, true);
    engine.setInputOpen(link, true, room.world.time);
    engine.setOutputOpen(link, true, room.world.time);
    room.run(1_000_000);
    return { room, engine, link, key: engine.plan.links[link].key };
  };
  /** Everything that goes out on a link comes straight back on its input. */
  const looped = ({ room, engine, link }: ReturnType<typeof real>, late = 1_000) => {
    const pending: { bytes: Uint8Array; at: number }[] = [];
    room.world.tap = (to, bytes, from, end) => {
      if (to === link) pending.push({ bytes: bytes.slice(from, end), at: engine.now + late });
    };
    return (micros: number) => {
      const end = room.world.time + micros;
      while (room.world.time < end) {
        room.run(TICK);
        for (const { bytes } of pending.splice(0))
          engine.at(room.world.time).receive(link, bytes, 0, bytes.length);
      }
    };
  };

  test.each(['surface', 'host'] as const)(
    'one to a %s that hears itself is shut, said, and the rest works',
    (kind) => {
      const at = real(kind);
      const run = looped(at);
      at.engine.repaint(at.room.world.time);
      if (kind === 'host')
        for (let n = 0; n < 6; n++) {
          at.room.desk().turn('encoder-1', 1);
          run(20_000);
        }
      run(500_000);
      expect(at.room.notices('hearsItself')[0]).toMatch(/hears itself/);
      // Nothing goes round any more.
      const before = JSON.stringify(at.engine.beliefs.value);
      run(500_000);
      expect(JSON.stringify(at.engine.beliefs.value)).toBe(before);
    },
  );

  test('the check finds a cable that hears itself, and a sound one', () => {
    const at = real('host');
    const run = looped(at);
    at.engine.checkCable(at.link, at.room.world.time);
    run(1_500_000);
    expect(at.room.notices('hearsItself')).toHaveLength(1);
    const sound = real('host');
    sound.engine.checkCable(sound.link, sound.room.world.time);
    sound.room.run(1_500_000);
    expect(sound.room.notices('hearsItself')).toEqual([]);
    expect(sound.room.notices('cable')[0]).toMatch(/the cable is sound/);
  });

  test('a program that sends places back, and a motor that is held, are never taken for a cycle', () => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: standing('harrow-8', ['whole-desk']),
    });
    for (let n = 1; n <= 8; n++) room.slide(`fader-${n}`, n / 10);
    for (let n = 0; n < 20; n++) room.slide('fader-1', n / 20);
    expect(room.notices('hearsItself')).toEqual([]);
    expect(room.notices('cycle')).toEqual([]);
  });

  test('quick hands on one key are never taken for a cycle, what goes round is cut', () => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: ['studio'],
      more: (profile) =>
        bind(
          profile,
          'Bind',
          { surface: 'surface-1', control: 'mute-1', part: 'push' },
          {
            do: 'function',
            host: 'studio',
            function: 'mute',
            scope: { kind: 'fixed', strip: 0 },
            behaviour: 'toggle',
          },
        ).document,
    });
    // 16 presses a second for four seconds: faster than most drummers.
    for (let n = 0; n < 64; n++) {
      room.do(() => room.desk().press('mute-1', true), 30_000);
      room.do(() => room.desk().press('mute-1', false), 32_000);
    }
    expect(room.notices()).toEqual(room.notices('greeting'));
    const studio = room.world.hosts.get('host:studio')!;
    let flips = 0;
    let was = studio.values![studio.slotOf('mute/1')];
    for (let n = 0; n < 200; n++) {
      room.do(() => room.desk().press('mute-1', true), 2_000);
      room.do(() => room.desk().press('mute-1', false), 2_000);
      const is = studio.values![studio.slotOf('mute/1')];
      if (is !== was) flips++;
      was = is;
    }
    expect(flips).toBeLessThanOrEqual(16);
    expect(room.notices('cycle')[0]).toMatch(/something sends it round/);
    room.run(1_000_000).press('mute-1');
    expect(studio.values![studio.slotOf('mute/1')]).not.toBe(was);
  });

  test('moves that act twice: a program that follows the device itself is found out, one that does not is cleared', () => {
    for (const follows of [true, false]) {
      const room = new Room({
        surfaces: ['harrow-8'],
        hosts: [DESK_PROGRAM],
        more: standing('harrow-8', ['whole-desk']),
      });
      const key = `host:${hostId(room.profile)}`;
      const { engine } = room.world;
      engine.checkTwice(engine.linkOf(key), room.world.time);
      const heard = room.program.heard.length;
      for (const place of [0.2, 0.4]) {
        room.do(() => room.desk().touch('fader-1', true), 20_000);
        room.do(() => {
          room.desk().moveTo('fader-1', place);
          if (follows) room.program.set(room.program.slotOf('fader/1'), place);
        }, 100_000);
        room.do(() => room.desk().touch('fader-1', false));
      }
      expect(room.program.heard.length).toBe(heard);
      room.run(10_500_000);
      expect(room.notices('twice')[0]).toMatch(
        follows ? /every move acts twice/ : /hears Rondo only/,
      );
    }
  });
});

test('a program that also hears the device itself is noticed in passing, and no quick hand or momentary key is', () => {
  const room = new Room({
    surfaces: ['harrow-8'],
    hosts: [DESK_PROGRAM],
    more: standing('harrow-8', ['whole-desk']),
  });
  const { program } = room;
  const lamp = (on: boolean) =>
    room.say(`host:${hostId(room.profile)}`, `90 36 ${on ? '7f' : '00'}`);
  for (let n = 0; n < 12; n++) {
    room.do(() => room.desk().press('mute-1', true), 30_000);
    room.do(() => room.desk().press('mute-1', false), 60_000);
  }
  // A key whose lamp is lit only while it is held.
  for (let n = 0; n < 4; n++) {
    room.do(() => room.desk().press('function-1', true), 10_000);
    lamp(true);
    room.do(() => room.desk().press('function-1', false), 10_000);
    lamp(false);
  }
  expect(room.notices('twice')).toEqual([]);
  for (let n = 1; n <= 3; n++) {
    expect(room.notices('twice')).toEqual([]);
    // The program hears the press from the desk, tells of it, and hears it from Rondo.
    program.hear(0, { kind: 'key', key: 0x10 + n, on: true });
    room.run(5_000).press(`mute-${n + 1}`);
    expect(program.channels[n].mute).toBe(false);
  }
  expect(room.notices('twice')[0]).toMatch(/lamp of Mute over and back.*acts twice/);
});
