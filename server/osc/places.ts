import { createSocket, type Socket } from 'node:dgram';
import { lookup } from 'node:dns/promises';
import { isIP } from 'node:net';
import { inStream, openPacket, type NetPlace, type NetRefusal } from '@rondo/core/wire';

/** Messages that a place takes in a second; beyond that it would hold up everything else. */
export const MOST_PER_SECOND = 10_000;
/** Messages that wait for the time of their bundle at once. */
const MOST_WAITING = 4_096;

const LOOPBACK = '127.0.0.1';
const LOOPBACK_6 = '::1';
const EVERYWHERE = '0.0.0.0';
/** A machine without IPv6 has no such address to listen at. */
const NO_SUCH_FAMILY = new Set(['EADDRNOTAVAIL', 'EAFNOSUPPORT']);

export const isLoopback = (address: string): boolean =>
  address === '::1' || address.startsWith('127.') || address === '::ffff:127.0.0.1';

/** What a place tells whoever has it. */
export interface PlaceOwner {
  /** A message has come, with its length before it. */
  heard(bytes: Uint8Array): void;
  /** Something was not taken. */
  refused(why: NetRefusal, from: string): void;
}

/** Whether other machines may be reached, and may reach. */
export interface Openness {
  readonly isOpen: boolean;
}

/** Why a port cannot be listened on, in a sentence. */
function faultOf(port: number, error: NodeJS.ErrnoException): string {
  if (error.code === 'EADDRINUSE')
    return `Another program listens on UDP port ${port} already. Close it, or choose another port.`;
  if (error.code === 'EACCES')
    return `This machine does not let Rondo listen on UDP port ${port}. Choose one above 1023.`;
  return `UDP port ${port} cannot be listened on (${error.code ?? error.message}). Choose another.`;
}

interface SharedPort {
  /** The one that answers go out of. */
  readonly socket: Socket;
  /** The other family of `localhost`, where this machine has it. */
  readonly also: Socket;
  readonly ready: Promise<string>;
  readonly users: Set<Place>;
}

/**
 * UDP ports that are listened on: several places may share one, and each hears those whom it knows. Programs on this machine
 * may mean either family when they send to `localhost` (RFC 6761, 6.3).
 */
export class UdpPorts {
  private readonly open = new Map<number, SharedPort>();

  constructor(private readonly openness: Openness) {}

  /** A place listens on a port; resolves to what is wrong, '' for nothing. */
  join(port: number, place: Place): Promise<string> {
    let shared = this.open.get(port);
    if (!shared) {
      const users = new Set<Place>();
      const socket = createSocket('udp4');
      const also = createSocket({ type: 'udp6', ipv6Only: true });
      const ready = Promise.all([
        bound(socket, port, this.openness.isOpen ? EVERYWHERE : LOOPBACK),
        bound(also, port, LOOPBACK_6),
      ]).then(([fault, other]) => {
        const wrong = fault ?? (other && !NO_SUCH_FAMILY.has(other.code ?? '') ? other : null);
        if (!wrong) return '';
        if (this.open.get(port)?.socket === socket) this.open.delete(port);
        closeBoth(socket, also);
        return faultOf(port, wrong);
      });
      for (const one of [socket, also])
        one.on('message', (packet, { address }) => {
          const known = [...users].filter((user) => user.knows(address));
          // Whoever listens is told of a stranger, so that it can be let in.
          for (const user of known.length > 0 ? known : users) user.take(packet, address);
        });
      shared = { socket, also, ready, users };
      this.open.set(port, shared);
    }
    shared.users.add(place);
    return shared.ready;
  }

  /** The socket of a port that is listened on. */
  socketOf(port: number): Socket | undefined {
    return this.open.get(port)?.socket;
  }

  leave(port: number, place: Place): void {
    const shared = this.open.get(port);
    if (!shared?.users.delete(place) || shared.users.size > 0) return;
    this.open.delete(port);
    closeBoth(shared.socket, shared.also);
  }
}

/** Listens; what is wrong, null for nothing. */
function bound(
  socket: Socket,
  port: number,
  address: string,
): Promise<NodeJS.ErrnoException | null> {
  return new Promise((done) => {
    socket.once('error', done);
    socket.on('error', () => undefined);
    socket.bind(port, address, () => done(null));
  });
}

function closeBoth(...sockets: readonly Socket[]): void {
  for (const socket of sockets)
    try {
      socket.close();
    } catch {
      // It has never been open.
    }
}

