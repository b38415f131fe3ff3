import fc from 'fast-check';
import {
  nineFerriesMix,
  readProfile,
  zonesOf,
  type FunctionAction,
  type Profile,
} from '@rondo/core/profile';
import { Stop, compile } from '@rondo/core/round';
import type { Surface } from '@rondo/core/surface';
import { BOX, library, fn, wide, profileOf, twoLayers, BoxRoom } from '../../testing/box-room.js';

describe('complaints that cannot be, or are one click from mended', () => {
  test('“mutes only while I hold it”: toggle stays, and momentary is one word away', () => {
    const bound = (behaviour: FunctionAction['behaviour']) =>
      profileOf([{ on: 'key', actions: fn('mute', behaviour) }]);
    const room = new BoxRoom(bound('momentary')).down('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.up('key').value('mute/1')).toBe(0);
    room.load(bound('toggle')).tap('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.tap('key').value('mute/1')).toBe(0);
  });

  test('“needs two presses”: one press is one change, self-latching or not, over any run of presses', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('key', 'latch'),
        fc.nat({ max: 9 }),
        fc.boolean(),
        (key, presses, outside) => {
          const room = new BoxRoom(profileOf([{ on: key, actions: fn('mute', 'toggle') }]));
          if (outside) room.host('mute/1', 1);
          for (let n = 0; n < presses; n++) {
            const before = room.value('mute/1');
            expect(room.tap(key).value('mute/1')).toBe(1 - before);
          }
          expect(room.value('mute/1')).toBe((presses + (outside ? 1 : 0)) % 2);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('“jumps when I touch it”: a knob far from its function moves nothing until it is there', () => {
    const room = new BoxRoom(profileOf([{ on: 'knob', actions: fn('volume') }])).host(
      'volume/1',
      0.8,
    );
    room.move('knob', 0.2, 0.5, 0.7);
    expect(room.value('volume/1')).toBeCloseTo(0.8, 3);
    expect(room.stop('knob', 'value')).toBe(Stop.Pickup);
    expect(room.gap('knob')).toBeCloseTo(0.1, 2);
    room.move('knob', 0.82, 0.9);
    expect([room.stop('knob', 'value'), room.gap('knob')]).toEqual([Stop.None, 0]);
    expect(room.value('volume/1')).toBeCloseTo(0.9, 2);
    // Moved in the host, it is to be met anew.
    room.host('volume/1', 0.3).move('knob', 0.85);
    expect(room.value('volume/1')).toBeCloseTo(0.3, 3);
  });

  test('“the button is gone on the other bank”: what is not rebound falls through', () => {
    const room = new BoxRoom(
      profileOf(
        [
          { on: 'shift', actions: { do: 'layer', layer: 'up', how: 'toggle' } },
          { on: 'key', actions: fn('mute', 'toggle') },
          { on: 'other', layer: 'up', actions: fn('solo', 'toggle') },
        ],
        twoLayers(),
      ),
    );
    expect(room.tap('other').stop('other')).toBe(Stop.OtherLayer);
    room.tap('shift').tap('key').tap('other');
    expect([room.value('mute/1'), room.value('solo/1')]).toEqual([1, 1]);
    // The way back is there too.
    expect(room.tap('shift').isOn('up')).toBe(false);
  });

  test('“the three-position switch depends on where it was”: each position is a value of its own', () => {
    const zones = zonesOf([3 / 11, 6 / 11, 9 / 11]);
    const actions = fn('loopLength', 'follow', { host: 'booth', shape: { zones } });
    const profile = profileOf([{ on: 'switch', actions }], {
      hosts: { booth: { id: 'booth', model: 'booth', label: 'Booth' } },
      hostOrder: ['booth'],
    });
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(0, 0.5, 1), { minLength: 1, maxLength: 12 }),
        (moves) => {
          const room = new BoxRoom(profile);
          // Whatever the host showed before.
          room.host('loopLength/1', 1, 'booth');
          const positions = moves.filter((m, i) => m !== (i === 0 ? 0 : moves[i - 1]));
          for (const position of positions) {
            room.move('switch', position).run(200_000);
            const expected = { 0: 3, 0.5: 6, 1: 9 }[position as 0 | 0.5 | 1];
            expect(Math.round(room.value('loopLength/1', 'booth') * 11)).toBe(expected);
          }
        },
      ),
      { numRuns: 20 },
    );
  });
});

describe('gestures', () => {
  const LONG = { on: 'key', gesture: 'longPress', actions: fn('solo', 'toggle') } as const;
  const DOUBLE = { on: 'key', gesture: 'doubleTap', actions: fn('arm', 'toggle') } as const;
  const PRESS = { on: 'key', actions: fn('mute', 'toggle') } as const;
  const state = (room: BoxRoom) =>
    ['mute/1', 'solo/1', 'arm/1'].map((address) => room.value(address));

  test('a plain press acts at once where nothing else is bound', () => {
    expect(state(new BoxRoom(profileOf([PRESS])).down('key'))).toEqual([1, 0, 0]);
  });

  test('a long press above leaves the plain press below in place, which acts on a short release', () => {
    const profile = profileOf([PRESS, { ...LONG, layer: 'up' }], {
      ...twoLayers(),
    });
    const room = new BoxRoom(profile);
    room.world.engine.setLayer('up', true, room.world.time);
    expect(state(room.down('key'))).toEqual([0, 0, 0]);
    expect(state(room.run(200_000).up('key'))).toEqual([1, 0, 0]);
    expect(state(room.down('key').run(600_000))).toEqual([1, 1, 0]);
    expect(state(room.up('key').run(600_000))).toEqual([1, 1, 0]);
  });

  test('double tap: two presses within its time; one alone is a press when the time is over', () => {
    const room = new BoxRoom(profileOf([PRESS, DOUBLE]));
    room.tap('key').run(100_000).tap('key').run(500_000);
    expect(state(room)).toEqual([0, 0, 1]);
    room.tap('key').run(290_000);
    expect(state(room)).toEqual([0, 0, 1]);
    expect(state(room.run(50_000))).toEqual([1, 0, 1]);
  });

  test('whenever the bank moves, all that comes of a press acts where it was pressed', () => {
    const inWindow = (name: string) => fn(name, 'toggle', { scope: { kind: 'window', offset: 0 } });
    const moves = fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 5, maxLength: 5 });
    fc.assert(
      fc.property(
        fc.constantFrom('longPress' as const, 'release' as const, 'doubleTap' as const),
        fc.constantFrom('tap', 'hold', 'twice'),
        fc.integer({ min: 0, max: 12 }),
        moves,
        (gesture, hand, start, by) => {
          const room = new BoxRoom(
            profileOf([
              { on: 'key', actions: inWindow('mute') },
              { on: 'key', gesture, actions: inWindow('solo') },
            ]),
          );
          const { engine } = room.world;
          const bank = (n: number) => engine.moveBank(by[n], room.world.time);
          const on = (name: string) =>
            Array.from({ length: 16 }, (_, strip) => room.value(`${name}/${strip + 1}`)).flatMap(
              (value, strip) => (value === 1 ? [strip] : []),
            );
          engine.goToBank(start, room.world.time);
          const at = engine.bank.start;
          room.down('key');
          bank(0);
          room.run(hand === 'hold' ? 700_000 : 50_000);
          bank(1);
          room.up('key');
          bank(2);
          if (hand === 'twice') {
            room.run(50_000).down('key');
            bank(3);
            room.up('key');
          }
          room.run(20_000);
          bank(4);
          room.run(600_000);
          const all = [...on('mute'), ...on('solo')];
          // Two presses of which each counts are two: the second is pressed where the bank is then.
          if (hand === 'twice' && gesture !== 'doubleTap') return;
          expect(new Set(all)).toEqual(new Set([at]));
          expect(on('solo')).toEqual(
            gesture === 'release' ||
              (gesture === 'longPress' && hand === 'hold') ||
              (gesture === 'doubleTap' && hand === 'twice')
              ? [at]
              : [],
          );
        },
      ),
    );
  });

  test('release has a binding of its own', () => {
    const room = new BoxRoom(
      profileOf([PRESS, { on: 'key', gesture: 'release', actions: fn('solo', 'toggle') }]),
    );
    expect(state(room.down('key'))).toEqual([1, 0, 0]);
    expect(state(room.up('key'))).toEqual([1, 1, 0]);
  });
});

