import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { LONGEST_NET, LONGEST_PANEL } from '@rondo/core/wire';
import { isFromHere } from './security.js';

/** Sockets at once: windows and browsers of one machine, each with a few. */
const MOST_SOCKETS = 128;

/** WebSockets of Rondo's own page, by what they come for. */
export class EngineSockets {
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: Math.max(LONGEST_NET, LONGEST_PANEL),
    perMessageDeflate: false,
  });

  /**
   * @param port of the server that they come to
   * @param ways who takes a socket of the page, by path
   * @param programs who takes one of a program of this machine, by path: it proves itself, and is no page
   */
  constructor(
    private readonly port: () => number,
    private readonly ways: Readonly<Record<string, ((client: WebSocket) => void) | undefined>>,
    private readonly programs: typeof ways = {},
  ) {}

  /** Takes what asks for a WebSocket on a server. */
  attach(server: Server): void {
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      const { host, origin } = request.headers;
      const path = (request.url ?? '').split('?')[0];
      const isOurs = isFromHere(host ?? '', origin ?? '', this.port());
      // A browser says the origin of a page always (RFC 6455, 4.1), a program that is none does not.
      const known = origin === undefined ? this.programs : this.ways;
      const take = Object.hasOwn(known, path) ? known[path] : undefined;
      if (!take || !isOurs || this.sockets.clients.size >= MOST_SOCKETS) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, take);
    });
  }

  close(): void {
    for (const client of this.sockets.clients) client.terminate();
    this.sockets.close();
  }
}
