import { bind, nineFerriesMix, unbind } from '@rondo/core/profile';
import { STOP_STATION, Stop, compile } from '@rondo/core/round';
import { library, DESK, HOST, MixRoom, action } from '../testing/mix-room.js';

describe('where a message stops', () => {
  test.each([
    [
      'nothing bound',
      'function-1/push',
      Stop.NothingBound,
      (r: MixRoom) => {
        const ref = { surface: 'desk', control: 'function-1', part: 'push' } as const;
        r.world.load(compile(unbind(nineFerriesMix(), 'Unbind', ref).document, library));
        r.press('function-1');
      },
    ],
    [
      'held off',
      'mute-1/push',
      Stop.HeldOff,
      (r: MixRoom) => {
        r.world.engine.holdOff = true;
        r.press('mute-1');
      },
    ],
    [
      'not available: a bus has no arm',
      'arm-5/push',
      Stop.NotAvailable,
      (r: MixRoom) => r.press('bank-right').press('bank-right').press('arm-5'),
    ],
    [
      'host closed',
      'mute-1/push',
      Stop.HostClosed,
      (r: MixRoom) => {
        r.world.plug(HOST, false);
        r.press('mute-1');
      },
    ],
  ])('%s', (_, key, why, act) => {
    const room = new MixRoom();
    const before = room.toHost.length;
    act(room);
    expect(room.stop(key)).toBe(why);
    expect(STOP_STATION[why]).toBe('function');
    expect(room.toHost.length).toBe(before);
  });

  test('an encoder whose value the host has not told stops at the state', () => {
    const room = new MixRoom();
    room.world.setReal(HOST, true);
    room.world.engine.setOutputOpen(HOST, true, room.world.time);
    room.do(() => room.desk.turn('encoder-1', 1));
    expect(room.stop('encoder-1/value')).toBe(Stop.StateUnknown);
    expect(room.out('encoder-1', 'ring')).toBe(-1);
  });

  test('a message that is no control’s is told', () => {
    const room = new MixRoom();
    const { engine } = room.world;
    engine.at(5_000_000).receive(DESK, Uint8Array.of(0x9f, 1, 1), 0, 3);
    expect([engine.log!.strayLink, engine.log!.strayPacked]).toEqual([DESK, 0x01_01_9f]);
  });

  test('a binding to what is not there does nothing, says so, and the rest works', () => {
    const { document: profile } = bind(
      nineFerriesMix(),
      'Bind',
      { surface: 'desk', control: 'fader-1', part: 'value' },
      action('reverb', 0),
    );
    expect(compile(profile, library).broken).toEqual([
      {
        binding: expect.any(String),
        layer: 'base',
        what: 'function',
        why: 'Studio has no reverb/1.',
      },
    ]);
    const room = new MixRoom(profile);
    room.do(() => room.desk.moveTo('fader-1', 0.4));
    expect(room.stop('fader-1/value')).toBe(Stop.Broken);
    room.press('mute-1');
    expect(room.value('mute/1')).toBe(1);
  });
});
