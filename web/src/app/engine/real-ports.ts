import type { Engine, Link } from '@rondo/core/round';
import type { FromEngine, OfLink, Route } from '../../midi/protocol';

/** The way that links have which go over the network: it is not the holder of the real ports that sends for them. */
export interface NetWay {
  takes(link: string): boolean;
  say(link: string, bytes: Uint8Array): void;
  will(link: string, bytes: Uint8Array): void;
}

/** What of the engine the ports of its links need. */
export type PortedEngine = Pick<
  Engine,
  'linkOf' | 'releaseBytes' | 'setHeardOn' | 'heldVersion'
> & {
  readonly plan: { readonly links: readonly Pick<Link, 'key' | 'kind' | 'isOsc'>[] };
};

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, at) => byte === b[at]);

/** The real ports behind links: which each has, what leaves by them, and the bytes that release what is held there. */
export class RealPorts {
  private tellHolder: (message: FromEngine) => void = () => undefined;
  private readonly routes = new Map<string, Route>();
  private readonly unsent = new Map<string, Uint8Array>();
  /** What was told of each link to release what is held, and for which state of the engine. */
  private readonly wills = new Map<string, Uint8Array>();
  private heldVersion = -1;
  /** What would have released what was held when an output went away: owed to it when it comes back. */
  private readonly owed = new Map<
    string,
    { readonly output: string; readonly bytes: Uint8Array }
  >();

  constructor(private readonly net: NetWay) {}

  /** The ports have a holder, or another one: it is told which are whose, and with what is sent next what is held. */
  join(tellHolder: (message: FromEngine) => void): void {
    this.tellHolder = tellHolder;
    this.forgetWills();
    this.tellRoutes();
  }

  /** The engine is alive. */
  pong(): void {
    this.tellHolder({ kind: 'pong' });
  }

  private tellRoutes(): void {
    this.tellHolder({ kind: 'routes', routes: [...this.routes.values()] });
  }

  private forgetWills(): void {
    this.heldVersion = -1;
    this.wills.clear();
  }

  /** Which real ports a link has. What it held on an output that comes back is released there first. */
  set(engine: PortedEngine, link: string, { input, output }: Omit<Route, 'link'>): void {
    const before = this.routes.get(link)?.output ?? null;
    // Where another output takes its place the holder of the ports releases it there.
    if (before !== null && output === null) {
      const bytes = engine.releaseBytes(engine.linkOf(link));
      if (bytes.length > 0) this.owed.set(link, { output: before, bytes });
    }
    this.routes.set(link, { link, input, output });
    this.tellRoutes();
    const owed = this.owed.get(link);
    if (owed && owed.output === output) {
      this.owed.delete(link);
      this.tellHolder({ kind: 'sends', list: [{ link, bytes: owed.bytes }], wills: [] });
    }
    this.tellShared(engine);
  }

  /** Surfaces on one input each see their own messages. */
  private tellShared(engine: PortedEngine): void {
    const all = [...this.routes.values()];
    const inputs = [...new Set(all.map(({ input }) => input))];
    for (const { link, input } of all) {
      const sharing = all.filter((one) => one.input === input).length;
      const at = engine.linkOf(link);
      if (at >= 0)
        engine.setHeardOn(at, input !== null && sharing > 1 ? inputs.indexOf(input) : -1);
    }
  }

  /** Gathers what goes to a real port while one message is worked on, or one moment of time. */
  gather(link: string, bytes: Uint8Array): void {
    const before = this.unsent.get(link);
    const all = new Uint8Array((before?.length ?? 0) + bytes.length);
    if (before) all.set(before);
    all.set(bytes, before?.length ?? 0);
    this.unsent.set(link, all);
  }

  /** Another plan is loaded: what the one before let go of leaves by the ports that it had. */
  begin(): void {
    this.forgetWills();
    this.send(null);
  }

  /** Only these links are there still. */
  keepOnly(links: ReadonlySet<string>): void {
    for (const link of this.routes.keys()) if (!links.has(link)) this.routes.delete(link);
    this.tellRoutes();
  }

  /** Sends what was gathered; with an engine also the bytes to release what it holds, where they are others now. */
  send(engine: PortedEngine | null): void {
    const wills = engine ? this.newWills(engine) : [];
    if (this.unsent.size === 0 && wills.length === 0) return;
    const list: OfLink[] = [];
    for (const [link, bytes] of this.unsent)
      if (this.net.takes(link)) this.net.say(link, bytes);
      else list.push({ link, bytes });
    this.unsent.clear();
    if (list.length + wills.length > 0) this.tellHolder({ kind: 'sends', list, wills });
  }

  private newWills(engine: PortedEngine): readonly OfLink[] {
    if (engine.heldVersion === this.heldVersion) return [];
    const wills: OfLink[] = [];
    this.heldVersion = engine.heldVersion;
    engine.plan.links.forEach((link, i) => {
      if (link.kind !== 'host') return;
      const bytes = engine.releaseBytes(i);
      const told = this.wills.get(link.key);
      if (told && sameBytes(told, bytes)) return;
      this.wills.set(link.key, bytes);
      if (link.isOsc) this.net.will(link.key, bytes);
      else wills.push({ link: link.key, bytes });
    });
    return wills;
  }
}
