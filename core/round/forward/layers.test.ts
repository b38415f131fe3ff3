import fc from 'fast-check';
import { neapRink, type Action, type Profile } from '@rondo/core/profile';
import { fn, wide, profileOf, twoLayers, BoxRoom } from '../../testing/box-room.js';

describe('layers', () => {
  const hold = { do: 'layer', layer: 'up', how: 'hold' } as const;

  test('a control held while its layer changes lets go of what it took hold of', () => {
    const room = new BoxRoom(
      profileOf(
        [
          { on: 'shift', actions: hold },
          { on: 'key', actions: fn('mute', 'momentary') },
          { on: 'key', layer: 'up', actions: fn('solo', 'momentary') },
        ],
        twoLayers(),
      ),
    );
    room.down('shift').down('key').up('shift');
    expect([room.value('mute/1'), room.value('solo/1')]).toEqual([0, 1]);
    room.up('key');
    expect([room.value('mute/1'), room.value('solo/1')]).toEqual([0, 0]);
  });

  test('whatever the layers and touches, all that is held is released once', () => {
    const controls = ['key', 'other', 'shift', 'latch'];
    const step = fc.record({
      control: fc.constantFrom(...controls),
      wait: fc.constantFrom(0, 200_000, 700_000),
    });
    const actions = (n: number): Action[] => [
      fn('mute', 'momentary', { scope: { kind: 'window', offset: n } }),
      { do: 'notes', to: { host: 'studio' }, channel: 5, notes: [40 + (n % 2)] },
    ];
    const profile = profileOf(
      [
        { on: 'shift', actions: hold },
        { on: 'latch', actions: [hold, { do: 'bank', by: 1 }] },
        { on: 'key', actions: actions(0) },
        { on: 'key', gesture: 'longPress', layer: 'up', actions: actions(1) },
        { on: 'other', actions: actions(2) },
        { on: 'other', gesture: 'doubleTap', actions: actions(3) },
      ],
      twoLayers(),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), fc.boolean(), (steps, panics) => {
        const room = new BoxRoom(profile);
        const held = new Set<string>();
        for (const { control, wait } of steps) {
          if (held.delete(control)) room.up(control);
          else {
            held.add(control);
            room.down(control);
          }
          room.run(wait);
        }
        if (panics) room.world.engine.panic(room.world.time);
        else for (const control of held) room.up(control);
        room.run(1_000_000);
        const sounding = new Set<string>();
        for (const [, note, velocity] of room.sent.join('').matchAll(/94(2[89a])(..)/g))
          if (velocity !== '00') sounding.add(note);
          // An end comes once, and only for what sounds.
          else expect(sounding.delete(note)).toBe(true);
        expect(sounding).toEqual(new Set());
        expect([1, 2, 3, 4, 5, 6, 7, 8, 9, 10].filter((n) => room.value(`mute/${n}`) > 0)).toEqual(
          [],
        );
        const latched = room.isOn('up') ? 1 : 0;
        expect([...room.world.engine.releaseBytes(1)].length).toBe(0);
        // Only the key that latches in hardware may still hold its layer.
        if (panics) expect(latched).toBe(0);
      }),
      { numRuns: 60 },
    );
  });

  test('radio groups, next and previous with wrap or stop, and a held one in place of the latched', () => {
    const layers = Object.fromEntries(
      ['base', 'a', 'b', 'c'].map((id) => [
        id,
        { id, label: id, ...(id === 'base' ? {} : { group: 'g' }) },
      ]),
    );
    const step = (wrap: boolean): Action => ({ do: 'layerStep', group: 'g', by: 1, wrap });
    const profile = (wrap: boolean) =>
      profileOf(
        [
          { on: 'key', actions: step(wrap) },
          { on: 'shift', actions: { do: 'layer', layer: 'c', how: 'hold' } },
        ],
        { layers, layerOrder: ['base', 'a', 'b', 'c'] },
      );
    const on = (room: BoxRoom) => ['a', 'b', 'c'].filter((id) => room.isOn(id)).join('');
    const walk = (wrap: boolean) => {
      const room = new BoxRoom(profile(wrap));
      return [1, 2, 3, 4].map(() => on(room.tap('key'))).join(' ');
    };
    expect([walk(true), walk(false)]).toEqual(['a b c a', 'a b c c']);
    const room = new BoxRoom(profile(true)).tap('key').down('shift');
    expect([on(room), on(room.up('shift'))]).toEqual(['c', 'a']);
  });

  test('entering sets a state: twice is once, also toward a host that only knows how to turn it over', () => {
    const lamp = fn('lamp', 'set', { host: 'flipper', scope: { kind: 'host' }, to: 1 });
    const profile = profileOf(
      [
        { on: 'shift', actions: { do: 'layer', layer: 'up', how: 'toggle' } },
        { on: 'key', actions: { ...lamp, behaviour: 'toggle' } },
      ],
      {
        ...twoLayers({ enter: [lamp, wide('click')] }),
        hosts: {
          studio: { id: 'studio', model: 'studio', label: 'Studio' },
          flipper: { id: 'flipper', model: 'flipper', label: 'Flipper' },
        },
        hostOrder: ['studio', 'flipper'],
      },
    );
    const sent: number[] = [];
    const room = new BoxRoom(profile, 'box', (_, bytes, from, to) =>
      sent.push(...bytes.slice(from, to)),
    );
    const out = room.world;
    const flipper = out.engine.linkOf('host:flipper');
    out.setReal(flipper, true);
    out.engine.setInputOpen(flipper, true, out.time);
    out.engine.setOutputOpen(flipper, true, out.time);
    // Unknown: nothing is turned over blindly.
    room.tap('shift').run(20_000);
    expect([sent, room.value('click')]).toEqual([[], 1]);
    // It says that it is off; entering turns it on, once, and leaving and entering again not at all.
    out.engine.at(out.time).receive(flipper, Uint8Array.of(0x92, 9, 0), 0, 3);
    room.tap('shift').tap('shift').run(20_000);
    expect(sent).toEqual([0x92, 9, 127]);
    room.tap('shift').tap('shift').run(20_000);
    expect(sent).toEqual([0x92, 9, 127]);
  });

  test('layers in a circle, what is gone, and what would turn over: kept, told, and the rest works', () => {
    const on = (layer: string): Action => ({ do: 'layer', layer, how: 'on' });
    const off = (layer: string): Action => ({ do: 'layer', layer, how: 'off' });
    const profile = profileOf(
      [
        { on: 'key', actions: fn('mute', 'toggle') },
        { on: 'other', when: [{ flag: 'gone', is: 'on' }], actions: fn('solo', 'toggle') },
        { on: 'missing/push', actions: fn('solo', 'toggle') },
        { on: 'shift', actions: on('up') },
      ],
      {
        layers: {
          base: { id: 'base', label: 'Base' },
          up: {
            id: 'up',
            label: 'Up',
            enter: [off('down'), wide('click', 'toggle')],
            leave: [on('down')],
          },
          down: { id: 'down', label: 'Down', enter: [off('up')], leave: [on('up')] },
        },
        layerOrder: ['base', 'up', 'down'],
      },
    );
    const room = new BoxRoom(profile);
    const { broken } = room.world.engine.plan;
    expect([...new Set(broken.map(({ what }) => what))].sort()).toEqual([
      'circle',
      'control',
      'flag',
      'turnsOver',
    ]);
    room.tap('shift').tap('key').tap('other');
    expect([
      room.isOn('up'),
      room.value('mute/1'),
      room.value('solo/1'),
      room.value('click'),
    ]).toEqual([true, 1, 0, 0]);
  });

  test('another profile inherits nothing, whatever is called alike in it: no layer, no flag, nothing held', () => {
    const named = (id: string) =>
      profileOf(
        [
          { on: 'key', actions: fn('mute', 'momentary') },
          { on: 'other', actions: { do: 'flag', flag: 'f', how: 'hold' } },
        ],
        {
          ...twoLayers(),
          flags: { f: { id: 'f', label: 'F' }, g: { id: 'g', label: 'G' } },
          flagOrder: ['f', 'g'],
          id,
        },
      );
    fc.assert(
      fc.property(
        fc.boolean(),
        fc.boolean(),
        fc.boolean(),
        fc.boolean(),
        (layer, flag, key, other) => {
          const room = new BoxRoom(named('p'));
          const { engine } = room.world;
          if (layer) engine.setLayer('up', true, room.world.time);
          if (flag) engine.setFlag('g', true, room.world.time);
          if (key) room.down('key');
          if (other) room.down('other');
          room.load(named('q')).run(100_000);
          expect(engine.session()).toEqual({ layers: [], flags: { f: false, g: false } });
          expect(room.value('mute/1')).toBe(0);
          // And what is let go of there lets go of nothing.
          if (key) room.up('key');
          if (other) room.up('other');
          expect(engine.session()).toEqual({ layers: [], flags: { f: false, g: false } });
          // The same profile once more goes on as it was.
          engine.setFlag('g', true, room.world.time);
          room.load(named('q'));
          expect(engine.session().flags).toEqual({ f: false, g: true });
        },
      ),
      { numRuns: 30 },
    );
  });

  test('layers that are on and are then given one group: the higher one stays, the other can be turned on in its place', () => {
    const three = (group?: string): Partial<Profile> => ({
      layers: {
        base: { id: 'base', label: 'Base' },
        a: { id: 'a', label: 'A', ...(group ? { group } : {}) },
        b: { id: 'b', label: 'B', ...(group ? { group } : {}) },
      },
      layerOrder: ['base', 'a', 'b'],
    });
    const room = new BoxRoom(profileOf([], three()));
    const { engine } = room.world;
    engine.setLayer('a', true, room.world.time);
    engine.setLayer('b', true, room.world.time);
    room.load(profileOf([], three('One')));
    expect(engine.session().layers).toEqual(['b']);
    engine.setLayer('a', true, room.world.time);
    expect(engine.session().layers).toEqual(['a']);
    // As it may have been stored before.
    engine.restore({ layers: ['a', 'b'], flags: {} }, room.world.time);
    expect(engine.session().layers).toEqual(['b']);
  });

  test('layers and flags are there again after a restart, and an edit keeps them', () => {
    const profile = profileOf(
      [
        { on: 'shift', actions: { do: 'layer', layer: 'up', how: 'toggle' } },
        { on: 'key', actions: { do: 'flag', flag: 'f', how: 'toggle' } },
      ],
      { ...twoLayers(), flags: { f: { id: 'f', label: 'F' } }, flagOrder: ['f'] },
    );
    const room = new BoxRoom(profile).tap('shift').tap('key');
    const session = room.world.engine.session();
    expect(session).toEqual({ layers: ['up'], flags: { f: true } });
    room.load({ ...profile, name: 'Q' });
    expect(room.world.engine.session()).toEqual(session);
    const again = new BoxRoom(profile);
    again.world.engine.restore(session, again.world.time);
    expect([again.isOn('up'), again.flag('f')]).toEqual([true, true]);
  });

  test('an onboard page of the device is a layer', () => {
    const room = new BoxRoom(neapRink(), 'keys');
    const focus = () => [room.value('effect1Amount', 'booth'), room.value('stem1/1', 'booth')];
    const before = focus();
    room.desk.turnPage(1);
    room.world.settle();
    expect(room.isOn('stems')).toBe(true);
    room.move('knob-1', 1, 0, 0.25);
    expect(focus()[0]).toBe(before[0]);
    expect(focus()[1]).toBeCloseTo(0.25, 1);
  });
});
