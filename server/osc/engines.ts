import type { RawData, WebSocket } from 'ws';
import {
  NET_HEAD,
  OscStream,
  netStretch,
  toNetSchema,
  type FromNet,
  type NetNews,
  type NetPlace,
  type NetRefusal,
} from '@rondo/core/wire';
import type { KeyAdapter } from '../keys/adapter.js';
import { KeyPlace } from '../keys/key-place.js';
import { Place, UdpPorts, type Openness } from './places.js';

/** How often what was refused is told, ms. */
const NEWS_EVERY_MS = 300;
/** How often a port that could not be had is tried again, ms. */
const RETRY_MS = 1_500;
/** What waits to be taken by an engine, in bytes, before more is left out. */
const MOST_UNREAD = 1 << 20;

interface OpenPlace {
  readonly one: NetPlace;
  /** What was said of it, to be known again. */
  readonly as: string;
  readonly place: Place | KeyPlace;
  readonly stream: OscStream;
  readonly started: Promise<{ hears: boolean; speaks: boolean; fault: string }>;
  isFaulty: boolean;
}

/** One engine's places and its socket. */
class EngineNet {
  private round = -1;
  private places: OpenPlace[] = [];
  private links: string[] = [];
  /** How the places stood when it was told last. */
  private told = '';
  private retry: NodeJS.Timeout | undefined;
  /** What releases what is held on a link, where anything is. */
  private readonly wills = new Map<string, Uint8Array>();
  private readonly news = new Map<string, NetNews>();
  private readonly timer = setInterval(() => this.tellNews(), NEWS_EVERY_MS);

  constructor(
    private readonly socket: WebSocket,
    private readonly ports: UdpPorts,
    private readonly openness: Openness,
    private readonly adapter: KeyAdapter,
    private readonly changed: () => void,
  ) {
    socket.on('message', (data, isBinary) => {
      if (isBinary) this.bytes(data);
      else this.text(data);
    });
    socket.on('close', () => this.end());
    socket.on('error', () => socket.terminate());
  }

  private text(data: RawData): void {
    const said = toNetSchema.safeParse(readJson(data));
    // Only our own page comes here; what it does not say so is a mistake of ours.
    if (!said.success) return this.socket.close(1007, 'Not understood');
    if (said.data.kind === 'will') {
      this.wills.set(said.data.link, Uint8Array.from(said.data.bytes));
      return;
    }
    const { places, round } = said.data;
    const before = this.places;
    this.round = round;
    this.told = '';
    this.links = places.map(({ link }) => link);
    for (const link of this.wills.keys()) if (!this.links.includes(link)) this.wills.delete(link);
    this.places = places.map((one) => {
      const as = JSON.stringify(one);
      // What is as it was goes on: nobody's traffic is broken off by an edit of another.
      return before.find((known) => known.as === as && !known.isFaulty) ?? this.make(one, as);
    });
    for (const known of before) if (!this.places.includes(known)) known.place.stop();
    this.changed();
    void this.start(round);
  }

  private make(one: NetPlace, as: string): OpenPlace {
    const refused = (why: NetRefusal, from: string) => this.refuse(one.link, why, from);
    const place = one.keys
      ? new KeyPlace(one, this.adapter, refused)
      : new Place(one, this.ports, this.openness, {
          heard: (bytes) => this.hear(made, bytes),
          refused,
        });
    const stream = new OscStream((bytes, from, to) => place.send(bytes.subarray(from, to)));
    const made: OpenPlace = { one, as, place, stream, started: place.start(), isFaulty: false };
    return made;
  }

  private async start(round: number): Promise<void> {
    const { links, places } = this;
    const standing = await Promise.all(
      places.map(async (made, at) => {
        const how = await made.started;
        made.isFaulty = how.fault !== '';
        return { link: links[at], ...how };
      }),
    );
    if (round !== this.round) return;
    const told = JSON.stringify(standing);
    if (told !== this.told) this.tell({ kind: 'standing', round, standing });
    this.told = told;
    clearTimeout(this.retry);
    if (places.some(({ isFaulty }) => isFaulty))
      this.retry = setTimeout(() => this.tryAgain(round), RETRY_MS);
  }

