import fc from 'fast-check';
import { HOST_MODELS, hostModelSchema } from '@rondo/core/host';
import {
  addRoute,
  emptyProfile,
  neapRink,
  nineFerriesMix,
  readProfile,
  zonesOf,
  type Action,
  type Binding,
  type FunctionAction,
  type MessageKind,
  type Profile,
} from '@rondo/core/profile';
import { Stop, compile, partKey } from '@rondo/core/round';
import { STOCK_SURFACES, surfaceSchema, type InputPart, type Surface } from '@rondo/core/surface';
import { World, type RealOutput } from './world.js';

const onward = (profile: Profile, ...kinds: MessageKind[]): Profile =>
  addRoute(profile, { surface: 'box' }, { host: 'studio' }, { kinds }).document;

/** A box with one of each: a momentary and a self-latching key, a knob, a switch, a wheel, an encoder, a motor fader. */
const BOX: Surface = surfaceSchema.parse({
  id: 'box',
  name: 'Box',
  width: 100,
  height: 100,
  controls: (
    [
      ['key', 'button', { push: { type: 'note', channel: 1, number: 1 } }, {}],
      ['other', 'button', { push: { type: 'note', channel: 1, number: 2 } }, {}],
      ['shift', 'button', { push: { type: 'note', channel: 1, number: 3 } }, {}],
      ['latch', 'button', { push: { type: 'note', channel: 1, number: 4 } }, { latching: true }],
      ['knob', 'knob', { value: { type: 'controller', channel: 1, number: 10 } }, {}],
      [
        'switch',
        'switch',
        { value: { type: 'controller', channel: 1, number: 11 } },
        { positions: [0, 64, 127] },
      ],
      [
        'wheel',
        'wheel',
        { value: { type: 'pitchBend', channel: 1, bits: 14 } },
        { springs: 'centre' },
      ],
      [
        'turn',
        'encoder',
        { value: { type: 'relative', channel: 1, number: 12, encoding: 'twosComplement' } },
        {},
      ],
      [
        'fader',
        'fader',
        {
          value: { type: 'pitchBend', channel: 2, bits: 10 },
          touch: { type: 'note', channel: 2, number: 1 },
        },
        { takes: { motor: { type: 'pitchBend', channel: 2, bits: 10 } } },
      ],
    ] as const
  ).map(([id, kind, sends, more], n) => ({
    id,
    kind,
    label: id,
    x: n * 10,
    y: 0,
    width: 8,
    height: 8,
    sends,
    ...more,
  })),
});

/** A program that can only be told to turn its lamp over, and never tells how it stands. */
const FLIPPER = hostModelSchema.parse({
  id: 'flipper',
  name: 'Flipper',
  about: '',
  strips: [],
  bytesPerSecond: 60_000,
  functions: [
    {
      id: 'lamp',
      label: 'Lamp',
      category: 'Actions',
      kind: 'toggle',
      flips: true,
      per: 'host',
      messages: [
        {
          set: { type: 'note', channel: 3, number: 9 },
          report: { type: 'note', channel: 3, number: 9 },
        },
      ],
    },
  ],
});

const library = {
  surface: (id: string) => (id === 'box' ? BOX : STOCK_SURFACES.get(id)),
  host: (id: string) => (id === 'flipper' ? FLIPPER : HOST_MODELS.get(id)),
};

const fn = (
  name: string,
  behaviour: FunctionAction['behaviour'] = 'follow',
  more: Partial<FunctionAction> = {},
): FunctionAction => ({
  do: 'function',
  host: 'studio',
  function: name,
  scope: { kind: 'fixed', strip: 0 },
  behaviour,
  ...more,
});
const wide = (name: string, behaviour: FunctionAction['behaviour'] = 'set') =>
  fn(name, behaviour, { scope: { kind: 'host' } });

interface Bound extends Partial<Omit<Binding, 'actions' | 'control'>> {
  readonly on?: string;
  readonly actions: Action | readonly Action[];
}

