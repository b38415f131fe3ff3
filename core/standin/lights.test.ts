import fc from 'fast-check';
import { HOST_MODELS } from '@rondo/core/host';
import {
  emptyProfile,
  neapRink,
  nineFerriesMix,
  type Action,
  type Profile,
  type Showing,
} from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import {
  COBBLE_64,
  STOCK_SURFACES,
  nearestColour,
  surfaceSchema,
  type ReturnSettings,
  type Surface,
} from '@rondo/core/surface';
import type { Desk } from './desk.js';
import type { SimulatedHost } from './host.js';
import { World } from './world.js';

const TICK = 5_000;
const number = (colour: string) => nearestColour(COBBLE_64.device.palette, colour)!.value;

/** Lights of a profile, as its simulated surfaces have them. */
class Room {
  readonly world: World;
  constructor(profile: Profile, surface?: Surface) {
    this.world = new World(this.plan(profile, surface));
    this.run(1_000_000);
  }
  private plan(profile: Profile, surface?: Surface) {
    return compile(profile, {
      surface: (id) => (id === surface?.id ? surface : STOCK_SURFACES.get(id)),
      host: (id) => HOST_MODELS.get(id),
    });
  }
  load(profile: Profile, surface?: Surface): this {
    this.world.load(this.plan(profile, surface));
    return this.run(10_000);
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + TICK));
    return this;
  }
  get host(): SimulatedHost {
    return [...this.world.hosts.values()][0] as SimulatedHost;
  }
  desk(id: string): Desk {
    return this.world.desks.get(`surface:${id}`)!;
  }
  set(address: string, value: number): this {
    this.host.set(this.host.slotOf(address), value);
    this.world.settle();
    return this.run(50_000);
  }
  press(surface: string, control: string, micros = 0): this {
    this.desk(surface).press(control, true);
    this.world.settle();
    this.run(micros);
    this.desk(surface).press(control, false);
    this.world.settle();
    return this.run(50_000);
  }
  /** What a light was told, as a whole number. */
  light(surface: string, control: string, part = 'light'): number {
    const desk = this.desk(surface);
    const out = desk.outs.findIndex((o) => o.control.id === control && o.part === part);
    return Math.round(desk.outputs[out] * 127);
  }
  text(surface: string, control: string, part = 'upper'): string {
    const desk = this.desk(surface);
    return desk.texts[
      desk.outs.findIndex((o) => o.control.id === control && o.part === part)
    ].trimEnd();
  }
  /** What a light is told over a time, each once as it changes. */
  film(surface: string, control: string, micros: number): number[] {
    const seen: number[] = [];
    const end = this.world.time + micros;
    while (this.world.time < end) {
      this.run(TICK);
      const now = this.light(surface, control);
      if (seen.at(-1) !== now) seen.push(now);
    }
    return seen;
  }
}

const studio = (
  fn: string,
  strip: number | null,
  behaviour: 'toggle' | 'set' | 'follow' = 'toggle',
): Action => ({
  do: 'function',
  host: 'studio',
  function: fn,
  scope: strip === null ? { kind: 'host' } : { kind: 'fixed', strip },
  behaviour,
});

/** A profile of colour pads that play the Studio. */
function pads(
  actions: Readonly<Record<string, Action>>,
  more: Partial<Profile> = {},
  returns: Readonly<Record<string, ReturnSettings>> = {},
): Profile {
  const bindings = Object.entries(actions).map(([control, action], n) => ({
    id: `b${n + 1}`,
    layer: 'base',
    control: { surface: 'pads', control, part: 'push' as const },
    actions: [action],
    ...(Object.hasOwn(returns, control) ? { returns: returns[control] } : {}),
  }));
  return {
    ...emptyProfile('pads', 'Pads'),
    surfaces: { pads: { id: 'pads', model: 'cobble-64', label: 'Cobble 64' } },
    surfaceOrder: ['pads'],
    bindings: Object.fromEntries(bindings.map((binding) => [binding.id, binding])),
    bindingOrder: bindings.map(({ id }) => id),
    ...more,
  };
}
const showings = (...list: Omit<Showing, 'id'>[]): Partial<Profile> => ({
  showings: Object.fromEntries(list.map((one, n) => [`s${n}`, { ...one, id: `s${n}` } as Showing])),
  showingOrder: list.map((_, n) => `s${n}`),
});
/** Another host before the Studio, and a flag. */
const withBooth = (): Partial<Profile> => ({
  hosts: {
    booth: { id: 'booth', model: 'booth', label: 'Booth' },
    studio: { id: 'studio', model: 'studio', label: 'Studio' },
  },
  hostOrder: ['booth', 'studio'],
  flags: { late: { id: 'late', label: 'Late' } },
  flagOrder: ['late'],
});
const padRefs = (...ids: number[]) =>
  ids.map((n) => ({ surface: 'pads', control: `pad-${n}`, part: 'light' as const }));

