import type { World } from '@rondo/core/standin';
import { toGlassEngineSchema, type FromGlassEngine, type ToGlassEngine } from '@rondo/core/wire';
import { GlassFace } from './glass-face';
import type { NetEvents, NetSocket } from './osc-net';
import type { Hand } from './protocol';

/** How often glasses are told what changes by itself at most, µs; what a finger does is answered at once. */
const CHANGES_EVERY = 8_000;
const [FIRST_WAIT_MS, LONGEST_WAIT_MS] = [250, 5_000];

/** What the engine makes of fingers on glass. */
export interface GlassOwner {
  /** The world that plays; null before there is one. */
  world(): World | null;
  /** A finger does something on a surface of the profile. */
  hand(hand: Hand): void;
  /** Whole µs, never going back. */
  now(): number;
}

/** The engine's way to surfaces on glass, which the server brings together with it. */
export class GlassNet {
  private socket: NetSocket | null = null;
  private isOpen = false;
  private isWanted = false;
  private wait = FIRST_WAIT_MS;
  private there: ToGlassEngine & { kind: 'there' } = { kind: 'there', glasses: [] };
  /** What is shown, by the surface's id; null for one that cannot be. */
  private readonly faces = new Map<string, GlassFace | null>();
  private toldAt = -Infinity;
  private isAnswering = false;
  /** Who has hold of what: a surface's control, by what is done to it, and the glass whose finger came last. */
  private readonly holders = new Map<string, string>();

  /**
   * @param open opens a socket
   * @param later does something after some ms
   */
  constructor(
    private readonly open: (events: NetEvents) => NetSocket,
    private readonly later: (work: () => void, ms: number) => void,
    private readonly owner: GlassOwner,
  ) {}

  /** Whether glasses may come: the network is on. */
  set(on: boolean): void {
    this.isWanted = on;
    if (on && !this.socket) this.connect();
    if (on) return;
    this.socket?.close();
    this.socket = null;
    this.isOpen = false;
    this.faces.clear();
  }

  private connect(): void {
    const socket = this.open({
      opened: () => {
        if (this.socket !== socket) return;
        this.isOpen = true;
        this.wait = FIRST_WAIT_MS;
      },
      text: (text) => this.hear(text),
      bytes: () => undefined,
      closed: () => {
        if (this.socket !== socket) return;
        this.socket = null;
        this.isOpen = false;
        this.faces.clear();
        this.later(() => {
          if (this.isWanted && !this.socket) this.connect();
        }, this.wait);
        this.wait = Math.min(LONGEST_WAIT_MS, this.wait * 2);
      },
    });
    this.socket = socket;
  }

  private hear(text: string): void {
    const said = toGlassEngineSchema.safeParse(JSON.parse(text));
    if (!said.success) return;
    if (said.data.kind === 'there') {
      this.there = said.data;
      // Whoever has come sees everything.
      this.faces.clear();
      this.tell();
    } else this.hand(said.data);
  }

  private hand({ glass, surface, control, does, value }: ToGlassEngine & { kind: 'hand' }): void {
    const link = this.linkOf(surface);
    if (link === null) return;
    // Of two glasses on one surface the last finger counts; who lets go of what another has, lets nothing go.
    if (does === 'touch' || does === 'press') {
      const key = `${surface} ${does} ${control}`;
      const holder = this.holders.get(key);
      if (value > 0) this.holders.set(key, glass);
      else if (holder !== undefined && holder !== glass) return;
      else this.holders.delete(key);
    }
    this.isAnswering = true;
    this.owner.hand({ link, control, does, value });
    this.tell();
    this.isAnswering = false;
  }

  /** The link at which the profile has a surface, where it is simulated. */
  private linkOf(surface: string): string | null {
    const world = this.owner.world();
    if (!world) return null;
    const { links } = world.engine.plan;
    const at = links.findIndex(({ kind, model }) => kind === 'surface' && model === surface);
    return at >= 0 && !world.isReal(at) ? links[at].key : null;
  }

  /** Tells glasses what has changed; more than one change within some ms goes together. */
  tell(): void {
    if (!this.isOpen || this.there.glasses.length === 0) return;
    const now = this.owner.now();
    const isSoon = !this.isAnswering && now - this.toldAt < CHANGES_EVERY;
    for (const surface of new Set(this.there.glasses.map((one) => one.surface))) {
      const face = this.faceOf(surface);
      if (!face || isSoon) continue;
      const engine = this.owner.world()?.engine;
      const changes = engine ? face.changes(engine, now) : null;
      if (!changes) continue;
      this.say({ surface, says: { kind: 'changes', changes } });
      this.toldAt = now;
    }
  }

  /** What a surface shows now; its glasses get its panel where that is another one than before. */
  private faceOf(surface: string): GlassFace | null {
    const world = this.owner.world();
    const link = this.linkOf(surface);
    const desk = link === null ? undefined : world?.desks.get(link);
    const known = this.faces.get(surface);
    if (known !== undefined && (known?.desk ?? null) === (desk ?? null)) return known;
    const face = desk && link !== null ? new GlassFace(desk, link.slice('surface:'.length)) : null;
    this.faces.set(surface, face);
    this.say({
      surface,
      says: desk
        ? { kind: 'panel', surface: desk.surface, page: desk.onPage }
        : { kind: 'panel', why: this.whyNot(surface) },
    });
    return face;
  }

  private whyNot(surface: string): string {
    const { plan } = this.owner.world()?.engine ?? {};
    const link = plan?.links.find(({ kind, model }) => kind === 'surface' && model === surface);
    return link
      ? `${link.label} has real ports in Rondo just now. Choose “Simulated” for it under Ports to play it here.`
      : 'The profile that is open in Rondo has no such surface. Open one that has, or add it there.';
  }

  private say(message: FromGlassEngine): void {
    this.socket?.send(JSON.stringify(message));
  }
}
