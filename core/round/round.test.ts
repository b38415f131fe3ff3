import fc from 'fast-check';
import { faderTaper } from '@rondo/core/host';
import { DOUBT } from '@rondo/core/round';
import { TRAVEL } from '@rondo/core/standin';
import { DESK, HOST, TICK, MixRoom, step10 } from '../testing/mix-room.js';

describe('hand to host', () => {
  test('a moved fader moves its track, over the whole travel', () => {
    const room = new MixRoom();
    room.do(() => room.desk.touch('fader-1', true));
    for (const position of [0.25, 1, 0]) {
      room.do(() => room.desk.moveTo('fader-1', position));
      expect(step10(room.value('volume/1'))).toBe(step10(position));
    }
    room.do(() => room.desk.moveTo('fader-1', 1));
    expect(faderTaper.format(room.value('volume/1'))).toBe('+6.0 dB');
  });

  test('an encoder moves pan from where the host has it; a push centres it', () => {
    const room = new MixRoom().host('pan/2', 0.5);
    room.do(() => room.desk.turn('encoder-2', 5));
    expect(room.value('pan/2')).toBeCloseTo(0.6, 3);
    room.press('encoder-2');
    expect(room.value('pan/2')).toBeCloseTo(0.5, 3);
  });

  test('quick ticks add up, though the host answers late', () => {
    const room = new MixRoom().host('pan/2', 0.5);
    for (let i = 0; i < 5; i++) room.desk.turn('encoder-2', 1);
    room.run(400_000);
    expect(room.value('pan/2')).toBeCloseTo(0.6, 3);
  });

  test('one press is one change of mute, solo and arm; select chooses one strip', () => {
    const room = new MixRoom();
    for (const id of ['mute', 'solo', 'arm']) {
      room.press(`${id}-3`);
      expect([room.value(`${id}/3`), room.out(`${id}-3`, 'light')]).toEqual([1, 1]);
      room.press(`${id}-3`);
      expect([room.value(`${id}/3`), room.out(`${id}-3`, 'light')]).toEqual([0, 0]);
    }
    room.press('select-4');
    expect([room.out('select-1', 'light'), room.out('select-4', 'light')]).toEqual([0, 1]);
  });

  test('transport plays, stops and steps by bars, and the keys show it', () => {
    const room = new MixRoom().press('play').run(3_000_000);
    expect(room.studio.transport.position).toBe(3_000_000);
    expect([room.out('play', 'light'), room.out('stop', 'light')]).toEqual([1, 0]);
    room.press('stop').run(1_000_000);
    expect(room.studio.transport.position).toBe(3_000_000);
    room.press('forward');
    // 96 beats a minute, four to the bar: 2.5 s a bar.
    expect(room.studio.transport.position).toBe(5_000_000);
    room.press('rewind');
    expect(room.studio.transport.position).toBe(2_500_000);
  });
});

describe('host to hand', () => {
  test('a moved track sends the motor there in its own time, silently', () => {
    const room = new MixRoom().host('volume/1', 0).run(TRAVEL);
    const before = room.toHost.length;
    room.host('volume/1', 1).run(TRAVEL / 2);
    expect(room.desk.position('fader-1')).toBeCloseTo(0.5, 1);
    room.run(TRAVEL / 2 + TICK);
    expect(room.desk.position('fader-1')).toBe(1);
    expect(room.toHost.length).toBe(before);
  });

  test('written automation moves two faders by itself, and only while it plays', () => {
    const room = new MixRoom();
    const at = () => [3, 7, 4].map((n) => room.desk.position(`fader-${n}`));
    const [a, b, c] = at();
    room.run(1_500_000);
    expect(at()).toEqual([a, b, c]);
    room.press('play').run(1_500_000);
    expect(at()[0]).not.toBe(a);
    expect(at()[1]).not.toBe(b);
    expect(at()[2]).toBe(c);
  });

  test('lamps, rings, meters and both lines show the host', () => {
    const room = new MixRoom()
      .host('mute/1', 1)
      .host('pan/1', 0)
      .host('volume/2', faderTaper.fromUnit(-6));
    expect(room.out('mute-1', 'light')).toBe(1);
    expect(room.out('encoder-1', 'ring')).toBe(0);
    expect(room.textOf('display-1', 'upper')).toBe('Narrtr ');
    expect(room.textOf('display-1', 'lower')).toBe('L100   ');
    room.do(() => room.desk.touch('fader-2', true)).do(() => room.desk.moveTo('fader-2', 1));
    expect(room.textOf('display-2', 'lower')).toBe('+6.0dB ');
    room.press('play').run(2_000_000);
    expect(Math.max(...[2, 3, 4, 5].map((n) => room.out(`display-${n}`, 'meter')))).toBeGreaterThan(
      0.2,
    );
  });

  test('bank by 8 and by 1: strips, lamps, names and motors follow; the end is clamped and comes back', () => {
    const room = new MixRoom().host('mute/13', 1);
    const names = () => room.textOf('display-1', 'upper').trim();
    room.press('bank-right').run(TRAVEL);
    expect(names()).toBe('BssClr');
    room.press('bank-right').run(TRAVEL);
    expect([names(), room.out('mute-1', 'light')]).toEqual(['Piano', 1]);
    expect(step10(room.desk.position('fader-8'))).toBe(step10(room.value('volume/20')));
    room.press('bank-left').run(TRAVEL);
    expect(names()).toBe('BssClr');
    room.press('strip-right').run(TRAVEL);
    expect(names()).toBe('Bwd Sw');
  });
});

