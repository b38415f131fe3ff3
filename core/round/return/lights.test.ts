import { HOST_MODELS } from '@rondo/core/host';
import { neapRink, nineFerriesMix, type Action, type Profile } from '@rondo/core/profile';
import { COBBLE_64, surfaceSchema, type ReturnSettings, type Surface } from '@rondo/core/surface';
import { TICK, number, LitRoom, studio, pads } from '../../testing/lit-room.js';

describe('lights follow from the binding', () => {
  test('a pad bound to mute shows mute, in the colour that mute has in the trade, without being asked', () => {
    const room = new LitRoom(pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('arm', 1) }));
    expect(room.light('pads', 'pad-1')).toBe(0);
    room.set('mute/1', 1).set('arm/2', 1);
    expect(room.light('pads', 'pad-1')).toBe(number('#f59e0b'));
    expect(room.light('pads', 'pad-2')).toBe(number('#ef4444'));
    expect(room.set('mute/1', 0).light('pads', 'pad-1')).toBe(0);
  });

  test('each state has its own look: waiting blinks by itself, armed and unavailable as they are told', () => {
    const profile = pads(
      { 'pad-1': studio('clip1', 0), 'pad-2': studio('mute', 2) },
      { returns: { states: { armed: { colour: '#400000', brightness: 1 } } } },
    );
    const room = new LitRoom(profile);
    const dark = room.light('pads', 'pad-2');
    room.set('play', 1).press('pads', 'pad-1');
    // The Studio starts clips with the bar: until then it waits.
    expect(new Set(room.film('pads', 'pad-1', 1_000_000))).toEqual(new Set([0, number('#22c55e')]));
    room.run(3_000_000);
    expect(room.film('pads', 'pad-1', 1_000_000)).toEqual([number('#22c55e')]);
    room.set('arm/3', 1);
    expect(room.light('pads', 'pad-2')).toBe(number('#400000'));
    expect(room.set('arm/3', 0).light('pads', 'pad-2')).toBe(dark);
  });

  test('what cannot be had now looks unavailable', () => {
    const profile = neapRink();
    const booth = HOST_MODELS.get('booth')!;
    const needy = booth.functions.find(({ needs }) => needs !== undefined)!;
    const gate = booth.functions.find(({ id }) => id === needy.needs)!;
    const action: Action = {
      do: 'function',
      host: 'booth',
      function: needy.id,
      scope: needy.per === 'strip' ? { kind: 'fixed', strip: 0 } : { kind: 'host' },
      behaviour: 'toggle',
    };
    const room = new LitRoom({
      ...profile,
      bindings: {
        b: {
          id: 'b',
          layer: 'base',
          control: { surface: 'pads', control: 'pad-1', part: 'push' },
          actions: [action],
          returns: { states: { unavailable: { colour: '#0000ff', brightness: 1 } } },
        },
      },
      bindingOrder: ['b'],
    });
    const address = gate.per === 'strip' ? `${gate.id}/1` : gate.id;
    room.set(address, 0);
    expect(room.light('pads', 'pad-1')).toBe(number('#0000ff'));
    expect(room.set(address, 1).light('pads', 'pad-1')).not.toBe(number('#0000ff'));
  });

  test('value bands, a blend between two ends, and inverted', () => {
    const bands = [
      { upTo: 0.5, colour: '#00ff00', brightness: 1 },
      { upTo: 1, colour: '#ff0000', brightness: 1 },
    ];
    const follow = (strip: number) => studio('volume', strip, 'set');
    const room = new LitRoom(
      pads(
        { 'pad-1': follow(0), 'pad-2': follow(1), 'pad-3': studio('mute', 2) },
        {},
        {
          'pad-1': { by: 'bands', bands },
          'pad-2': {
            by: 'gradient',
            low: { colour: '#000000', brightness: 0 },
            high: { colour: '#0000ff', brightness: 1 },
          },
          'pad-3': { invert: true },
        },
      ),
    );
    const green = number('#00ff00');
    const red = number('#ff0000');
    expect([0.2, 0.49, 0.51, 1].map((v) => room.set('volume/1', v).light('pads', 'pad-1'))).toEqual(
      [green, green, red, red],
    );
    const blend = [0, 0.3, 0.6, 1].map((v) => room.set('volume/2', v).light('pads', 'pad-2'));
    expect([blend[0], blend[3]]).toEqual([0, number('#0000ff')]);
    expect(new Set(blend).size).toBe(4);
    expect([0, 1].map((v) => room.set('mute/3', v).light('pads', 'pad-3') > 0)).toEqual([
      true,
      false,
    ]);
  });

  test('blinking is even, pulsing goes through steps, and both stop at once with what they show', () => {
    const room = new LitRoom(
      pads(
        { 'pad-1': studio('mute', 0), 'pad-2': studio('solo', 1) },
        {},
        {
          'pad-1': { states: { on: { motion: 'blink' } } },
          'pad-2': { states: { on: { motion: 'pulse', colour: '#ffffff' } } },
        },
      ),
    )
      .set('mute/1', 1)
      .set('solo/2', 1);
    const blink = room.film('pads', 'pad-1', 2_000_000);
    // Two changes in each of four half seconds, and where it began.
    expect(blink.length).toBeGreaterThanOrEqual(8);
    expect(blink.length).toBeLessThanOrEqual(9);
    expect(new Set(blink)).toEqual(new Set([0, number('#f59e0b')]));
    expect(new Set(room.film('pads', 'pad-2', 1_100_000)).size).toBeGreaterThan(4);
    room.set('mute/1', 0).set('solo/2', 0).run(300_000);
    expect(room.film('pads', 'pad-1', 1_000_000)).toEqual([0]);
    expect(room.film('pads', 'pad-2', 1_000_000)).toEqual([0]);
  });

  test.each([
    ['beat', 1],
    ['bar', 4],
  ] as const)('what flashes with the %s does so once in %i beats, and on it', (motion, beats) => {
    const room = new LitRoom(
      pads(
        { 'pad-1': studio('click', null) },
        {},
        {
          'pad-1': { states: { on: { motion, colour: '#ffffff' } } },
        },
      ),
    )
      .set('click', 1)
      .set('play', 1);
    room.run(2_000_000);
    // The Studio's tempo, beats a minute, from its own value.
    const bpm = 20 + room.host.values[room.host.slotOf('tempo')] * 280;
    const beat = (beats * 60_000_000) / bpm;
    const starts: number[] = [];
    let lit = room.light('pads', 'pad-1') > 0;
    const end = room.world.time + 8 * beat;
    while (room.world.time < end) {
      room.run(TICK);
      const now = room.light('pads', 'pad-1') > 0;
      if (now && !lit) starts.push(room.world.time);
      lit = now;
    }
    expect(starts.length).toBeGreaterThanOrEqual(7);
    for (let i = 1; i < starts.length; i++)
      expect(Math.abs(starts[i] - starts[i - 1] - beat)).toBeLessThanOrEqual(3 * TICK);
  });

  test('a device that blinks by itself is told so once', () => {
    const profile = nineFerriesMix();
    const b = profile.bindingOrder.find(
      (key) => profile.bindings[key].control?.control === 'play',
    )!;
    profile.bindings[b].returns = { states: { on: { motion: 'blink' } } };
    const room = new LitRoom(profile).set('play', 1);
    expect(room.film('desk', 'play', 1_500_000)).toEqual([1]);
  });

  test('full-colour lights are told red, green and blue', () => {
    const surface = surfaceSchema.parse({
      ...COBBLE_64,
      id: 'glow',
      controls: [
        {
          ...COBBLE_64.controls[0],
          takes: { light: { type: 'colour', template: 'F0 7D 01 red green blue F7' } },
        },
      ],
    });
    const profile = pads(
      { 'pad-1': studio('mute', 0) },
      {},
      {
        'pad-1': { states: { on: { colour: '#ff8000' } } },
      },
    );
    profile.surfaces['pads'].model = 'glow';
    const room = new LitRoom(profile, surface).set('mute/1', 1);
    const wire = room.desk('pads').outputs[0];
    expect([wire >> 14, (wire >> 7) & 0x7f, wire & 0x7f]).toEqual([127, 64, 0]);
  });
});

