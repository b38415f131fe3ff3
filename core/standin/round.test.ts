import fc from 'fast-check';
import { HOST_MODELS, faderTaper } from '@rondo/core/host';
import { bind, nineFerriesMix, unbind, type Action, type Profile } from '@rondo/core/profile';
import { DOUBT, Know, STOP_STATION, Stop, compile } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { TRAVEL, type Desk, type Studio } from './index.js';
import { World } from './world.js';

const library = {
  surface: (id: string) => STOCK_SURFACES.get(id),
  host: (id: string) => HOST_MODELS.get(id),
};
const DESK = 0;
const HOST = 2;
const TICK = 5_000;

class Room {
  readonly world: World;
  readonly desk: Desk;
  readonly studio: Studio;
  /** What reached the desk and the host, as hex messages by the thousand microseconds. */
  readonly toDesk: number[][] = [];
  readonly toHost: number[][] = [];

  constructor(profile: Profile = nineFerriesMix()) {
    this.world = new World(compile(profile, library));
    this.desk = this.world.desks.get('surface:desk')!;
    this.studio = this.world.hosts.get('host:studio') as Studio;
    this.listen(this.desk, this.toDesk);
    this.listen(this.studio, this.toHost);
    this.run(1_000_000);
  }
  private listen(to: Desk | Studio, list: number[][]): void {
    const receive = to.receive.bind(to);
    to.receive = (bytes, from, end) => {
      for (let at = from; at < end;) {
        let next = at + 1;
        while (next < end && bytes[next] < 0x80) next++;
        if (bytes[next] === 0xf7) next++;
        list.push([...bytes.slice(at, next)]);
        at = next;
      }
      receive(bytes, from, end);
    };
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + TICK));
    return this;
  }
  do(hand: () => void): this {
    hand();
    this.world.settle();
    return this;
  }
  press(control: string): this {
    return this.do(() => this.desk.press(control, true)).do(() => this.desk.press(control, false));
  }
  host(address: string, value: number): this {
    return this.do(() => this.studio.set(this.studio.slotOf(address), value));
  }
  value(address: string): number {
    return this.studio.values[this.studio.slotOf(address)];
  }
  out(control: string, part: string): number {
    return this.desk.outputs[
      this.desk.outs.findIndex((o) => o.control.id === control && o.part === part)
    ];
  }
  textOf(control: string, part: string): string {
    return this.desk.texts[
      this.desk.outs.findIndex((o) => o.control.id === control && o.part === part)
    ];
  }
  stop(key: string): Stop {
    const { engine } = this.world;
    return engine.log!.stop[engine.plan.parts.findIndex((part) => part.key === `desk/${key}`)];
  }
  motors(from = 0): number[][] {
    return this.toDesk.slice(from).filter(([status]) => (status & 0xf0) === 0xe0);
  }
}
const step10 = (value: number): number => Math.round(value * 1023);
const action = (
  functionId: string,
  strip: number,
  behaviour: 'follow' | 'toggle' | 'momentary' = 'follow',
): Action => ({
  do: 'function',
  host: 'studio',
  function: functionId,
  scope: { kind: 'fixed', strip },
  behaviour,
});

