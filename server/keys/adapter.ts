import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';
import type { RawData, WebSocket } from 'ws';
import * as z from 'zod';
import { readSetting, writeSetting } from '@rondo/store';

const NAME = 'keys';
const settingSchema = z.object({ on: z.boolean(), token: z.string().min(20) });
const text = z.string().max(200);

/** From the adapter to Rondo. */
const saidSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('hello'), token: text, name: text }),
  /** The program that is in front; null where it cannot tell. */
  z.object({ kind: z.literal('front'), program: text.nullable() }),
]);

/** From Rondo to the adapter: keys by their codes, in the order in which they go down. */
export type ToAdapter =
  | { readonly kind: 'allow'; readonly chords: readonly (readonly string[])[] }
  | { readonly kind: 'press' | 'down' | 'up'; readonly keys: readonly string[] };

/** How long an adapter may take to say who it is, ms. */
const HELLO_MS = 5_000;

/** How things stand with the keys of this computer, as the page is told. */
export interface KeysStanding {
  readonly on: boolean;
  /** What an adapter has to show; '' while it is off. */
  readonly token: string;
  /** Name of the adapter that is here; '' for none. */
  readonly adapter: string;
  /** The program in front, as far as the adapter can tell. */
  readonly front: string | null;
}

/**
 * The way to the keys of this computer: a small program of the user's own, the adapter, which comes to Rondo with a token and
 * presses what it is told. Rondo itself presses nothing, and without an adapter nothing is pressed. Off until switched on.
 */
export class KeyAdapter {
  private on = false;
  private token = '';
  private socket: WebSocket | null = null;
  private name = '';
  front: string | null = null;
  private allowed: readonly (readonly string[])[] = [];

  /** @param changed an adapter has come or gone */
  constructor(private readonly changed: () => void) {}

  async load(db: Knex): Promise<void> {
    const known = settingSchema.safeParse(await readSetting(db, NAME));
    this.on = known.success && known.data.on;
    this.token = known.success ? known.data.token : '';
    this.socket?.close(1008, 'Switched anew');
  }

  /** Switches it; each time that it is switched on there is another token. */
  async set(db: Knex, on: boolean): Promise<void> {
    this.on = on;
    this.token = randomBytes(24).toString('base64url');
    await writeSetting(db, NAME, { on, token: this.token });
    this.socket?.close(1008, 'Switched off');
  }

  standing(): KeysStanding {
    const { on, token, name: adapter, front } = this;
    return { on, token: on ? token : '', adapter, front };
  }

  get isHere(): boolean {
    return this.socket !== null;
  }

  /** Why nothing can be pressed, in a sentence; '' where it can. */
  get fault(): string {
    if (!this.on) return 'Key strokes are switched off. Switch them on under Ports, Keys.';
    return this.socket ? '' : 'No key adapter is here. Start it as Ports says under Keys.';
  }

  /** A program has come and has to say who it is. */
  take(socket: WebSocket): void {
    const late = setTimeout(() => socket.close(1008, 'No hello'), HELLO_MS);
    socket.on('error', () => socket.terminate());
    socket.on('message', (data, isBinary) => {
      const said = isBinary ? null : saidSchema.safeParse(readJson(data));
      if (!said?.success) return socket.close(1007, 'Not understood');
      if (said.data.kind === 'hello') {
        clearTimeout(late);
        if (!this.on || !this.isToken(said.data.token)) return socket.close(1008, 'Wrong token');
        this.socket?.close(1000, 'Another adapter has come');
        this.socket = socket;
        this.name = said.data.name || 'A key adapter';
        this.front = null;
        this.tell({ kind: 'allow', chords: this.allowed });
        this.changed();
      } else if (this.socket === socket) this.front = said.data.program;
      else socket.close(1008, 'No hello');
    });
    socket.on('close', () => {
      clearTimeout(late);
      if (this.socket !== socket) return;
      this.socket = null;
      this.name = '';
      this.front = null;
      this.changed();
    });
  }

  private isToken(given: string): boolean {
    const [a, b] = [Buffer.from(given), Buffer.from(this.token)];
    return a.length === b.length && timingSafeEqual(a, b);
  }

  /** The chords that may be pressed: the adapter refuses all others by itself, too. */
  allow(chords: readonly (readonly string[])[]): void {
    this.allowed = chords;
    this.tell({ kind: 'allow', chords });
  }

  tell(message: ToAdapter): void {
    if (this.socket?.readyState === this.socket?.OPEN) this.socket?.send(JSON.stringify(message));
  }
}

function readJson(data: RawData): unknown {
  try {
    return JSON.parse(String(data));
  } catch {
    return undefined;
  }
}
