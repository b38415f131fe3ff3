import type { RawData, WebSocket } from 'ws';
import {
  fromGlassEngineSchema,
  fromGlassSchema,
  type FromGlass,
  type GlassRefusal,
  type ToGlass,
  type ToGlassEngine,
} from '@rondo/core/wire';
import { paceLimit, passes } from './limits.js';

/** What waits to be taken by a glass, in bytes, before changes are left out: it is painted whole when it can take more. */
const MOST_UNREAD = 1 << 20;
/** A glass that says nothing at all for so long is gone, ms; it is asked three times meanwhile. */
const SILENCE_MS = 9_000;
/** How long a glass may take to say who it is, ms. */
export const HELLO_MS = 5_000;

/** Who may come in, and who is sent away. */
export interface Doorkeeper {
  pair(
    address: string,
    code: string,
    name: string,
  ): Promise<{ id: string; secret: string } | GlassRefusal>;
  find(id: string, secret: string): { id: string; surface: string } | undefined;
  /** Hears of a fault of ours. */
  report(error: unknown): void;
}

interface Joined {
  readonly id: string;
  readonly surface: string;
  /** Its socket alone, also where one device has two pages open. */
  readonly serial: string;
}

/** One glass and its socket. */
class Glass {
  joined: Joined | null = null;
  /** Touches and presses that it has not ended: how each would end. */
  private readonly held = new Map<string, FromGlass & { kind: 'hand' }>();
  private heardAt = performance.now();
  private isBehind = false;
  private readonly timer = setInterval(() => this.look(), SILENCE_MS / 3);
  private readonly late = setTimeout(() => {
    if (!this.joined) this.socket.close(1008, 'No hello');
  }, HELLO_MS);

  constructor(
    private readonly socket: WebSocket,
    private readonly relay: GlassRelay,
    private readonly serial: string,
    readonly address: string,
  ) {
    socket.on('message', (data, isBinary) => {
      this.hear(data, isBinary).catch((error: unknown) => {
        this.relay.door.report(error);
        // It comes again by itself.
        this.refuse('busy');
      });
    });
    socket.on('pong', () => (this.heardAt = performance.now()));
    socket.on('close', () => this.end());
    socket.on('error', () => socket.terminate());
  }

  tell(message: ToGlass): void {
    this.send(JSON.stringify(message), message.kind === 'changes');
  }

  /** @param canWait changes of which none is worth more than the newest */
  send(text: string, canWait: boolean): void {
    if (this.socket.readyState !== this.socket.OPEN) return;
    if (canWait && this.socket.bufferedAmount > MOST_UNREAD) {
      this.isBehind = true;
      return;
    }
    this.socket.send(text);
  }

  refuse(why: GlassRefusal): void {
    this.tell({ kind: 'refused', why });
    this.socket.close(1008, why);
  }

  private look(): void {
    if (performance.now() - this.heardAt > SILENCE_MS) return this.socket.terminate();
    this.socket.ping();
    if (!this.isBehind || this.socket.bufferedAmount > 0) return;
    this.isBehind = false;
    if (this.joined) this.relay.paintAnew(this.joined);
  }

  private async hear(data: RawData, isBinary: boolean): Promise<void> {
    this.heardAt = performance.now();
    const said = isBinary ? null : fromGlassSchema.safeParse(readJson(data));
    if (!said?.success) return this.socket.close(1007, 'Not understood');
    if (!(await passes(this.relay.pace, this.serial))) return this.refuse('fast');
    const message = said.data;
    if (message.kind === 'echo') return this.tell(message);
    if (message.kind === 'pair') {
      const paired = await this.relay.door.pair(this.address, message.code, message.name);
      return typeof paired === 'string'
        ? this.refuse(paired)
        : this.tell({ kind: 'paired', ...paired });
    }
    if (message.kind === 'join') {
      const device = this.relay.door.find(message.id, message.secret);
      if (!device) return this.refuse('unknown');
      this.joined = { ...device, serial: this.serial };
      return this.relay.tellThere();
    }
    if (!this.joined) return this.refuse('unknown');
    this.hold(message);
    this.relay.hand(this.joined, message);
  }