describe('hand to host', () => {
  test('a moved fader moves its track, over the whole travel', () => {
    const room = new Room();
    room.do(() => room.desk.touch('fader-1', true));
    for (const position of [0.25, 1, 0]) {
      room.do(() => room.desk.moveTo('fader-1', position));
      expect(step10(room.value('volume/1'))).toBe(step10(position));
    }
    room.do(() => room.desk.moveTo('fader-1', 1));
    expect(faderTaper.format(room.value('volume/1'))).toBe('+6.0 dB');
  });

  test('an encoder moves pan from where the host has it; a push centres it', () => {
    const room = new Room().host('pan/2', 0.5);
    room.do(() => room.desk.turn('encoder-2', 5));
    expect(room.value('pan/2')).toBeCloseTo(0.6, 3);
    room.press('encoder-2');
    expect(room.value('pan/2')).toBeCloseTo(0.5, 3);
  });

  test('quick ticks add up, though the host answers late', () => {
    const room = new Room().host('pan/2', 0.5);
    for (let i = 0; i < 5; i++) room.desk.turn('encoder-2', 1);
    room.run(400_000);
    expect(room.value('pan/2')).toBeCloseTo(0.6, 3);
  });

  test('one press is one change of mute, solo and arm; select chooses one strip', () => {
    const room = new Room();
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
    const room = new Room().press('play').run(3_000_000);
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
    const room = new Room().host('volume/1', 0).run(TRAVEL);
    const before = room.toHost.length;
    room.host('volume/1', 1).run(TRAVEL / 2);
    expect(room.desk.position('fader-1')).toBeCloseTo(0.5, 1);
    room.run(TRAVEL / 2 + TICK);
    expect(room.desk.position('fader-1')).toBe(1);
    expect(room.toHost.length).toBe(before);
  });

  test('written automation moves two faders by itself, and only while it plays', () => {
    const room = new Room();
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
    const room = new Room()
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
    const room = new Room().host('mute/13', 1);
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
        const room = new Room();
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
    const room = new Room();
    const before = room.toDesk.length;
    room.do(() => room.desk.touch('fader-1', true));
    room.do(() => room.desk.moveTo('fader-1', 0.3));
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.3));
    const positions = room.motors(before).map(([, lsb, msb]) => (lsb | (msb << 7)) >> 4);
    expect(new Set(positions)).toEqual(new Set([step10(0.3)]));
  });

  test('without the echo the desk itself goes back: it returns to the position last commanded', () => {
    const room = new Room().host('volume/1', 0.8).run(TRAVEL * 2);
    room.world.engine.setOutputOpen(DESK, false, room.world.time);
    room.do(() => room.desk.touch('fader-1', true)).do(() => room.desk.moveTo('fader-1', 0.1));
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.8));
  });

  test('a late older report does not pull the motor back', () => {
    const room = new Room();
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
    const room = new Room();
    room.do(() => room.desk.touch('fader-1', true)).do(() => room.desk.moveTo('fader-1', 0.5));
    const ninth = room.value('volume/9');
    room.press('bank-right').do(() => room.desk.moveTo('fader-1', 0.6));
    expect([step10(room.value('volume/1')), room.value('volume/9')]).toEqual([step10(0.6), ninth]);
    room.do(() => room.desk.touch('fader-1', false)).run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(ninth));
    expect(room.value('volume/9')).toBe(ninth);
  });
});

describe('where a message stops', () => {
  test.each([
    [
      'nothing bound',
      'function-1/push',
      Stop.NothingBound,
      (r: Room) => {
        const ref = { surface: 'desk', control: 'function-1', part: 'push' } as const;
        r.world.load(compile(unbind(nineFerriesMix(), 'Unbind', ref).document, library));
        r.press('function-1');
      },
    ],
    [
      'held off',
      'mute-1/push',
      Stop.HeldOff,
      (r: Room) => {
        r.world.engine.holdOff = true;
        r.press('mute-1');
      },
    ],
    [
      'not available: a bus has no arm',
      'arm-5/push',
      Stop.NotAvailable,
      (r: Room) => r.press('bank-right').press('bank-right').press('arm-5'),
    ],
    [
      'host closed',
      'mute-1/push',
      Stop.HostClosed,
      (r: Room) => {
        r.world.plug(HOST, false);
        r.press('mute-1');
      },
    ],
  ])('%s', (_, key, why, act) => {
    const room = new Room();
    const before = room.toHost.length;
    act(room);
    expect(room.stop(key)).toBe(why);
    expect(STOP_STATION[why]).toBe('function');
    expect(room.toHost.length).toBe(before);
  });

  test('an encoder whose value the host has not told stops at the state', () => {
    const room = new Room();
    room.world.setReal(HOST, true);
    room.world.engine.setOutputOpen(HOST, true, room.world.time);
    room.do(() => room.desk.turn('encoder-1', 1));
    expect(room.stop('encoder-1/value')).toBe(Stop.StateUnknown);
    expect(room.out('encoder-1', 'ring')).toBe(-1);
  });

  test('a message that is no control’s is told', () => {
    const room = new Room();
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
    const room = new Room(profile);
    room.do(() => room.desk.moveTo('fader-1', 0.4));
    expect(room.stop('fader-1/value')).toBe(Stop.Broken);
    room.press('mute-1');
    expect(room.value('mute/1')).toBe(1);
  });
});