describe('the hand and the motor', () => {
  test('a touched motor receives only its own last reported position, then settles at the host’s value', () => {
    const hand = fc.oneof(
      fc.record({ does: fc.constant('move' as const), to: fc.integer({ min: 0, max: 1023 }) }),
      fc.record({ does: fc.constant('touch' as const), to: fc.integer({ min: 0, max: 1 }) }),
      fc.record({ does: fc.constant('host' as const), to: fc.integer({ min: 0, max: 16_383 }) }),
      fc.record({ does: fc.constant('wait' as const), to: fc.integer({ min: 1, max: 60 }) }),
      fc.record({ does: fc.constant('bank' as const), to: fc.integer({ min: 0, max: 1 }) }),
    );
    fc.assert(
      fc.property(fc.array(hand, { maxLength: 40 }), (steps) => {
        const room = new MixRoom();
        let seen = room.toDesk.length;
        let touched = false;
        let reported = -1;
        const check = () => {
          for (const [status, lsb, msb] of room.motors(seen))
            if (status === 0xe0 && touched) expect((lsb | (msb << 7)) >> 4).toBe(reported);
          seen = room.toDesk.length;
        };
        for (const { does, to } of steps) {
          if (does === 'move' && touched) {
            reported = to;
            room.do(() => room.desk.moveTo('fader-1', to / 1023));
          } else if (does === 'touch' && touched !== (to === 1)) {
            touched = to === 1;
            room.do(() => room.desk.touch('fader-1', touched));
          } else if (does === 'host') room.host('volume/1', to / 16_383);
          else if (does === 'wait') room.run(to * TICK);
          else if (does === 'bank') room.press(to === 1 ? 'bank-right' : 'bank-left');
          check();
        }
        touched = false;
        room.do(() => room.desk.touch('fader-1', false)).run(DOUBT + TRAVEL + 4 * TICK);
        const strip = room.world.engine.bank.start + 1;
        expect(step10(room.desk.position('fader-1'))).toBe(step10(room.value(`volume/${strip}`)));
      }),
      { numRuns: 60 },
    );
  });

  test('a fader stays where the hand leaves it: its own position is sent back', () => {
    const room = new MixRoom();
    const before = room.toDesk.length;
    room.do(() => room.desk.touch('fader-1', true));
    room.do(() => room.desk.moveTo('fader-1', 0.3));
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.3));
    const positions = room.motors(before).map(([, lsb, msb]) => (lsb | (msb << 7)) >> 4);
    expect(new Set(positions)).toEqual(new Set([step10(0.3)]));
  });

  test('without the echo the desk itself goes back: it returns to the position last commanded', () => {
    const room = new MixRoom().host('volume/1', 0.8).run(TRAVEL * 2);
    room.world.engine.setOutputOpen(DESK, false, room.world.time);
    room.do(() => room.desk.touch('fader-1', true)).do(() => room.desk.moveTo('fader-1', 0.1));
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.8));
  });

  test('a late older report does not pull the motor back', () => {
    const room = new MixRoom();
    const { engine } = room.world;
    room.world.setReal(HOST, true);
    engine.setInputOpen(HOST, true, room.world.time);
    engine.setOutputOpen(HOST, true, room.world.time);
    const report = (value: number) => {
      const bytes = Uint8Array.of(0xb0, 7, value >> 7, 0xb0, 39, value & 0x7f);
      engine.at(room.world.time).receive(HOST, bytes, 0, 6);
      room.world.settle();
    };
    report(8_000);
    room.run(TRAVEL);
    room.do(() => room.desk.touch('fader-1', true)).do(() => room.desk.moveTo('fader-1', 0.9));
    room.do(() => room.desk.touch('fader-1', false));
    const before = room.toDesk.length;
    report(9_000);
    room.run(DOUBT / 2);
    expect(room.motors(before)).toEqual([]);
    // What the host insists on is believed in the end.
    room.run(DOUBT + TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(9_000 / 16_383));
  });

  test('a fader held while the bank moves keeps its track, and goes to the new one on release', () => {
    const room = new MixRoom();
    room.do(() => room.desk.touch('fader-1', true)).do(() => room.desk.moveTo('fader-1', 0.5));
    const ninth = room.value('volume/9');
    room.press('bank-right').do(() => room.desk.moveTo('fader-1', 0.6));
    expect([step10(room.value('volume/1')), room.value('volume/9')]).toEqual([step10(0.6), ninth]);
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(ninth));
    expect(room.value('volume/9')).toBe(ninth);
  });
});
