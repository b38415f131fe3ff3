import { HOST_MODELS } from '@rondo/core/host';
import { emptyProfile, type Action, type Profile, type Showing } from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import {
  COBBLE_64,
  STOCK_SURFACES,
  nearestColour,
  type ReturnSettings,
  type Surface,
} from '@rondo/core/surface';
import type { Desk } from '../standin/desk.js';
import type { SimulatedHost } from '../standin/host.js';
import { World } from '../standin/world.js';

export const TICK = 5_000;
export const number = (colour: string) => nearestColour(COBBLE_64.device.palette, colour)!.value;

/** Lights of a profile, as its simulated surfaces have them. */
export class LitRoom {
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

export const studio = (
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
export function pads(
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
export const showings = (...list: Omit<Showing, 'id'>[]): Partial<Profile> => ({
  showings: Object.fromEntries(list.map((one, n) => [`s${n}`, { ...one, id: `s${n}` } as Showing])),
  showingOrder: list.map((_, n) => `s${n}`),
});
/** Another host before the Studio, and a flag. */
export const withBooth = (): Partial<Profile> => ({
  hosts: {
    booth: { id: 'booth', model: 'booth', label: 'Booth' },
    studio: { id: 'studio', model: 'studio', label: 'Studio' },
  },
  hostOrder: ['booth', 'studio'],
  flags: { late: { id: 'late', label: 'Late' } },
  flagOrder: ['late'],
});
export const padRefs = (...ids: number[]) =>
  ids.map((n) => ({ surface: 'pads', control: `pad-${n}`, part: 'light' as const }));