describe('shape and feel', () => {
  test('a range is never left, an inverted knob turns the other way', () => {
    const shape = { low: 0.2, high: 0.6, invert: true };
    const room = new BoxRoom(
      profileOf([
        { on: 'knob', actions: fn('volume', 'follow', { shape }), feel: { takeover: 'jump' } },
      ]),
    );
    room.move('knob', 1, 0);
    expect(room.value('volume/1')).toBeCloseTo(0.6, 3);
    expect(room.move('knob', 1).value('volume/1')).toBeCloseTo(0.2, 3);
  });

  test('a motor fader with a shape stays where the hand left it, and goes where its value is', () => {
    const shape = {
      low: 0.2,
      high: 0.8,
      invert: true,
      curve: { kind: 'exponential', bend: 2 },
    } as const;
    const room = new BoxRoom(
      profileOf([{ on: 'fader', actions: fn('volume', 'follow', { shape }) }]),
    );
    room.desk.touch('fader', true);
    room.move('fader', 0.3);
    const left = room.desk.position('fader');
    room.desk.touch('fader', false);
    room.world.settle();
    room.run(800_000);
    expect(room.desk.position('fader')).toBe(left);
    room.host('volume/1', 0.2).run(800_000);
    expect(room.desk.position('fader')).toBe(1);
    room.host('volume/1', 0.8).run(800_000);
    expect(room.desk.position('fader')).toBe(0);
  });

  test('scaled: a knob moves its function at once, towards the end that it is turned to', () => {
    const room = new BoxRoom(
      profileOf([{ on: 'knob', actions: fn('volume'), feel: { takeover: 'scale' } }]),
    ).host('volume/1', 0.8);
    room.move('knob', 0.2);
    expect(room.value('volume/1')).toBeCloseTo(0.8, 3);
    room.move('knob', 0.6);
    expect(room.value('volume/1')).toBeCloseTo(0.9, 2);
    room.move('knob', 1);
    expect(room.value('volume/1')).toBe(1);
  });

  test('a fast turn goes further where acceleration says so; slow ones do not', () => {
    const room = new BoxRoom(
      profileOf([
        { on: 'turn', actions: fn('pan', 'follow', { step: 0.01 }), feel: { acceleration: 5 } },
      ]),
    ).host('pan/1', 0.1);
    room.run(500_000).turn('turn', 1);
    expect(room.value('pan/1')).toBeCloseTo(0.11, 3);
    for (let n = 0; n < 5; n++) room.run(5_000).turn('turn', 1);
    expect(room.value('pan/1')).toBeCloseTo(0.11 + 5 * 0.05, 2);
  });

  test('turns beyond the end are held there and counted', () => {
    const room = new BoxRoom(
      profileOf([{ on: 'turn', actions: fn('pan', 'follow', { step: 0.1 }) }]),
    ).host('pan/1', 0.95);
    room.turn('turn', 3);
    expect([room.value('pan/1'), room.world.engine.clamped]).toEqual([1, 1]);
  });

  test('numbers of a profile outside their range are read, held at its ends, and counted', () => {
    const beyond = fn('volume', 'set', { to: 7, shape: { low: -1 } });
    const profile = profileOf([{ on: 'key', actions: beyond }]);
    expect(readProfile(profile).ok).toBe(true);
    const room = new BoxRoom(profile).tap('key');
    expect([room.value('volume/1'), room.world.engine.plan.clamped]).toEqual([1, 2]);
  });

  test('feel is inherited: usual, surface, profile, layer, binding', () => {
    const takeover = (profile: Profile, surface: Partial<Surface> = {}) =>
      compile(profile, { ...library, surface: () => ({ ...BOX, ...surface }) }).actions[0].feel
        .takeover;
    const bound = profileOf([{ on: 'knob', actions: fn('volume') }]);
    const bySurface = { feel: { knob: { takeover: 'scale' as const } } };
    expect(takeover(bound)).toBe('pickup');
    expect(takeover(bound, bySurface)).toBe('scale');
    const byProfile: Profile = { ...bound, feel: { knob: { takeover: 'jump' } } };
    expect(takeover(byProfile, bySurface)).toBe('jump');
    const byLayer: Profile = {
      ...byProfile,
      layers: { base: { id: 'base', label: 'Base', feel: { knob: { takeover: 'pickup' } } } },
    };
    expect(takeover(byLayer, bySurface)).toBe('pickup');
    byLayer.bindings['b0'] = { ...byLayer.bindings['b0'], feel: { takeover: 'rest' } };
    expect(takeover(byLayer, bySurface)).toBe('rest');
  });

  test('a step goes on by one choice, and round where it says so', () => {
    const step = (wrap: boolean) =>
      profileOf([{ on: 'key', actions: { ...wide('focusInsert', 'step'), wrap } }]);
    const walk = (wrap: boolean) => {
      const room = new BoxRoom(step(wrap));
      return [1, 2, 3].map(() => Math.round(room.tap('key').run(200_000).value('focusInsert') * 2));
    };
    expect([walk(true), walk(false)]).toEqual([
      [1, 2, 0],
      [1, 2, 2],
    ]);
  });
});