/** A profile of the box, with bindings written as `control` or `control/part`. */
function profileOf(bindings: readonly Bound[], more: Partial<Profile> = {}): Profile {
  const profile: Profile = {
    ...emptyProfile('p', 'P'),
    surfaces: { box: { id: 'box', model: 'box', label: 'Box' } },
    surfaceOrder: ['box'],
    ...more,
  };
  bindings.forEach(({ on, actions, ...rest }, n) => {
    const [control, part] = (on ?? '').split('/');
    const kind = BOX.controls.find(({ id }) => id === control)?.kind;
    const usual: InputPart = kind === 'button' ? 'push' : 'value';
    const id = (rest.id as string | undefined) ?? `b${n}`;
    profile.bindings[id] = {
      layer: 'base',
      ...rest,
      id,
      ...(on
        ? { control: { surface: 'box', control, part: (part as InputPart | undefined) ?? usual } }
        : {}),
      actions: [actions].flat() as Action[],
    };
    profile.bindingOrder.push(id);
  });
  return profile;
}

const twoLayers = (more: Partial<Profile['layers'][string]> = {}): Partial<Profile> => ({
  layers: { base: { id: 'base', label: 'Base' }, up: { id: 'up', label: 'Up', ...more } },
  layerOrder: ['base', 'up'],
});

class Room {
  readonly world: World;
  /** Messages that reached hosts, as hex, by link. */
  readonly sent: string[] = [];

  constructor(profile: Profile, surface = 'box', realOutput?: RealOutput) {
    this.world = new World(compile(profile, library), realOutput);
    this.surface = surface;
    for (const [key, host] of this.world.hosts) {
      const receive = host.receive.bind(host);
      host.receive = (bytes, from, to, t) => {
        this.sent.push(`${key} ${Buffer.from(bytes.slice(from, to)).toString('hex')}`);
        receive(bytes, from, to, t);
      };
    }
    this.run(300_000);
    this.sent.length = 0;
  }
  private readonly surface: string;
  get desk() {
    return this.world.desks.get(`surface:${this.surface}`)!;
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + 5_000));
    return this;
  }
  down(control: string): this {
    this.desk.press(control, true);
    this.world.settle();
    return this;
  }
  up(control: string): this {
    this.desk.press(control, false);
    this.world.settle();
    return this;
  }
  tap(control: string): this {
    return this.down(control).up(control);
  }
  move(control: string, ...positions: number[]): this {
    for (const position of positions) {
      this.desk.moveTo(control, position);
      this.world.settle();
    }
    return this;
  }
  turn(control: string, ticks: number): this {
    this.desk.turn(control, ticks);
    this.world.settle();
    return this;
  }
  host(address: string, value: number, host = 'studio'): this {
    const of = this.world.hosts.get(`host:${host}`)!;
    of.set(of.slotOf(address), value, this.world.time);
    this.world.settle();
    return this.run(10_000);
  }
  value(address: string, host = 'studio'): number {
    const of = this.world.hosts.get(`host:${host}`)!;
    return of.values![of.slotOf(address)];
  }
  stop(control: string, part: InputPart = 'push'): Stop {
    const { engine } = this.world;
    const key = partKey(this.surface, control, part);
    return engine.log!.stop[engine.plan.parts.findIndex((p) => p.key === key)] as Stop;
  }
  gap(control: string): number {
    const { engine } = this.world;
    const key = partKey(this.surface, control, 'value');
    return engine.log!.gap[engine.plan.parts.findIndex((p) => p.key === key)];
  }
  isOn(layer: string): boolean {
    const { engine } = this.world;
    return (
      engine.round.matcher.active[engine.plan.layers.findIndex(({ id }) => id === layer)] === 1
    );
  }
  flag(id: string): boolean | undefined {
    return this.world.engine.session().flags[id];
  }
  load(profile: Profile): this {
    this.world.load(compile(profile, library));
    return this;
  }
}