  private hold(message: FromGlass & { kind: 'hand' }): void {
    if (message.does !== 'touch' && message.does !== 'press') return;
    const key = `${message.does} ${message.control}`;
    if (message.value > 0) this.held.set(key, { ...message, value: 0 });
    else this.held.delete(key);
  }

  /** Whatever its fingers hold is let go of. */
  letGo(): void {
    const { joined } = this;
    if (joined) for (const release of this.held.values()) this.relay.hand(joined, release);
    this.held.clear();
  }

  end(): void {
    clearInterval(this.timer);
    clearTimeout(this.late);
    this.relay.left(this);
    this.letGo();
    if (this.joined) this.relay.tellThere();
  }
}

/** Brings together glasses and the engine: of several engines the one that came last. */
export class GlassRelay {
  private readonly glasses = new Set<Glass>();
  private engines: WebSocket[] = [];
  private serial = 0;
  readonly pace = paceLimit();

  constructor(readonly door: Doorkeeper) {}

  /** Ids of the devices that are there now. */
  get connected(): ReadonlySet<string> {
    return new Set([...this.glasses].flatMap(({ joined }) => joined?.id ?? []));
  }

  /** A glass has come, and may say who it is. */
  takeGlass(socket: WebSocket, address: string): void {
    this.glasses.add(new Glass(socket, this, String(++this.serial), address));
  }

  /** How many glasses are there, let in or not; of one address, where it is given. */
  count(address?: string): number {
    return [...this.glasses].filter((one) => address === undefined || one.address === address)
      .length;
  }

  /** An engine of Rondo's own page has come. */
  takeEngine(socket: WebSocket): void {
    // The engine that had the glasses lets go of what they hold there: what ends it reaches only the new one.
    this.letGo();
    this.toEngine({ kind: 'there', glasses: [] });
    this.engines.push(socket);
    socket.on('message', (data, isBinary) => {
      if (isBinary || this.engines.at(-1) !== socket) return;
      const said = fromGlassEngineSchema.safeParse(readJson(data));
      // Only our own page comes here; what it does not say so is a mistake of ours.
      if (!said.success) return socket.close(1007, 'Not understood');
      const { surface, glass: only, says } = said.data;
      const text = JSON.stringify(says);
      for (const glass of this.glasses)
        if (
          glass.joined?.surface === surface &&
          (only === undefined || glass.joined.serial === only)
        )
          glass.send(text, says.kind === 'changes');
    });
    socket.on('close', () => {
      const wasLast = this.engines.at(-1) === socket;
      this.engines = this.engines.filter((one) => one !== socket);
      if (wasLast) this.tellThere();
    });
    socket.on('error', () => socket.terminate());
    this.tellThere();
  }

  /** Has the engine paint a glass whole, which could not take all that was said to it. */
  paintAnew({ serial, surface }: Joined): void {
    this.toEngine({ kind: 'anew', glass: serial, surface });
  }

  /** Tells the engine who is there; it paints whoever has come. */
  tellThere(): void {
    const glasses = [...this.glasses].flatMap(({ joined }) =>
      joined ? [{ glass: joined.serial, surface: joined.surface }] : [],
    );
    if (this.engines.length > 0) return this.toEngine({ kind: 'there', glasses });
    for (const glass of this.glasses)
      if (glass.joined)
        glass.tell({
          kind: 'panel',
          why: 'Rondo is not open in a browser on its computer. Open it there.',
        });
  }

  hand({ serial, surface }: Joined, message: FromGlass & { kind: 'hand' }): void {
    this.toEngine({ ...message, kind: 'hand', glass: serial, surface });
  }

  left(glass: Glass): void {
    this.glasses.delete(glass);
  }

  /** Lets go of what all glasses hold, as when there is no more time. */
  letGo(): void {
    for (const glass of this.glasses) glass.letGo();
  }

  /** Sends a device away, wherever it is connected. */
  sendAway(id: string): void {
    for (const glass of this.glasses) if (glass.joined?.id === id) glass.refuse('revoked');
  }

  private toEngine(message: ToGlassEngine): void {
    const engine = this.engines.at(-1);
    if (engine?.readyState === engine?.OPEN) engine?.send(JSON.stringify(message));
  }
}

function readJson(data: RawData): unknown {
  try {
    return JSON.parse(String(data));
  } catch {
    return undefined;
  }
}