describe('host focus', () => {
  const slot = (n: number): FunctionAction =>
    fn('focusInsert', 'follow', { scope: { kind: 'focus', slot: n } });
  const profile = (more: Partial<Profile> = {}, pinned = false) =>
    profileOf(
      [
        { on: 'turn', layer: 'up', actions: slot(0) },
        { on: 'knob', layer: 'up', actions: slot(3), feel: { takeover: 'jump' } },
        { on: 'turn', actions: fn('pan'), ...(pinned ? { pinned: true } : {}) },
        { on: 'key', actions: { do: 'focusPage', host: 'studio', by: 1, wrap: false } },
      ],
      { ...twoLayers(), ...more },
    );
  const ready = (p: Profile) => {
    const room = new BoxRoom(p);
    room.world.engine.setLayer('up', true, room.world.time);
    // The first track is the one whose plug-ins have focus.
    return room.host('select/1', 1).host('focusInsert', 0);
  };

  test('slots follow the plug-in in focus, in pages', () => {
    const room = ready(profile());
    room.move('knob', 1);
    expect(room.value('insert1Parameter4/1')).toBeCloseTo(1, 3);
    room.tap('key').move('knob', 0);
    expect(room.value('insert1Parameter8/1')).toBe(0);
    room.host('focusInsert', 0.5).move('knob', 0.5);
    expect(room.value('insert2Parameter4/1')).toBeCloseTo(0.5, 1);
  });

  test('whatever has focus by then, what comes of a press acts on what had it when the key went down', () => {
    const changes = fc.array(
      fc.constantFrom<(room: BoxRoom) => unknown>(
        (room) => room.host('focusInsert', 0.5),
        (room) => room.tap('key'),
      ),
      { minLength: 1, maxLength: 3 },
    );
    fc.assert(
      fc.property(
        fc.constantFrom('longPress' as const, 'release' as const, 'doubleTap' as const),
        changes,
        (gesture, all) => {
          const to = fn('focusInsert', 'set', { scope: { kind: 'focus', slot: 1 }, to: 1 });
          const room = ready(
            profileOf(
              [
                { on: 'other', ...(gesture === 'release' ? { gesture } : {}), actions: to },
                ...(gesture === 'release'
                  ? []
                  : [{ on: 'other', gesture, actions: wide('play', 'toggle') }]),
                { on: 'key', actions: { do: 'focusPage', host: 'studio', by: 1, wrap: false } },
              ],
              twoLayers(),
            ),
          );
          const parameters = () =>
            [1, 2].flatMap((strip) =>
              [1, 2].flatMap((insert) =>
                [2, 6, 10].map((n) => room.value(`insert${insert}Parameter${n}/${strip}`)),
              ),
            );
          const before = parameters();
          room.down('other');
          for (const change of all) change(room);
          room.up('other').run(500_000);
          const now = parameters();
          expect(now[0]).toBe(1);
          expect(now.slice(1)).toEqual(before.slice(1));
        },
      ),
      { numRuns: 40 },
    );
  });

  test('in the order that is kept for the plug-in', () => {
    const orders = { studio: { Equaliser: ['insert1Parameter12', 'insert1Parameter2'] } };
    const room = ready(profile({ focusOrders: orders })).turn('turn', 5);
    expect(room.value('insert1Parameter12/1')).not.toBe(0.5);
    expect(room.value('insert1Parameter1/1')).toBeCloseTo(0.5, 3);
  });

  test('a page without that parameter says so; a pinned binding keeps its control', () => {
    const room = ready(profile());
    // Six parameters, four on a page: the second page has two.
    room.host('focusInsert', 0.5).tap('key').move('knob', 0.9);
    expect(room.stop('knob', 'value')).toBe(Stop.NotAvailable);
    const pinned = ready(profile({}, true)).turn('turn', 5);
    expect(pinned.value('pan/1')).not.toBe(0.5);
    expect(pinned.value('insert1Parameter1/1')).toBeCloseTo(0.5, 3);
  });
});

