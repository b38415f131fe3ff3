import type { HostModel } from '@rondo/core/host';
import { Engine, RoundLog, type Link, type LinkOutput, type Plan } from '@rondo/core/round';
import { Cable } from './cable.js';
import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import { Desk } from './desk.js';
import { simulationOf } from './hosts.js';
import type { SimulatedProgram } from './host.js';

/** Where a link's bytes go when it is not simulated. */
export type RealOutput = LinkOutput;

const MOST_TURNS = 64;

/** Seven bytes by which each simulated desk says who it is. */
const serialOf = (key: string): number[] =>
  [...key.slice(-7).padStart(7, '0')].map((character) => character.charCodeAt(0) & 0x7f);

type Emit = (bytes: Uint8Array, from: number, to: number) => void;

interface StandIn {
  readonly toEngine: Cable;
  readonly fromEngine: Cable;
}

/**
 * The engine with simulated surfaces and hosts on its links, joined by cables that carry bytes and nothing else.
 * A link may have real ports in place of its stand-in.
 */
export class World {
  readonly engine: Engine;
  readonly desks = new Map<string, Desk>();
  readonly hosts = new Map<string, SimulatedProgram>();
  /** Sees all that leaves the engine, where one is plugged in. */
  tap: LinkOutput | null = null;
  private cables = new Map<string, StandIn>();
  private readonly emits = new Map<string, Emit>();
  private keys: string[] = [];
  private readonly real = new Set<string>();
  /** Hosts that time goes on for, each once. */
  private playing: readonly SimulatedProgram[] = [];
  private now = 0;

  constructor(
    plan: Plan,
    private readonly realOutput: RealOutput = () => undefined,
    /** How the simulated surface or host behind each link speaks, by its key. */
    private readonly habits: (key: string) => Habits = () => PLAIN_HABITS,
  ) {
    this.engine = new Engine(plan, (link, bytes, from, to) => {
      const key = this.keys[link];
      const real = this.real.has(key);
      this.tap?.(link, bytes, from, to);
      if (real) this.realOutput(link, bytes, from, to);
      // A simulated desk beside a real one is its picture; a simulated host beside a real one would be a second host.
      if (!real || this.desks.has(key)) this.cables.get(key)?.fromEngine.push(bytes, from, to);
    });
    this.engine.log = RoundLog.for(plan);
    this.standIn(plan);
  }

  /** Swaps the plan under everything that runs. */
  load(plan: Plan): void {
    this.engine.load(plan, this.now);
    this.standIn(plan);
    this.settle();
  }

  private standIn(plan: Plan): void {
    this.keys = plan.links.map((link) => link.key);
    plan.links.forEach((link, i) => {
      if (!this.cables.has(link.key)) {
        const cables: StandIn = { toEngine: new Cable(), fromEngine: new Cable() };
        this.cables.set(link.key, cables);
        const emit: Emit = (bytes, from, to) => {
          if (!this.real.has(link.key) || link.kind === 'surface')
            cables.toEngine.push(bytes, from, to);
        };
        if (link.surface)
          this.desks.set(
            link.key,
            new Desk(link.surface, emit, serialOf(link.key), this.habits(link.key)),
          );
        this.emits.set(link.key, emit);
      }
      const desk = this.desks.get(link.key);
      const emit = this.emits.get(link.key);
      if (link.host && this.hosts.get(link.key)?.model !== link.host)
        this.hosts.set(link.key, this.hostFor(plan, link));
      if (desk && emit && link.surface && desk.surface !== link.surface) {
        const edited = new Desk(link.surface, emit, serialOf(link.key), this.habits(link.key));
        edited.standLike(desk);
        edited.isPicture = desk.isPicture;
        this.desks.set(link.key, edited);
      }
      // One that is new knows what time it is before anything comes to it.
      this.desks.get(link.key)?.advance(0, this.now);
      if (this.real.has(link.key)) return;
      this.engine.setInputOpen(i, true, this.now);
      this.engine.setOutputOpen(i, true, this.now);
    });
    this.findPlaying();
    this.settle();
  }

  /** The stand-in of a host: all units have the same. */
  private hostFor(plan: Plan, link: Link): SimulatedProgram {
    const keys = plan.links
      .filter(({ kind, id }) => kind === 'host' && id === link.id)
      .map(({ key }) => key);
    const main = link.unit > 0 ? this.hosts.get(keys[0]) : undefined;
    return (
      main ??
      simulationOf(
        link.host as HostModel,
        (unit, bytes, from, to) => this.emits.get(keys[unit])?.(bytes, from, to),
        this.habits(link.key),
      )
    );
  }

  /** A host in whose place there is a real program stands still: nobody hears it, and time is the real one's. */
  private findPlaying(): void {
    const simulated = [...this.hosts].filter(([key]) => !this.real.has(key));
    this.playing = [...new Set(simulated.map(([, host]) => host))];
    // One that is new, or back, knows what time it is before anything comes to it.
    for (const { clock } of this.playing) clock?.fill(this.now);
  }

  isReal(link: number): boolean {
    return this.real.has(this.keys[link]);
  }

  /** Puts real ports in place of a stand-in, or the stand-in back. Real ports are opened by their owner. */
  setReal(link: number, real: boolean): void {
    const key = this.keys[link];
    if (key === undefined || this.real.has(key) === real) return;
    this.engine.setInputOpen(link, false, this.now);
    this.engine.setOutputOpen(link, false, this.now);
    const desk = this.desks.get(key);
    if (desk) desk.isPicture = real;
    if (real) this.real.add(key);
    else {
      this.real.delete(key);
      this.engine.setInputOpen(link, true, this.now);
      this.engine.setOutputOpen(link, true, this.now);
    }
    this.findPlaying();
    this.settle();
  }

  /** Unplugs or replugs a simulated link's cables. */
  plug(link: number, plugged: boolean): void {
    this.engine.setInputOpen(link, plugged, this.now);
    this.engine.setOutputOpen(link, plugged, this.now);
    this.settle();
  }

  /** Lets bytes flow until the cables are empty. */
  settle(): void {
    for (let turn = 0; turn < MOST_TURNS; turn++) {
      let moved = false;
      for (let link = 0; link < this.keys.length; link++) {
        const cables = this.cables.get(this.keys[link]);
        if (!cables) continue;
        if (!cables.toEngine.isEmpty) {
          moved = true;
          cables.toEngine.flow((bytes, from, to) =>
            this.engine.at(this.now).receive(link, bytes, from, to),
          );
        }
        if (!cables.fromEngine.isEmpty) {
          moved = true;
          const desk = this.desks.get(this.keys[link]);
          const host = this.hosts.get(this.keys[link]);
          const unit = this.engine.plan.links[link]?.unit ?? 0;
          cables.fromEngine.flow((bytes, from, to) => {
            if (desk) desk.receive(bytes, from, to);
            else host?.receive(bytes, from, to, unit);
          });
        }
      }
      if (!moved) return;
    }
  }

  /** Time goes on to `t`, µs: hosts play, motors travel, what is due goes out. */
  advance(t: number): void {
    const micros = Math.max(0, t - this.now);
    this.now = t;
    for (const host of this.playing) host.advance(micros, t);
    for (const desk of this.desks.values()) desk.advance(micros, t);
    this.engine.advance(t);
    this.settle();
  }

  get time(): number {
    return this.now;
  }
}