describe('lights follow from the binding', () => {
  test('a pad bound to mute shows mute, in the colour that mute has in the trade, without being asked', () => {
    const room = new Room(pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('arm', 1) }));
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
    const room = new Room(profile);
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
    const room = new Room({
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
    const room = new Room(
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
    const room = new Room(
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
    const room = new Room(
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
    const room = new Room(profile).set('play', 1);
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
    const room = new Room(profile, surface).set('mute/1', 1);
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
    const room = new Room(profile).set('mute/1', 1).set('mute/2', 1).set('click', 1);
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
      const room = new Room(profile).set('mute/1', 1).set('mute/2', 1);
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
    const room = new Room(profile);
    const desk = room.desk('desk');
    desk.touch('fader-1', true);
    desk.moveTo('fader-1', 0.4);
    room.world.settle();
    desk.touch('fader-1', false);
    room.run(500_000).set('volume/1', 0.9).run(500_000);
    expect(desk.position('fader-1')).toBeCloseTo(0.4, 2);
  });
});

describe('shown elsewhere', () => {
  test('looping a deck lights three chosen buttons elsewhere', () => {
    const profile: Profile = {
      ...neapRink(),
      ...showings({
        layer: 'base',
        shows: { host: 'booth', function: 'loop', scope: { kind: 'fixed', strip: 1 } },
        on: padRefs(62, 63, 64),
        spread: 'same',
      }),
    };
    const room = new Room(profile);
    const three = () => [62, 63, 64].map((n) => room.light('pads', `pad-${n}`));
    expect(three()).toEqual([0, 0, 0]);
    room.set('load/2', 1).set('play/2', 1).set('loop/2', 1);
    expect(room.host.values[room.host.slotOf('loop/2')]).toBe(1);
    expect(three().every((wire) => wire === number('#a3e635'))).toBe(true);
    expect((room.set('loop/2', 0), three())).toEqual([0, 0, 0]);
  });

  const meter = (returns: ReturnSettings = {}): Profile =>
    pads(
      {},
      showings({
        layer: 'base',
        shows: { host: 'studio', function: 'volume', scope: { kind: 'fixed', strip: 0 } },
        on: padRefs(57, 49, 41, 33, 25, 17),
        spread: 'row',
        returns,
      }),
    );
  const column = [57, 49, 41, 33, 25, 17];

  test('a level over six pads: as many are lit as the level is high, green below and red above', () => {
    const room = new Room(meter({ by: 'bands' }));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 127 }), (n) => {
        room.set('volume/1', n / 127);
        const lit = column.map((pad) => room.light('pads', `pad-${pad}`) > 0);
        const count = lit.filter(Boolean).length;
        expect(count).toBe(Math.round((n / 127) * 6));
        expect(lit.slice(0, count).every(Boolean)).toBe(true);
      }),
      { numRuns: 20 },
    );
    room.set('volume/1', 1);
    expect(room.light('pads', 'pad-57')).toBe(number('#22c55e'));
    expect(room.light('pads', 'pad-17')).toBe(number('#ef4444'));
  });

  test('the highest place stays for its time and then goes', () => {
    const room = new Room(meter({ peak: 1_000 })).set('volume/1', 1).set('volume/1', 0.2);
    const lit = () => column.map((pad) => room.light('pads', `pad-${pad}`) > 0);
    expect(lit()).toEqual([true, false, false, false, false, true]);
    room.run(1_200_000);
    expect(lit()).toEqual([true, false, false, false, false, false]);
  });

  test('the control’s own binding of a higher layer hides a showing; one of a higher layer hides the control', () => {
    const profile: Profile = {
      ...pads({ 'pad-1': studio('mute', 0) }),
      layers: { base: { id: 'base', label: 'Base' }, top: { id: 'top', label: 'Top' } },
      layerOrder: ['base', 'top'],
      ...showings({
        layer: 'top',
        shows: { layer: 'top' },
        on: padRefs(1),
        spread: 'same',
        returns: { states: { on: { colour: '#0000ff' } } },
      }),
    };
    const room = new Room(profile).set('mute/1', 1);
    expect(room.light('pads', 'pad-1')).toBe(number('#f59e0b'));
    room.world.engine.setLayer('top', true, room.world.time);
    expect(room.run(50_000).light('pads', 'pad-1')).toBe(number('#0000ff'));
    room.world.engine.setLayer('top', false, room.world.time);
    expect(room.run(50_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('what a showing names and is not there is told, and the rest works', () => {
    const profile = pads(
      { 'pad-1': studio('mute', 0) },
      showings(
        { layer: 'base', shows: { flag: 'gone' }, on: padRefs(2), spread: 'same' },
        { layer: 'base', shows: { layer: 'base' }, on: padRefs(99, 3), spread: 'same' },
      ),
    );
    const room = new Room(profile).set('mute/1', 1);
    expect(room.world.engine.plan.broken.map(({ showing, what }) => [showing, what])).toEqual([
      ['s0', 'flag'],
      ['s1', 'control'],
    ]);
    expect(room.light('pads', 'pad-1')).toBeGreaterThan(0);
    expect(room.light('pads', 'pad-3')).toBeGreaterThan(0);
  });
});

describe('texts', () => {
  test('the display names the layer', () => {
    const profile: Profile = { ...nineFerriesMix(), returns: { upper: '{layer}' } };
    const room = new Room(profile);
    expect(room.text('desk', 'display-1')).toBe('Base');
    room.world.engine.setLayer('sends', true, room.world.time);
    expect(room.run(100_000).text('desk', 'display-1')).toBe('Sends');
  });

  test('a text joins the name of the track and its value, cut with sense', () => {
    const room = new Room({ ...nineFerriesMix(), returns: { lower: '{function} {bank}' } });
    expect(room.text('desk', 'display-1', 'lower')).toBe('Pn 1-8');
    const other = new Room({ ...nineFerriesMix(), returns: { upper: '{tempo}' } });
    expect(other.text('desk', 'display-3')).toBe('96.0');
  });

  test('the counter shows the time of the host, digit by digit', () => {
    const room = new Room(nineFerriesMix()).set('play', 1).run(2_000_000);
    const time = room.host.texts[room.host.slotOf('time')];
    const counter = room.text('desk', 'counter').replace(/\s+/g, ' ').trim();
    expect(counter.length).toBeGreaterThan(2);
    // Dots and colons are the dots of the digits.
    const digits = (text: string) => text.replace(/\D/g, '');
    expect(digits(time).endsWith(digits(counter)) || digits(time).startsWith(digits(counter))).toBe(
      true,
    );
  });
});

describe('by hand', () => {
  test('what if it is muted and armed: the light shows it, the host hears nothing', () => {
    const room = new Room(
      pads(
        { 'pad-1': studio('mute', 0) },
        { returns: { states: { armed: { colour: '#400000', brightness: 1 } } } },
      ),
    );
    const { engine } = room.world;
    const slot = (address: string) =>
      engine.plan.slots.findIndex((one) => one.key === `studio/${address}`);
    engine.playAt(slot('mute/1'), 1, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
    engine.playAt(slot('mute/1'), 0, room.world.time);
    engine.playAt(slot('arm/1'), 1, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#400000'));
    expect(room.host.values[room.host.slotOf('mute/1')]).toBe(0);
    engine.playAt(slot('mute/1'), null, room.world.time);
    engine.playAt(slot('arm/1'), null, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(0);
  });

  test('what is played at, and what a light is made to show, stays over an edit of the profile', () => {
    const profile = pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('solo', 1) });
    const room = new Room(profile).set('mute/1', 1);
    const { engine } = room.world;
    const slot = engine.plan.slots.findIndex(({ key }) => key === 'studio/mute/1');
    const out = engine.plan.outs.findIndex(({ control }) => control.id === 'pad-2');
    engine.playAt(slot, 0, room.world.time);
    engine.tryOutput(out, 77, room.world.time);
    // An edit that moves every slot and output to another place.
    room.load({ ...profile, ...withBooth(), name: 'Pads, edited' });
    expect([room.light('pads', 'pad-1'), room.light('pads', 'pad-2')]).toEqual([0, 77]);
    const again = engine.plan.slots.findIndex(({ key }) => key === 'studio/mute/1');
    engine.playAt(again, null, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('a light test shows any number of the table, and gives the light back', () => {
    const room = new Room(pads({ 'pad-1': studio('mute', 0) })).set('mute/1', 1);
    const { engine } = room.world;
    const out = engine.plan.outs.findIndex(({ control }) => control.id === 'pad-1');
    for (let wire = 0; wire < 128; wire += 9) {
      engine.tryOutput(out, wire, room.world.time);
      expect(room.run(10_000).light('pads', 'pad-1')).toBe(wire);
    }
    engine.tryOutput(out, -1, room.world.time);
    expect(room.run(10_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('motors are swept, stopped and parked; a touched one never; then they return', () => {
    const room = new Room(nineFerriesMix());
    const desk = room.desk('desk');
    const before = desk.position('fader-2');
    const { engine } = room.world;
    desk.touch('fader-1', true);
    room.world.settle();
    const held = desk.position('fader-1');
    engine.tryMotors(0, 'sweep', room.world.time);
    const places: number[] = [];
    for (let n = 0; n < 90; n++) {
      room.run(50_000);
      places.push(desk.position('fader-2'));
    }
    expect(Math.max(...places)).toBeGreaterThan(0.95);
    expect(Math.min(...places)).toBeLessThan(0.05);
    expect(desk.position('fader-1')).toBe(held);
    engine.tryMotors(0, 'stop', room.world.time);
    room.run(400_000);
    const stopped = desk.position('fader-2');
    expect(room.run(400_000).desk('desk').position('fader-2')).toBe(stopped);
    engine.tryMotors(0, 'park', room.world.time);
    expect(room.run(500_000).desk('desk').position('fader-2')).toBe(0);
    engine.tryMotors(0, null, room.world.time);
    expect(room.run(500_000).desk('desk').position('fader-2')).toBeCloseTo(before, 2);
  });
});

describe('what hosts do', () => {
  test('change of focus snaps all faders', () => {
    const profile = nineFerriesMix();
    // Eight faders on the parameters of what has focus.
    for (const key of profile.bindingOrder) {
      const binding = profile.bindings[key];
      const [, n] = /^fader-(\d)$/.exec(binding.control?.control ?? '') ?? [];
      if (n === undefined) continue;
      binding.actions = [
        {
          do: 'function',
          host: 'studio',
          function: 'focusInsert',
          scope: { kind: 'focus', slot: Number(n) - 1 },
          behaviour: 'follow',
        },
      ];
    }
    const room = new Room(profile).run(1_000_000);
    const places = () => [1, 2, 3, 4].map((n) => room.desk('desk').position(`fader-${n}`));
    const first = places();
    room.set('focusInsert', 0.5).run(400_000);
    const { host } = room;
    const expected = [1, 2, 3, 4].map((_, n) => {
      const { plan } = room.world.engine;
      const out = plan.outs.findIndex(
        (o) => o.control.id === `fader-${n + 1}` && o.part === 'motor',
      );
      return host.values[plan.slots[room.world.engine.showing[out]].local];
    });
    expect(places()).not.toEqual(first);
    places().forEach((place, n) => expect(place).toBeCloseTo(expected[n], 2));
  });

  test('lights are right after reopening', () => {
    const profile = pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('solo', 1) });
    const room = new Room(profile).set('mute/1', 1);
    const { engine } = room.world;
    const session = engine.session();
    // A new start beside a host that went on meanwhile.
    const again = new Room(profile);
    again.world.engine.restore(session, again.world.time);
    again.set('solo/2', 1);
    engine.setOutputOpen(0, false, room.world.time);
    room.desk('pads').outputs.fill(0);
    room.set('mute/1', 0).set('solo/2', 1);
    engine.setOutputOpen(0, true, room.world.time);
    room.run(300_000);
    expect([room.light('pads', 'pad-1'), room.light('pads', 'pad-2')]).toEqual([
      0,
      number('#facc15'),
    ]);
    expect(again.light('pads', 'pad-2')).toBe(number('#facc15'));
  });

  test('a host that never answers leaves the lights dark, and what was said to it is taken as assumed', () => {
    const room = new Room(
      pads(
        { 'pad-1': studio('mute', 0) },
        { returns: { states: { assumed: { colour: '#0000ff' } } } },
      ),
    );
    const { engine } = room.world;
    const host = engine.linkOf('host:studio');
    room.world.setReal(host, true);
    engine.setInputOpen(host, false, room.world.time);
    engine.setInputOpen(host, true, room.world.time);
    engine.setOutputOpen(host, true, room.world.time);
    expect(room.run(100_000).light('pads', 'pad-1')).toBe(0);
    engine.at(room.world.time).receive(0, Uint8Array.of(0x90, 32, 100, 0x90, 32, 0), 0, 6);
    room.world.settle();
    room.world.settle();
    expect(room.light('pads', 'pad-1')).toBe(number('#f59e0b'));
    expect(room.run(1_000_000).light('pads', 'pad-1')).toBe(number('#0000ff'));
  });
});

test.each([
  ['Nine Ferries – mix', nineFerriesMix()],
  ['Neap Rink', neapRink()],
])('%s lights up fully: every light that is bound shines when its state is on', (_, profile) => {
  const room = new Room(profile);
  const { engine } = room.world;
  const { plan } = engine;
  let bound = 0;
  plan.outs.forEach((out, i) => {
    const slot = engine.showing[i];
    if (out.part !== 'light' || slot < 0 || !plan.slots[slot].reports) return;
    bound++;
    const { needs } = plan.slots[slot];
    if (needs >= 0) engine.playAt(needs, 1, room.world.time);
    // A choice is on at one of its values.
    const { choices } = plan.slots[slot].fn;
    const values = choices ? choices.map((__, n) => n / (choices.length - 1)) : [0, 1];
    const wires = values.map((value) => {
      engine.playAt(slot, value, room.world.time);
      room.run(5_000);
      return engine.shown[i];
    });
    engine.playAt(slot, null, room.world.time);
    if (needs >= 0) engine.playAt(needs, null, room.world.time);
    expect([out.key, Math.max(...wires) > 0]).toEqual([out.key, true]);
  });
  expect(bound).toBeGreaterThan(20);
});

test('a touched motor receives only its own last reported position, whatever hosts and hands do', () => {
  const step = fc.oneof(
    fc.record({ touch: fc.integer({ min: 1, max: 4 }), on: fc.boolean() }),
    fc.record({ move: fc.integer({ min: 1, max: 4 }), to: fc.integer({ min: 0, max: 1_023 }) }),
    fc.record({ host: fc.integer({ min: 1, max: 4 }), to: fc.integer({ min: 0, max: 127 }) }),
    fc.record({ bank: fc.constantFrom(-8, 1, 8) }),
    fc.record({ wait: fc.integer({ min: 1, max: 80 }) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const room = new Room(nineFerriesMix());
      const desk = room.desk('desk');
      const reported = new Map<number, number>();
      const wrong: string[] = [];
      room.world.tap = (link, bytes, from, to) => {
        if (link !== 0) return;
        for (let at = from; at + 2 < to; at++) {
          if ((bytes[at] & 0xf0) !== 0xe0) continue;
          const fader = (bytes[at] & 0x0f) + 1;
          const place = (bytes[at + 1] | (bytes[at + 2] << 7)) >> 4;
          if (fader <= 4 && desk.isTouched(`fader-${fader}`) && place !== reported.get(fader))
            wrong.push(`fader ${fader}: ${place}, reported ${reported.get(fader)}`);
        }
      };
      for (const one of steps) {
        if ('touch' in one) {
          desk.touch(`fader-${one.touch}`, one.on);
          room.world.settle();
        } else if ('move' in one) {
          // A hand that moves a fader touches it.
          desk.touch(`fader-${one.move}`, true);
          room.world.settle();
          reported.set(one.move, one.to);
          desk.moveTo(`fader-${one.move}`, one.to / 1_023);
          room.world.settle();
        } else if ('host' in one) room.set(`volume/${one.host}`, one.to / 127);
        else if ('bank' in one) {
          room.world.engine.moveBank(one.bank, room.world.time);
          room.run(5_000);
        } else room.run(one.wait * 1_000);
      }
      expect(wrong).toEqual([]);
    }),
    { numRuns: 60 },
  );
});