test('while a control is chosen nothing that is touched acts, and what was held before is let go', () => {
  const room = new BoxRoom(
    profileOf([
      { on: 'key', actions: fn('mute', 'momentary') },
      { on: 'shift', actions: { do: 'bank', by: 1 } },
    ]),
  );
  room.down('key');
  room.world.engine.choosing = true;
  room.tap('shift').up('key');
  expect([room.world.engine.bank.start, room.value('mute/1')]).toEqual([0, 0]);
  expect(room.tap('key').value('mute/1')).toBe(0);
});

test('an edit while a key is held: what stays goes on, what goes is released', () => {
  const held = { on: 'key', id: 'held', actions: fn('mute', 'momentary') };
  const room = new BoxRoom(profileOf([held])).down('key');
  room.load(profileOf([{ on: 'other', id: 'first', actions: fn('solo', 'toggle') }, held]));
  expect(room.value('mute/1')).toBe(1);
  expect(room.up('key').value('mute/1')).toBe(0);
  room.down('key').load(profileOf([]));
  expect(room.value('mute/1')).toBe(0);
});

test('the demo’s foot switch records only where it may; a take sets its flag', () => {
  const room = new BoxRoom(nineFerriesMix(), 'feet');
  room.tap('pedal-2').run(20_000);
  expect([room.value('record'), room.flag('take')]).toEqual([1, true]);
  room.tap('pedal-2').run(20_000);
  room.world.engine.setFlag('foot-record', false, room.world.time);
  room.tap('pedal-2').run(20_000);
  expect([room.value('record'), room.flag('take'), room.stop('pedal-2')]).toEqual([
    0,
    false,
    Stop.ConditionFalse,
  ]);
});
