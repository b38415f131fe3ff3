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
  private glasses: readonly { readonly glass: string; readonly surface: string }[] = [];
  /** What is shown, by the surface's id; null for one that cannot be. */
  private readonly faces = new Map<string, GlassFace | null>();
  private toldAt = -Infinity;
  private isAnswering = false;
  /** What is held, by link, control and what is done to it: the glass whose finger came last, and what lets go of it. */
  private readonly held = new Map<string, { readonly glass: string; readonly end: Hand }>();

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
    this.lose();
  }

  /** The way is gone, and with it whoever was there: what they held is let go of. */
  private lose(): void {
    this.isOpen = false;
    this.glasses = [];
    this.faces.clear();
    this.letGo(() => true);
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
        this.lose();
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
    const message = said.data;
    if (message.kind === 'hand') this.hand(message);
    else if (message.kind === 'anew') this.paint(message.glass, message.surface);
    else this.meet(message.glasses);
  }

  /** Others are there than before: who has come sees everything, and what who has gone held is let go of. */
  private meet(glasses: typeof this.glasses): void {
    const before = new Set(this.glasses.map(({ glass }) => glass));
    const now = new Set(glasses.map(({ glass }) => glass));
    this.glasses = glasses;
    this.letGo((glass) => !now.has(glass));
    for (const { glass, surface } of glasses) if (!before.has(glass)) this.paint(glass, surface);
  }

  /** Shows a glass all of its surface, and nothing to those that have it already. */
  private paint(glass: string, surface: string): void {
    const known = this.faces.get(surface);
    const face = this.faceOf(surface);
    // What the others have not been told yet is told to all; where nobody had it, that is everything.
    this.tellChanges(surface, face);
    if (known !== face) return;
    this.say({ surface, glass, says: this.panelOf(surface, face) });
    if (face) this.say({ surface, glass, says: { kind: 'changes', changes: face.whole() } });
  }

  private letGo(isGone: (glass: string) => boolean): void {
    for (const [key, { glass, end }] of this.held) {
      if (!isGone(glass)) continue;
      this.held.delete(key);
      this.owner.hand(end);
    }
  }

  private hand({ glass, surface, control, does, value }: ToGlassEngine & { kind: 'hand' }): void {
    const link = this.linkOf(surface);
    if (link === null) return;
    // Of two glasses on one surface the last finger counts; who lets go of what another has, lets nothing go.
    if (does === 'touch' || does === 'press') {
      const key = `${link} ${does} ${control}`;
      if (value > 0) this.held.set(key, { glass, end: { link, control, does, value: 0 } });
      else if (this.held.get(key)?.glass === glass) this.held.delete(key);
      else return;
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
    if (!this.isOpen || this.glasses.length === 0) return;
    const isSoon = !this.isAnswering && this.owner.now() - this.toldAt < CHANGES_EVERY;
    for (const surface of new Set(this.glasses.map((one) => one.surface))) {
      const face = this.faceOf(surface);
      if (!isSoon) this.tellChanges(surface, face);
    }
  }

  private tellChanges(surface: string, face: GlassFace | null): void {
    const now = this.owner.now();
    const engine = this.owner.world()?.engine;
    const changes = face && engine ? face.changes(engine, now) : null;
    if (!changes) return;
    this.say({ surface, says: { kind: 'changes', changes } });
    this.toldAt = now;
  }

  /** What a surface shows now; its glasses get its panel where that is another one than before. */
  private faceOf(surface: string): GlassFace | null {
    const link = this.linkOf(surface);
    const desk = (link !== null && this.owner.world()?.desks.get(link)) || null;
    const known = this.faces.get(surface);
    if (known !== undefined && (known?.desk ?? null) === desk) return known;
    const face = desk && link !== null ? new GlassFace(desk, link.slice('surface:'.length)) : null;
    this.faces.set(surface, face);
    this.say({ surface, says: this.panelOf(surface, face) });
    return face;
  }

  private panelOf(surface: string, face: GlassFace | null): FromGlassEngine['says'] {
    return face
      ? { kind: 'panel', surface: face.desk.surface }
      : { kind: 'panel', why: this.whyNot(surface) };
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