  /** A key adapter has come or gone. */
  adapterChanged(): void {
    this.tryAgain(this.round, ({ one }) => one.keys !== undefined);
  }

  /** Chords that its places may press. */
  get chords(): (readonly string[])[] {
    return this.places.flatMap(({ place }) => (place instanceof KeyPlace ? place.chords : []));
  }

  /** A port that another program had is taken as soon as it is free. */
  private tryAgain(round: number, isMeant: (known: OpenPlace) => boolean = () => false): void {
    if (round !== this.round || round < 0) return;
    this.places = this.places.map((known) => {
      if (!known.isFaulty && !isMeant(known)) return known;
      known.place.stop();
      return this.make(known.one, known.as);
    });
    void this.start(round);
  }

  private bytes(data: RawData): void {
    const bytes = Array.isArray(data) ? Buffer.concat(data) : new Uint8Array(data as ArrayBuffer);
    if (bytes[0] !== this.round) return;
    this.places[bytes[1]]?.stream.feed(bytes, NET_HEAD, bytes.length);
  }

  private hear(place: OpenPlace, bytes: Uint8Array): void {
    const at = this.places.indexOf(place);
    if (at >= 0 && this.socket.bufferedAmount < MOST_UNREAD)
      this.socket.send(netStretch(this.round, at, bytes));
  }

  private refuse(link: string, why: NetRefusal, from: string): void {
    const key = `${link} ${why}`;
    const count = (this.news.get(key)?.count ?? 0) + 1;
    this.news.set(key, { link, why, from, count });
  }

  private tellNews(): void {
    if (this.news.size === 0) return;
    this.tell({ kind: 'news', news: [...this.news.values()] });
    this.news.clear();
  }

  private tell(message: FromNet): void {
    if (this.socket.readyState === this.socket.OPEN) this.socket.send(JSON.stringify(message));
  }

  private forget(): void {
    for (const { place } of this.places) place.stop();
    this.places = [];
  }

  /** The engine is gone: what it held is released before its places end. */
  end(): void {
    clearInterval(this.timer);
    clearTimeout(this.retry);
    this.round = -1;
    this.places.forEach(({ stream }, at) => {
      const will = this.wills.get(this.links[at]);
      if (will) stream.feed(will, 0, will.length);
    });
    this.forget();
  }
}

function readJson(data: RawData): unknown {
  try {
    return JSON.parse(String(data));
  } catch {
    return undefined;
  }
}

/** Lets engines of Rondo's own page send and hear OSC over UDP, and press keys by the adapter. */
export class OscEngines {
  private readonly clients = new Map<WebSocket, EngineNet>();
  private readonly ports: UdpPorts;

  constructor(
    private readonly openness: Openness,
    private readonly adapter: KeyAdapter,
  ) {
    this.ports = new UdpPorts(openness);
  }

  /** An engine has come. */
  take(client: WebSocket): void {
    const changed = () => this.allow();
    this.clients.set(
      client,
      new EngineNet(client, this.ports, this.openness, this.adapter, changed),
    );
    client.on('close', () => {
      this.clients.delete(client);
      this.allow();
    });
  }

  private allow(): void {
    this.adapter.allow([...this.clients.values()].flatMap(({ chords }) => chords));
  }

  /** A key adapter has come or gone. */
  adapterChanged(): void {
    for (const net of this.clients.values()) net.adapterChanged();
  }

  /** Lets go of what every engine holds, as when there is no more time. */
  letGo(): void {
    for (const net of this.clients.values()) net.end();
  }

  /** The network was switched: engines come again and open their ports anew. */
  reopen(): void {
    for (const client of this.clients.keys()) client.close(1012, 'The network was switched');
  }
}
