import { toGlassSchema, type FromGlass, type GlassRefusal, type ToGlass } from '@rondo/core/wire';

/** How long it waits before it comes again, ms: longer each time. */
const [FIRST_WAIT, LONGEST_WAIT] = [200, 3_000];
/** How often it is looked whether the way is still there, ms; a way that has been silent for two of them is none. */
const BEAT = 3_000;
const KEY = 'rondo glass';

interface Known {
  readonly id: string;
  readonly secret: string;
}

/** Refusals after which there is no use in coming again by itself. */
const FINAL: ReadonlySet<GlassRefusal> = new Set(['code', 'pause', 'unknown', 'revoked', 'full']);

/** What happens on the way. */
export interface Owner {
  heard(message: ToGlass & { kind: 'panel' | 'changes' }): void;
  /** The way is broken, or there is one again. */
  isThere(there: boolean): void;
  refused(why: GlassRefusal): void;
}

/** A socket as the browser has it. */
export interface Socket {
  send(text: string): void;
  close(): void;
}
export interface SocketEvents {
  opened(): void;
  text(text: string): void;
  closed(): void;
}

/**
 * The way to Rondo: paired once by the code in the address, remembered then, and taken again by itself whenever it breaks.
 * What was held when it broke is let go of at the other end.
 */
export class Way {
  private socket: Socket | null = null;
  private isOpen = false;
  private wait = FIRST_WAIT;
  private isOver = false;
  /** Beats since anything was heard. */
  private beats = 0;

  /**
   * @param code of the address; '' for none
   * @param name by which the device is told from others
   */
  constructor(
    private readonly open: (events: SocketEvents) => Socket,
    private readonly store: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>,
    private readonly later: (work: () => void, ms: number) => void,
    private code: string,
    private readonly name: string,
    private readonly owner: Owner,
  ) {
    this.connect();
  }

  say(message: FromGlass): void {
    if (this.isOpen) this.socket?.send(JSON.stringify(message));
  }

  private known(): Known | null {
    try {
      const known = JSON.parse(this.store.getItem(KEY) ?? 'null') as Known | null;
      return known && typeof known.id === 'string' ? known : null;
    } catch {
      return null;
    }
  }

  private connect(): void {
    const socket = this.open({
      opened: () => {
        if (this.socket !== socket) return;
        this.isOpen = true;
        this.beats = 0;
        this.beat(socket);
        this.wait = FIRST_WAIT;
        const known = this.known();
        if (this.code !== '') this.say({ kind: 'pair', code: this.code, name: this.name });
        else if (known) this.say({ kind: 'join', ...known });
        else this.refuse('unknown');
      },
      text: (text) => {
        if (this.socket === socket) this.hear(text);
      },
      closed: () => this.lose(socket),
    });
    this.socket = socket;
  }

  /** A socket is closed, or as good as that. */
  private lose(socket: Socket): void {
    if (this.socket !== socket) return;
    this.socket = null;
    this.isOpen = false;
    if (this.isOver) return;
    this.owner.isThere(false);
    this.later(() => this.connect(), this.wait);
    this.wait = Math.min(LONGEST_WAIT, this.wait * 2);
  }

  /** Out of reach of the network a socket stays open for minutes: it is asked, and left where nothing comes back. */
  private beat(socket: Socket): void {
    this.later(() => {
      if (this.socket !== socket) return;
      if (this.beats >= 2) {
        socket.close();
        this.lose(socket);
        return;
      }
      this.beats++;
      this.say({ kind: 'echo' });
      this.beat(socket);
    }, BEAT);
  }

  private hear(text: string): void {
    this.beats = 0;
    const said = toGlassSchema.safeParse(JSON.parse(text));
    if (!said.success) return;
    const message = said.data;
    if (message.kind === 'paired') {
      this.code = '';
      const { id, secret } = message;
      this.store.setItem(KEY, JSON.stringify({ id, secret }));
      this.say({ kind: 'join', id, secret });
    } else if (message.kind === 'refused') this.refuse(message.why);
    else if (message.kind !== 'echo') {
      if (message.kind === 'panel') this.owner.isThere(true);
      this.owner.heard(message);
    }
  }

  private refuse(why: GlassRefusal): void {
    // A code is good once: who has been let in before goes by what it remembers.
    if (why === 'code' && this.code !== '' && this.known()) {
      this.code = '';
      return;
    }
    if (why === 'revoked' || why === 'unknown') this.store.removeItem(KEY);
    this.isOver = FINAL.has(why);
    this.owner.refused(why);
    if (this.isOver) this.socket?.close();
  }
}