describe('inheritance reaches the hardware', () => {
  const two = { 'pad-1': studio('mute', 0), 'pad-2': studio('mute', 1) };

  test('change the surface’s “on”, and every light that inherits changes at once; what says otherwise stays', () => {
    const profile = pads(
      { ...two, 'pad-3': studio('click', null) },
      {},
      { 'pad-2': { states: { on: { colour: '#00ff00' } } } },
    );
    const room = new LitRoom(profile).set('mute/1', 1).set('mute/2', 1).set('click', 1);
    const surface: Surface = {
      ...COBBLE_64,
      returns: { states: { on: { colour: '#0000ff', brightness: 1 } } },
    };
    room.load(profile, surface);
    expect(room.light('pads', 'pad-1')).toBe(number('#0000ff'));
    expect(room.light('pads', 'pad-3')).toBe(number('#0000ff'));
    expect(room.light('pads', 'pad-2')).toBe(number('#00ff00'));
  });

  const off: ReturnSettings = { feedback: false };
  test.each([
    ['surface', (profile: Profile) => [profile, { ...COBBLE_64, returns: off }] as const],
    ['profile', (profile: Profile) => [{ ...profile, returns: off }, COBBLE_64] as const],
    [
      'layer',
      (profile: Profile) =>
        [
          { ...profile, layers: { base: { ...profile.layers['base'], returns: off } } },
          COBBLE_64,
        ] as const,
    ],
    [
      'binding',
      (profile: Profile) =>
        [
          {
            ...profile,
            bindings: {
              ...profile.bindings,
              b1: { ...profile.bindings['b1'], returns: off },
            },
          },
          COBBLE_64,
        ] as const,
    ],
  ])(
    'feedback off at the %s: the light goes dark and stays so',
    (level: string, silence: (profile: Profile) => readonly [Profile, Surface]) => {
      const profile = pads(two);
      const room = new LitRoom(profile).set('mute/1', 1).set('mute/2', 1);
      expect(room.light('pads', 'pad-1')).toBeGreaterThan(0);
      room.load(...silence(profile));
      expect(room.light('pads', 'pad-1')).toBe(0);
      expect(room.set('mute/1', 0).set('mute/1', 1).light('pads', 'pad-1')).toBe(0);
      expect(room.light('pads', 'pad-2') > 0).toBe(level === 'binding');
      // And a more special level may bring it back.
      const b1 = { ...profile.bindings['b1'], returns: { feedback: true } };
      room.load({ ...profile, returns: off, bindings: { ...profile.bindings, b1 } }, COBBLE_64);
      expect([room.light('pads', 'pad-1') > 0, room.light('pads', 'pad-2')]).toEqual([true, 0]);
    },
  );

  test('a motor left alone stays where the hand leaves it, whatever the host does', () => {
    const profile = { ...nineFerriesMix(), returns: { motor: false } };
    const room = new LitRoom(profile);
    const desk = room.desk('desk');
    desk.touch('fader-1', true);
    desk.moveTo('fader-1', 0.4);
    room.world.settle();
    desk.touch('fader-1', false);
    room.run(500_000).set('volume/1', 0.9).run(500_000);
    expect(desk.position('fader-1')).toBeCloseTo(0.4, 2);
  });
});
