import { HOST_MODELS, hostModelSchema } from '@rondo/core/host';
import {
  addRoute,
  emptyProfile,
  type Action,
  type Binding,
  type FunctionAction,
  type MessageKind,
  type Profile,
} from '@rondo/core/profile';
import { Stop, compile, partKey } from '@rondo/core/round';
import { STOCK_SURFACES, surfaceSchema, type InputPart, type Surface } from '@rondo/core/surface';
import { toHex } from '@rondo/core/wire';
import { World, type RealOutput } from '../standin/world.js';

export const onward = (profile: Profile, ...kinds: MessageKind[]): Profile =>
  addRoute(profile, { surface: 'box' }, { host: 'studio' }, { kinds }).document;

/** A box with one of each: a momentary and a self-latching key, a knob, a switch, a wheel, an encoder, a motor fader. */
export const BOX: Surface = surfaceSchema.parse({
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

export const library = {
  surface: (id: string) => (id === 'box' ? BOX : STOCK_SURFACES.get(id)),
  host: (id: string) => (id === 'flipper' ? FLIPPER : HOST_MODELS.get(id)),
};

export const fn = (
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
export const wide = (name: string, behaviour: FunctionAction['behaviour'] = 'set') =>
  fn(name, behaviour, { scope: { kind: 'host' } });

/** A binding in short: where it is, and what it does. */
export interface Bound extends Partial<Omit<Binding, 'actions' | 'control'>> {
  readonly on?: string;
  readonly actions: Action | readonly Action[];
}

/** A profile of the box, with bindings written as `control` or `control/part`. */
export function profileOf(bindings: readonly Bound[], more: Partial<Profile> = {}): Profile {
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

export const twoLayers = (more: Partial<Profile['layers'][string]> = {}): Partial<Profile> => ({
  layers: { base: { id: 'base', label: 'Base' }, up: { id: 'up', label: 'Up', ...more } },
  layerOrder: ['base', 'up'],
});

/** The box before its hosts, played by hand; what they are told is written down. */
export class BoxRoom {
  readonly world: World;
  /** Messages that reached hosts, as hex, by link. */
  readonly sent: string[] = [];

  constructor(profile: Profile, surface = 'box', realOutput?: RealOutput) {
    this.world = new World(compile(profile, library), realOutput);
    this.surface = surface;
    for (const [key, host] of this.world.hosts) {
      const receive = host.receive.bind(host);
      host.receive = (bytes, from, to, t) => {
        this.sent.push(`${key} ${toHex(bytes, from, to).replaceAll(' ', '')}`);
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
    of.set(of.slotOf(address), value);
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
