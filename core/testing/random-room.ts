import fc from 'fast-check';
import { HOST_MODELS, hostNamed, modelOfHost, slotsOf, type HostModel } from '@rondo/core/host';
import {
  BEHAVIOURS,
  GESTURES,
  addBindingTo,
  addRoute,
  farShore,
  neapRink,
  nineFerriesMix,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import { compile, type Library, type Plan } from '@rondo/core/round';
import { inStream, writeOscMessage } from '@rondo/core/wire';
import { STOCK_SURFACES, inputsOf } from '@rondo/core/surface';
import { World, type Habits } from '@rondo/core/standin';
import { LAMPROOM, lamproomProfile } from './osc-room.js';

const fast = new Map(
  [...STOCK_SURFACES].map(([id, one]) => [
    id,
    { ...one, device: { ...one.device, bytesPerSecond: 10_000_000, sysexPause: 0 } },
  ]),
);

/** The demos, by name: what random rooms start from. */
export const DEMOS: Readonly<Record<string, () => Profile>> = {
  mix: nineFerriesMix,
  rink: neapRink,
  shore: farShore,
  glass: lamproomProfile,
};

const surface = (id: string) => STOCK_SURFACES.get(id);
const lamproom = modelOfHost(LAMPROOM);
export const stockLibrary: Library = {
  surface,
  host: (id) =>
    hostNamed(id, (name) => (name === lamproom.id ? lamproom : HOST_MODELS.get(name)), surface),
};
/** The same with wires on which nothing ever waits for anything else. */
export const fastLibrary: Library = { ...stockLibrary, surface: (id) => fast.get(id) };

/** One binding by lot: numbers choose among what there is. */
export interface Lot {
  readonly control: number;
  readonly part: number;
  readonly fn: number;
  readonly strip: number;
  readonly behaviour: number;
  readonly gesture: number;
  readonly layer: number;
  readonly takeover: number;
}
const nat = fc.nat(9_999);
export const lot: fc.Arbitrary<Lot> = fc.record({
  control: nat,
  part: nat,
  fn: nat,
  strip: nat,
  behaviour: nat,
  gesture: nat,
  layer: nat,
  takeover: nat,
});

const pick = <Item>(list: readonly Item[], n: number): Item => list[n % list.length];

function actionOf(profile: Profile, model: HostModel, host: string, by: Lot): Action {
  const fn = pick(
    model.functions.filter(({ kind }) => kind !== 'text' && kind !== 'meter'),
    by.fn,
  );
  const scope =
    fn.per === 'host'
      ? { kind: 'host' as const }
      : by.strip % 3 === 0
        ? { kind: 'window' as const, offset: by.strip % 8 }
        : { kind: 'fixed' as const, strip: by.strip % Math.max(1, model.strips.length) };
  const others: Action[] = [
    { do: 'bank', by: pick([-8, -1, 1, 8], by.strip) },
    {
      do: 'layer',
      layer: pick(profile.layerOrder, by.strip),
      how: pick(['hold', 'toggle'], by.fn),
    },
    { do: 'send', to: { host } },
    { do: 'notes', to: { host }, channel: 2, notes: [60, 64] },
  ];
  if (by.fn % 5 === 0) return pick(others, by.behaviour);
  return {
    do: 'function',
    host,
    function: fn.id,
    scope,
    behaviour: pick(BEHAVIOURS, by.behaviour),
    to: (by.strip % 11) / 10,
  };
}

const KINDS = [['note'], ['controller', 'bend'], ['note', 'clock', 'sysex'], ['osc']] as const;

/** A route between any two ends, by lot: every third takes the rest, others change channel and notes. */
function routeBy(profile: Profile, by: Lot): Profile {
  const ends = [
    ...profile.surfaceOrder.map((surface) => ({ surface })),
    ...profile.hostOrder.map((host) => ({ host })),
  ];
  return addRoute(profile, pick(ends, by.control), pick(ends, by.fn), {
    kinds: [...pick(KINDS, by.part)],
    ...(by.strip % 3 === 0 ? { rest: true } : {}),
    ...(by.behaviour % 2 === 0 ? { transpose: (by.behaviour % 49) - 24 } : {}),
    ...(by.layer % 2 === 0 ? { channel: 1 + (by.layer % 16) } : {}),
    ...(by.takeover % 3 === 0 ? { channels: [1, 2] } : {}),
  }).document;
}

/** A demo with some bindings and routes more, by lot. */
export function profileBy(demo: string, lots: readonly Lot[]): Profile {
  let profile = DEMOS[demo]();
  for (const by of lots) {
    if (by.gesture % 3 === 0) profile = routeBy(profile, by);
    const surfaceId = pick(profile.surfaceOrder, by.control);
    const surface = stockLibrary.surface(profile.surfaces[surfaceId].model)!;
    const control = pick(surface.controls, by.control);
    const parts = inputsOf(surface, control);
    if (parts.length === 0) continue;
    const part = pick(parts, by.part);
    const host = pick(profile.hostOrder, by.fn);
    const model = stockLibrary.host(profile.hosts[host].model);
    if (!model) continue;
    const gesture = part === 'push' ? pick(GESTURES, by.gesture) : 'press';
    profile = addBindingTo(profile, 'By lot', {
      layer: pick(profile.layerOrder, by.layer),
      control: { surface: surfaceId, control: control.id, part },
      ...(gesture === 'press' ? {} : { gesture }),
      feel: { takeover: pick(['jump', 'pickup', 'scale', 'rest'] as const, by.takeover) },
      actions: [actionOf(profile, model, host, by)],
    }).document;
  }
  return profile;
}

/** What hands, hosts and wires do in a random session; numbers choose among what there is. */
export interface Deed {
  readonly does:
    | 'touch'
    | 'lift'
    | 'move'
    | 'press'
    | 'release'
    | 'turn'
    | 'host'
    | 'raw'
    | 'wait'
    | 'panic'
    | 'unplug'
    | 'choose';
  readonly who: number;
  readonly what: number;
  readonly how: number;
}
export const deed: fc.Arbitrary<Deed> = fc.record({
  does: fc.constantFrom(
    ...(['touch', 'lift', 'move', 'move', 'press', 'press', 'release', 'release', 'turn'] as const),
    ...([
      'host',
      'host',
      'raw',
      'raw',
      'raw',
      'wait',
      'wait',
      'panic',
      'unplug',
      'choose',
    ] as const),
  ),
  who: nat,
  what: nat,
  how: nat,
});

/** Pieces that wires may say, whole and half: pairs, parameters, displays, digits, SysEx, clock, running status. */
const WORDS: readonly (readonly number[])[] = [
  [0xb0, 7, 100],
  [0xb0, 39, 17],
  [39, 90],
  [0xb0, 99, 8],
  [0xb0, 98, 3],
  [0xb0, 6, 64],
  [0xb0, 38, 5],
  [0xb0, 96, 0],
  [0x90, 60],
  [100],
  [60, 0],
  [0xe0, 0, 64],
  [0, 90],
  [0xf0, 0, 0, 0x66, 0x14, 0x12, 0, 0x42, 0x61, 0x73],
  [0x73, 0x6f, 0xf7],
  [0xf0, 0, 0, 0x66, 0x14, 0x12, 3, 0x78, 0xf7],
  [0xb0, 0x40, 0x31],
  [0xb0, 0x41, 0x32],
  [0xd0, 0x0e],
  [0xd0, 0x0f],
  [0xd0, 0x08],
  [0xf8],
  [0xfa],
  [0xfc],
  [0xb0, 0x30, 0x1f],
  // OSC in a stream: a whole message, and one in two halves.
  [...inStream(writeOscMessage('/pane/fader/2', [{ as: 'float', value: 0.5 }]))],
  [0, 0, 0, 12, 0x2f, 0x67, 0x6f, 0],
  [0x2c, 0x69, 0, 0, 0, 0, 0, 1],
];

/** A session of simulated surfaces and hosts around the engine, all of whose bytes are kept. */
export class Session {
  readonly world: World;
  /** All that has left the engine: when, on which link, and what. */
  readonly out: string[] = [];
  /** All that has come to it. */
  readonly into: { readonly link: string; readonly bytes: Uint8Array; readonly t: number }[] = [];

  constructor(plan: Plan, habits?: (key: string) => Habits) {
    this.world = new World(plan, undefined, habits);
    const { engine } = this.world;
    const receive = engine.receive.bind(engine);
    engine.receive = (link, bytes, from, to) => {
      this.into.push({
        link: engine.plan.links[link].key,
        bytes: bytes.slice(from, to),
        t: this.world.time,
      });
      receive(link, bytes, from, to);
    };
    this.world.tap = (link, bytes, from, to) => {
      const hex = Array.from(bytes.subarray(from, to), (b) => b.toString(16).padStart(2, '0'));
      this.out.push(`${engine.now} ${engine.plan.links[link].key} ${hex.join(' ')}`);
    };
    this.wait(1_000_000);
  }

  wait(micros: number): void {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + 5_000));
  }

  /** Bytes come from behind a link, as they are. */
  say(link: number, bytes: readonly number[]): void {
    const { engine } = this.world;
    engine.at(this.world.time).receive(link, Uint8Array.from(bytes), 0, bytes.length);
    this.world.settle();
  }

  /** @param avoid control that no hand comes near */
  do({ does, who, what, how }: Deed, avoid = ''): void {
    const { world } = this;
    const { engine } = world;
    const desks = [...world.desks.values()];
    const desk = pick(desks, who);
    const controls = desk.surface.controls.filter((control) => {
      if (control.id === avoid) return false;
      const inputs = inputsOf(desk.surface, control);
      if (does === 'press' || does === 'release') return inputs.includes('push');
      return inputs.includes('value');
    });
    const id = controls.length > 0 ? pick(controls, what).id : '';
    const share = (how % 1_025) / 1_024;
    switch (does) {
      case 'touch':
      case 'lift':
        desk.touch(id, does === 'touch');
        break;
      case 'move':
        desk.moveTo(id, share);
        break;
      case 'press':
      case 'release':
        desk.press(id, does === 'press');
        break;
      case 'turn':
        desk.turn(id, (how % 9) - 4);
        break;
      case 'host': {
        // Hosts of another profile are still there, and nothing hears them.
        const [key, host] = pick(
          [...world.hosts].filter(([one]) => engine.linkOf(one) >= 0),
          who,
        );
        const model = engine.plan.links[engine.linkOf(key)].host!;
        const slots = slotsOf(model);
        const slot = what % slots.length;
        if (slots[slot].fn.kind !== 'text') host.set(slot, share);
        break;
      }
      case 'raw':
        this.say(who % engine.plan.links.length, pick(WORDS, what));
        break;
      case 'wait':
        this.wait((how % 500) * 1_000);
        break;
      case 'panic':
        if (how % 4 === 0) engine.panic(world.time);
        else engine.repaint(world.time);
        break;
      case 'unplug': {
        const link = who % engine.plan.links.length;
        world.plug(link, how % 3 === 0 ? engine.isInputOpen(link) : true);
        break;
      }
      case 'choose':
        engine.choosing = how % 3 === 0;
        break;
    }
    world.settle();
  }
}

/** Compiles a profile as another window would send it: the same, and no object of it the same. */
export const compileCopy = (profile: Profile, library: Library = stockLibrary): Plan =>
  compile(JSON.parse(JSON.stringify(profile)) as Profile, library);