describe('while it runs', () => {
  const momentary = () =>
    bind(
      nineFerriesMix(),
      'Bind',
      { surface: 'desk', control: 'function-1', part: 'push' },
      action('mute', 4, 'momentary'),
    ).document;
  const hold = (room: Room) => room.do(() => room.desk.press('function-1', true));

  test('momentary holds while held', () => {
    const room = hold(new Room(momentary()));
    expect(room.value('mute/5')).toBe(1);
    room.do(() => room.desk.press('function-1', false));
    expect(room.value('mute/5')).toBe(0);
  });

  test.each([
    ['panic', (r: Room) => r.world.engine.panic(r.world.time)],
    ['unplugging the desk', (r: Room) => r.world.plug(DESK, false)],
    [
      'deleting the binding',
      (r: Room) =>
        r.world.load(
          compile(
            unbind(momentary(), 'Unbind', { surface: 'desk', control: 'function-1', part: 'push' })
              .document,
            library,
          ),
        ),
    ],
  ])('%s lets go of what is held', (_, act) => {
    const room = hold(new Room(momentary()));
    act(room);
    room.world.settle();
    expect(room.value('mute/5')).toBe(0);
  });

  test('hold off does not leave a held function hanging', () => {
    const room = hold(new Room(momentary()));
    room.world.engine.holdOff = true;
    room.do(() => room.desk.press('function-1', false));
    expect(room.value('mute/5')).toBe(0);
  });

  test('another edit meanwhile keeps the press, the touch and the bank', () => {
    const room = hold(new Room(momentary()));
    room.press('bank-right').do(() => room.desk.touch('fader-2', true));
    const { document: profile } = bind(
      momentary(),
      'Bind',
      { surface: 'desk', control: 'fader-1', part: 'value' },
      action('pan', 0),
    );
    room.world.load(compile(profile, library));
    expect([room.value('mute/5'), room.world.engine.bank.start]).toEqual([1, 8]);
    const seen = room.toDesk.length;
    room.host('volume/10', 0.123).run(TRAVEL);
    expect(room.motors(seen).filter(([status]) => status === 0xe1)).toEqual([]);
    room.do(() => room.desk.press('function-1', false));
    expect(room.value('mute/5')).toBe(0);
  });

  test('the will names exactly the bytes that release what is held', () => {
    const room = new Room(momentary());
    expect(room.world.engine.releaseBytes(HOST)).toHaveLength(0);
    hold(room);
    // Track 5 mute: controller 102 on channel 5.
    expect([...room.world.engine.releaseBytes(HOST)]).toEqual([0xb4, 102, 0]);
  });

  test('after panic motors are let go until the next repaint', () => {
    const room = new Room();
    room.world.engine.panic(room.world.time);
    const seen = room.toDesk.length;
    room.host('volume/1', 0.2).run(TRAVEL);
    expect(room.motors(seen)).toEqual([]);
    room.world.engine.repaint(room.world.time);
    room.run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.2));
  });

  test('a desk that was away is painted whole when it comes back', () => {
    const room = new Room();
    room.world.plug(DESK, false);
    room.host('mute/1', 1).host('volume/1', 0.25);
    room.world.plug(DESK, true);
    room.run(TRAVEL * 2);
    expect([room.out('mute-1', 'light'), step10(room.desk.position('fader-1'))]).toEqual([
      1,
      step10(0.25),
    ]);
  });

  test('a host that goes is unknown: lamps go dark, motors stay', () => {
    const room = new Room().host('mute/1', 1);
    const at = room.desk.position('fader-1');
    room.world.plug(HOST, false);
    room.run(TRAVEL);
    const { plan, beliefs } = room.world.engine;
    const told = plan.slots.filter(({ link }, i) => link >= 0 && beliefs.know[i] !== Know.Unknown);
    expect(told).toEqual([]);
    expect([room.out('mute-1', 'light'), room.desk.position('fader-1')]).toEqual([0, at]);
    room.world.plug(HOST, true);
    room.run(TRAVEL);
    expect(room.out('mute-1', 'light')).toBe(1);
  });

  test('the same hands give the same bytes', () => {
    const play = () => {
      const room = new Room();
      room.press('play').do(() => room.desk.touch('fader-3', true));
      for (let i = 0; i < 50; i++) room.do(() => room.desk.moveTo('fader-3', i / 50)).run(7_000);
      return [room.toDesk, room.toHost];
    };
    expect(play()).toEqual(play());
  });
});
