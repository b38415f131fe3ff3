import { bind, nineFerriesMix, unbind } from '@rondo/core/profile';
import { Know, compile } from '@rondo/core/round';
import { TRAVEL } from '@rondo/core/standin';
import { library, DESK, HOST, MixRoom, step10, action } from '../testing/mix-room.js';

describe('while it runs', () => {
  const momentary = () =>
    bind(
      nineFerriesMix(),
      'Bind',
      { surface: 'desk', control: 'function-1', part: 'push' },
      action('mute', 4, 'momentary'),
    ).document;
  const hold = (room: MixRoom) => room.do(() => room.desk.press('function-1', true));

  test('momentary holds while held', () => {
    const room = hold(new MixRoom(momentary()));
    expect(room.value('mute/5')).toBe(1);
    room.do(() => room.desk.press('function-1', false));
    expect(room.value('mute/5')).toBe(0);
  });

  test.each([
    ['panic', (r: MixRoom) => r.world.engine.panic(r.world.time)],
    ['unplugging the desk', (r: MixRoom) => r.world.plug(DESK, false)],
    [
      'deleting the binding',
      (r: MixRoom) =>
        r.world.load(
          compile(
            unbind(momentary(), 'Unbind', { surface: 'desk', control: 'function-1', part: 'push' })
              .document,
            library,
          ),
        ),
    ],
  ])('%s lets go of what is held', (_, act) => {
    const room = hold(new MixRoom(momentary()));
    act(room);
    room.world.settle();
    expect(room.value('mute/5')).toBe(0);
  });

  test('hold off does not leave a held function hanging', () => {
    const room = hold(new MixRoom(momentary()));
    room.world.engine.holdOff = true;
    room.do(() => room.desk.press('function-1', false));
    expect(room.value('mute/5')).toBe(0);
  });

  test('another edit meanwhile keeps the press, the touch and the bank', () => {
    const room = hold(new MixRoom(momentary()));
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
    const room = new MixRoom(momentary());
    expect(room.world.engine.releaseBytes(HOST)).toHaveLength(0);
    hold(room);
    // Track 5 mute: controller 102 on channel 5.
    expect([...room.world.engine.releaseBytes(HOST)]).toEqual([0xb4, 102, 0]);
  });

  test('after panic motors are let go until the next repaint', () => {
    const room = new MixRoom();
    room.world.engine.panic(room.world.time);
    const seen = room.toDesk.length;
    room.host('volume/1', 0.2).run(TRAVEL);
    expect(room.motors(seen)).toEqual([]);
    room.world.engine.repaint(room.world.time);
    room.run(TRAVEL * 2);
    expect(step10(room.desk.position('fader-1'))).toBe(step10(0.2));
  });

  test('a desk that was away is painted whole when it comes back', () => {
    const room = new MixRoom();
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
    const room = new MixRoom().host('mute/1', 1);
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
      const room = new MixRoom();
      room.press('play').do(() => room.desk.touch('fader-3', true));
      for (let i = 0; i < 50; i++) room.do(() => room.desk.moveTo('fader-3', i / 50)).run(7_000);
      return [room.toDesk, room.toHost];
    };
    expect(play()).toEqual(play());
  });
});
