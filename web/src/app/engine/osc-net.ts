import {
  NET_HEAD,
  fromNetSchema,
  netStretch,
  type NetChoice,
  type NetNews,
  type NetStanding,
} from '@rondo/core/wire';

/** How long it waits before it asks the server again, ms: longer each time. */
const FIRST_WAIT_MS = 250;
const LONGEST_WAIT_MS = 5_000;
const ROUNDS = 256;

/** A socket to the server, as the browser has it. */
export interface NetSocket {
  send(data: string | Uint8Array<ArrayBuffer>): void;
  close(): void;
}
export interface NetEvents {
  opened(): void;
  text(text: string): void;
  bytes(bytes: Uint8Array): void;
  closed(): void;
}

/** What the engine makes of what comes. */
export interface NetOwner {
  heard(link: string, bytes: Uint8Array): void;
  /** Addresses of the key strokes that a link may send. */
  strokes(link: string): string[];
  standing(standing: readonly NetStanding[]): void;
  news(news: readonly NetNews[]): void;
}

const AWAY =
  'Rondo’s server does not answer, so no OSC comes or goes. It is asked again by itself.';

/**
 * The engine's way to OSC ports, which the server opens for it. There is a socket as long as there is a place; one that
 * breaks is opened again, and until then nothing is heard and nothing goes.
 */
export class OscNet {
  private socket: NetSocket | null = null;
  private isOpen = false;
  private round = 0;
  private links: string[] = [];
  private places: readonly (readonly [link: string, choice: NetChoice])[] = [];
  private wait = FIRST_WAIT_MS;
  /** Bytes that the server sends when the engine is gone, by link. */
  private readonly wills = new Map<string, Uint8Array>();

  /**
   * @param open opens a socket
   * @param later does something after some ms
   */
  constructor(
    private readonly open: (events: NetEvents) => NetSocket,
    private readonly later: (work: () => void, ms: number) => void,
    private readonly owner: NetOwner,
  ) {}

  /** The places that there are from now on. */
  set(places: ReadonlyMap<string, NetChoice>): void {
    this.places = [...places];
    if (this.places.length === 0) {
      this.links = [];
      this.socket?.close();
      this.socket = null;
      this.isOpen = false;
      return;
    }
    if (this.isOpen) this.tell();
    else if (!this.socket) this.connect();
  }

  /** Another plan lists other strokes: they are told anew where any link sends keys. */
  tellStrokes(): void {
    if (this.isOpen && this.places.some(([, { keys }]) => keys)) this.tell();
  }

  /** Packets go out on a link. */
  say(link: string, bytes: Uint8Array): void {
    const place = this.links.indexOf(link);
    if (this.isOpen && place >= 0) this.socket?.send(netStretch(this.round, place, bytes));
  }

  /** What releases what is held on a link, should the engine vanish. */
  will(link: string, bytes: Uint8Array): void {
    this.wills.set(link, bytes);
    if (this.isOpen && this.links.includes(link)) this.tellWill(link, bytes);
  }

  private tellWill(link: string, bytes: Uint8Array): void {
    this.socket?.send(JSON.stringify({ kind: 'will', link, bytes: [...bytes] }));
  }

  private tell(): void {
    this.round = (this.round + 1) % ROUNDS;
    this.links = this.places.map(([link]) => link);
    const places = this.places.map(([link, choice]) => ({
      ...choice,
      link,
      ...(choice.keys ? { strokes: this.owner.strokes(link) } : {}),
    }));
    this.socket?.send(JSON.stringify({ kind: 'places', round: this.round, places }));
    for (const link of this.links) {
      const will = this.wills.get(link);
      if (will && will.length > 0) this.tellWill(link, will);
    }
  }

  private connect(): void {
    const socket = this.open({
      opened: () => {
        if (this.socket !== socket) return;
        this.isOpen = true;
        this.wait = FIRST_WAIT_MS;
        this.tell();
      },
      text: (text) => this.hear(text),
      bytes: (bytes) => {
        const link = bytes[0] === this.round ? this.links[bytes[1]] : undefined;
        if (link !== undefined) this.owner.heard(link, bytes.subarray(NET_HEAD));
      },
      closed: () => {
        if (this.socket !== socket) return;
        this.socket = null;
        this.isOpen = false;
        this.owner.standing(
          this.places.map(([link]) => ({ link, hears: false, speaks: false, fault: AWAY })),
        );
        this.later(() => {
          if (!this.socket && this.places.length > 0) this.connect();
        }, this.wait);
        this.wait = Math.min(LONGEST_WAIT_MS, this.wait * 2);
      },
    });
    this.socket = socket;
  }

  private hear(text: string): void {
    const said = fromNetSchema.safeParse(JSON.parse(text));
    if (!said.success) return;
    if (said.data.kind === 'news') this.owner.news(said.data.news);
    // What is told of an earlier round may have opened what has been chosen anew since, and is closed yet.
    else if (said.data.round === this.round) this.owner.standing(said.data.standing);
  }
}