/** One end of an OSC link: what comes on its port from those it knows, and where it sends to. */
export class Place {
  private target: { readonly address: string; readonly port: number } | null = null;
  private speaker: Socket | null = null;
  private readonly waiting = new Set<NodeJS.Timeout>();
  private allowance = MOST_PER_SECOND;
  private refilledAt = performance.now();
  private readonly friends = new Set<string>();
  private isClosed = false;
  private underway = 0;

  constructor(
    private readonly place: NetPlace,
    private readonly ports: UdpPorts,
    private readonly openness: Openness,
    private readonly owner: PlaceOwner,
  ) {}

  /** Listens, and finds where to send to. */
  async start(): Promise<{ hears: boolean; speaks: boolean; fault: string }> {
    const faults: string[] = [];
    const { listen, to, from } = this.place;
    let hears = false;
    if (listen !== null) {
      const fault = await this.ports.join(listen, this);
      if (fault) faults.push(fault);
      hears = fault === '';
    }
    for (const friend of from) this.friends.add((await addressOf(friend)) ?? friend);
    if (to) {
      const address = await addressOf(to.host);
      if (address === null)
        faults.push(
          `There is no machine called “${to.host}” here. Write its address, as 192.168.1.20.`,
        );
      else if (!this.openness.isOpen && !isLoopback(address))
        faults.push(
          `${to.host} is another machine, and the network is switched off. Switch it on under Network first.`,
        );
      else {
        this.target = { address, port: to.port };
        this.friends.add(address);
      }
    }
    if (this.isClosed) this.stop();
    return { hears, speaks: this.target !== null, fault: faults.join(' ') };
  }

  /** Whether what comes from an address is for this place. */
  knows(address: string): boolean {
    return isLoopback(address) || (this.openness.isOpen && this.friends.has(address));
  }

  /** A datagram has come. */
  take(packet: Uint8Array, from: string): void {
    if (!this.knows(from)) return this.owner.refused('stranger', from);
    this.refill();
    if (this.allowance < 1) return this.owner.refused('tooFast', from);
    const { messages, refused } = openPacket(packet, Date.now() * 1_000);
    for (const why of refused) this.owner.refused(why, from);
    this.allowance -= Math.max(1, messages.length);
    for (const { bytes, wait } of messages) {
      if (wait < 1_000) this.owner.heard(inStream(bytes));
      else if (this.waiting.size >= MOST_WAITING) this.owner.refused('tooMany', from);
      else this.later(bytes.slice(), wait);
    }
  }

  private refill(): void {
    const now = performance.now();
    const more = ((now - this.refilledAt) / 1_000) * MOST_PER_SECOND;
    this.allowance = Math.min(MOST_PER_SECOND, this.allowance + more);
    this.refilledAt = now;
  }

  /** A message acts at the time of its bundle. */
  private later(bytes: Uint8Array, wait: number): void {
    const timer = setTimeout(() => {
      this.waiting.delete(timer);
      this.owner.heard(inStream(bytes));
    }, wait / 1_000);
    this.waiting.add(timer);
  }

  /** Sends a packet: from the port that it listens on, where it does, so that an answer finds it. */
  send(packet: Uint8Array): void {
    const { target } = this;
    if (!target) return;
    const own = this.place.listen === null ? undefined : this.ports.socketOf(this.place.listen);
    const socket = own ?? (this.speaker ??= createSocket('udp4').on('error', () => undefined));
    // A program that is not there says so for each packet; that is its state and no fault of ours.
    this.underway++;
    socket.send(packet, target.port, target.address, () => {
      this.underway--;
      if (this.isClosed && this.underway === 0) this.leave();
    });
  }

  stop(): void {
    this.isClosed = true;
    this.target = null;
    if (this.underway === 0) this.leave();
    for (const timer of this.waiting) clearTimeout(timer);
    this.waiting.clear();
  }

  /** Closes what it has open, once all that it sent has left. */
  private leave(): void {
    if (this.place.listen !== null) this.ports.leave(this.place.listen, this);
    this.speaker?.close();
    this.speaker = null;
  }
}

/** The IPv4 address of a machine; null where there is none of that name. */
async function addressOf(host: string): Promise<string | null> {
  if (isIP(host) === 4) return host;
  if (isIP(host) === 6) return null;
  return lookup(host, { family: 4 }).then(
    ({ address }) => address,
    () => null,
  );
}