describe('complaints that cannot be, or are one click from mended', () => {
  test('“mutes only while I hold it”: toggle stays, and momentary is one word away', () => {
    const bound = (behaviour: FunctionAction['behaviour']) =>
      profileOf([{ on: 'key', actions: fn('mute', behaviour) }]);
    const room = new Room(bound('momentary')).down('key');
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
          const room = new Room(profileOf([{ on: key, actions: fn('mute', 'toggle') }]));
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
    const room = new Room(profileOf([{ on: 'knob', actions: fn('volume') }])).host('volume/1', 0.8);
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
    const room = new Room(
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
          const room = new Room(profile);
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
  const state = (room: Room) => ['mute/1', 'solo/1', 'arm/1'].map((address) => room.value(address));

  test('a plain press acts at once where nothing else is bound', () => {
    expect(state(new Room(profileOf([PRESS])).down('key'))).toEqual([1, 0, 0]);
  });

  test('a long press above leaves the plain press below in place, which acts on a short release', () => {
    const profile = profileOf([PRESS, { ...LONG, layer: 'up' }], {
      ...twoLayers(),
    });
    const room = new Room(profile);
    room.world.engine.setLayer('up', true, room.world.time);
    expect(state(room.down('key'))).toEqual([0, 0, 0]);
    expect(state(room.run(200_000).up('key'))).toEqual([1, 0, 0]);
    expect(state(room.down('key').run(600_000))).toEqual([1, 1, 0]);
    expect(state(room.up('key').run(600_000))).toEqual([1, 1, 0]);
  });

  test('double tap: two presses within its time; one alone is a press when the time is over', () => {
    const room = new Room(profileOf([PRESS, DOUBLE]));
    room.tap('key').run(100_000).tap('key').run(500_000);
    expect(state(room)).toEqual([0, 0, 1]);
    room.tap('key').run(290_000);
    expect(state(room)).toEqual([0, 0, 1]);
    expect(state(room.run(50_000))).toEqual([1, 0, 1]);
  });

  test('release has a binding of its own', () => {
    const room = new Room(
      profileOf([PRESS, { on: 'key', gesture: 'release', actions: fn('solo', 'toggle') }]),
    );
    expect(state(room.down('key'))).toEqual([1, 0, 0]);
    expect(state(room.up('key'))).toEqual([1, 1, 0]);
  });
});

describe('shape and feel', () => {
  test('a range is never left, an inverted knob turns the other way', () => {
    const shape = { low: 0.2, high: 0.6, invert: true };
    const room = new Room(
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
    const room = new Room(profileOf([{ on: 'fader', actions: fn('volume', 'follow', { shape }) }]));
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
    const room = new Room(
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
    const room = new Room(
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
    const room = new Room(
      profileOf([{ on: 'turn', actions: fn('pan', 'follow', { step: 0.1 }) }]),
    ).host('pan/1', 0.95);
    room.turn('turn', 3);
    expect([room.value('pan/1'), room.world.engine.clamped]).toEqual([1, 1]);
  });

  test('numbers of a profile outside their range are read, held at its ends, and counted', () => {
    const beyond = fn('volume', 'set', { to: 7, shape: { low: -1 } });
    const profile = profileOf([{ on: 'key', actions: beyond }]);
    expect(readProfile(profile).ok).toBe(true);
    const room = new Room(profile).tap('key');
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
      const room = new Room(step(wrap));
      return [1, 2, 3].map(() => Math.round(room.tap('key').run(200_000).value('focusInsert') * 2));
    };
    expect([walk(true), walk(false)]).toEqual([
      [1, 2, 0],
      [1, 2, 2],
    ]);
  });
});

describe('actions', () => {
  test('several in order; one that fails stops no other, nor what is passed on', () => {
    const profile = profileOf([
      {
        on: 'key',
        passOn: true,
        actions: [
          fn('reverb', 'toggle'),
          fn('arm', 'toggle', { scope: { kind: 'fixed', strip: 19 } }),
          fn('mute', 'toggle'),
        ],
      },
    ]);
    const room = new Room(onward(profile)).tap('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.sent.join()).toContain('90017f');
    expect(room.sent.join()).toContain('900100');
  });

  test('what matches nothing is passed or blocked by kind', () => {
    const profile = profileOf([]);
    const room = new Room(onward(profile, 'note')).tap('key').move('knob', 0.5);
    expect(room.sent).toEqual(['host:studio 90017f', 'host:studio 900100']);
  });

  test('a condition that does not hold leaves the place to what is below', () => {
    const profile = profileOf(
      [
        { on: 'other', actions: { do: 'flag', flag: 'f', how: 'toggle' } },
        { on: 'key', actions: fn('mute', 'toggle') },
        {
          on: 'key',
          when: [
            { flag: 'f', is: 'on' },
            { host: 'studio', function: 'play', scope: { kind: 'host' }, is: 'on' },
          ],
          actions: fn('solo', 'toggle'),
        },
      ],
      { flags: { f: { id: 'f', label: 'F' } }, flagOrder: ['f'] },
    );
    const room = new Room(profile).tap('other').tap('key');
    expect([room.flag('f'), room.value('mute/1'), room.value('solo/1')]).toEqual([true, 1, 0]);
    room.host('play', 1).tap('key');
    expect([room.value('mute/1'), room.value('solo/1')]).toEqual([1, 1]);
  });

  test('exclusive groups: arm one, all others let go, also those of other banks', () => {
    const arm = (offset: number) => fn('arm', 'toggle', { scope: { kind: 'window', offset } });
    const room = new Room(
      profileOf([
        { on: 'key', group: 'one', actions: arm(0) },
        { on: 'other', group: 'one', actions: arm(1) },
        { on: 'shift', actions: { do: 'bank', by: 2 } },
      ]),
    );
    const armed = () => [1, 2, 3, 4].map((n) => room.value(`arm/${n}`));
    room.tap('key').tap('other');
    expect(armed()).toEqual([0, 1, 0, 0]);
    room.tap('shift').tap('key');
    expect(armed()).toEqual([0, 0, 1, 0]);
  });

  test('a chord sounds while it is held, as hard as it was played or as it says', () => {
    const notes = {
      do: 'notes',
      to: { host: 'studio' },
      channel: 2,
      notes: [60, 64],
      velocity: 99,
    } as const;
    const room = new Room(
      profileOf([{ on: 'key', actions: { ...notes, notes: [...notes.notes] } }]),
    ).down('key');
    expect(room.sent.join()).toBe('host:studio 913c63914063');
    expect([...room.world.engine.releaseBytes(1)]).toEqual([0x91, 60, 0, 0x91, 64, 0]);
    room.up('key');
    expect(room.sent.at(-1)).toBe('host:studio 913c00914000');
  });

  test('any message, with the value in its place, or the incoming one as it came', () => {
    const room = new Room(
      profileOf([
        {
          on: 'knob',
          actions: { do: 'send', to: { host: 'studio' }, message: 'F0 7D 01 high low F7' },
        },
        { on: 'key', actions: { do: 'send', to: { host: 'studio' } } },
      ]),
    );
    room.move('knob', 1).tap('key');
    expect(room.sent.map((line) => line.split(' ')[1])).toEqual([
      'f07d017f7ff7',
      '90017f',
      '900100',
    ]);
  });

  test('a host’s change triggers another host, once, whoever caused it', () => {
    const booth = (name: string) => fn(name, 'set', { host: 'booth' });
    const profile = profileOf(
      [
        {
          cause: {
            host: 'booth',
            function: 'play',
            scope: { kind: 'fixed', strip: 0 },
            when: 'on',
          },
          actions: wide('play'),
        },
        { on: 'key', actions: booth('play') },
      ],
      {
        hosts: {
          studio: { id: 'studio', model: 'studio', label: 'Studio' },
          booth: { id: 'booth', model: 'booth', label: 'Booth' },
        },
        hostOrder: ['studio', 'booth'],
      },
    );
    const room = new Room(profile);
    expect(room.value('play')).toBe(0);
    expect(room.tap('key').run(20_000).value('play')).toBe(1);
    room.host('play', 0).host('play/1', 0, 'booth').host('play/1', 1, 'booth').run(20_000);
    expect(room.value('play')).toBe(1);
  });

  test('a chain of causes that would come round is cut and told, and the rest works', () => {
    const cause = (name: string, when: 'on' | 'off') => ({
      cause: { host: 'studio', function: name, scope: { kind: 'fixed' as const, strip: 0 }, when },
    });
    const room = new Room(
      profileOf([
        { ...cause('mute', 'on'), actions: fn('solo', 'set', { to: 1 }) },
        { ...cause('solo', 'on'), actions: fn('mute', 'set', { to: 0 }) },
        { ...cause('mute', 'off'), actions: fn('solo', 'set', { to: 0 }) },
        { ...cause('solo', 'off'), actions: fn('mute', 'set', { to: 1 }) },
      ]),
    );
    room.host('mute/1', 1).run(2_000_000);
    expect(room.world.engine.causes.cut).toBeGreaterThan(0);
    expect(room.sent.length).toBeLessThan(10);
  });

  test('several controls on one function: all show it, and it lets go when the last does', () => {
    const room = new Room(
      profileOf([
        { on: 'key', actions: fn('mute', 'momentary') },
        { on: 'other', actions: fn('mute', 'momentary') },
      ]),
    );
    room.down('key').down('other').up('key');
    expect(room.value('mute/1')).toBe(1);
    expect(room.up('other').value('mute/1')).toBe(0);
  });
});

describe('layers', () => {
  const hold = { do: 'layer', layer: 'up', how: 'hold' } as const;

  test('a control held while its layer changes lets go of what it took hold of', () => {
    const room = new Room(
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
        const room = new Room(profile);
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
    const on = (room: Room) => ['a', 'b', 'c'].filter((id) => room.isOn(id)).join('');
    const walk = (wrap: boolean) => {
      const room = new Room(profile(wrap));
      return [1, 2, 3, 4].map(() => on(room.tap('key'))).join(' ');
    };
    expect([walk(true), walk(false)]).toEqual(['a b c a', 'a b c c']);
    const room = new Room(profile(true)).tap('key').down('shift');
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
    const room = new Room(profile, 'box', (_, bytes, from, to) =>
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
    out.engine.receive(flipper, Uint8Array.of(0x92, 9, 0), 0, 3, out.time);
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
    const room = new Room(profile);
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

  test('layers and flags are there again after a restart, and an edit keeps them', () => {
    const profile = profileOf(
      [
        { on: 'shift', actions: { do: 'layer', layer: 'up', how: 'toggle' } },
        { on: 'key', actions: { do: 'flag', flag: 'f', how: 'toggle' } },
      ],
      { ...twoLayers(), flags: { f: { id: 'f', label: 'F' } }, flagOrder: ['f'] },
    );
    const room = new Room(profile).tap('shift').tap('key');
    const session = room.world.engine.session();
    expect(session).toEqual({ layers: ['up'], flags: { f: true } });
    room.load({ ...profile, name: 'Q' });
    expect(room.world.engine.session()).toEqual(session);
    const again = new Room(profile);
    again.world.engine.restore(session, again.world.time);
    expect([again.isOn('up'), again.flag('f')]).toEqual([true, true]);
  });

  test('an onboard page of the device is a layer', () => {
    const room = new Room(neapRink(), 'keys');
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
    const room = new Room(p);
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
  const room = new Room(
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
  const room = new Room(profileOf([held])).down('key');
  room.load(profileOf([{ on: 'other', id: 'first', actions: fn('solo', 'toggle') }, held]));
  expect(room.value('mute/1')).toBe(1);
  expect(room.up('key').value('mute/1')).toBe(0);
  room.down('key').load(profileOf([]));
  expect(room.value('mute/1')).toBe(0);
});

test('the demo’s foot switch records only where it may; a take sets its flag', () => {
  const room = new Room(nineFerriesMix(), 'feet');
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
