import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { LONGEST_NET, LONGEST_PANEL } from '@rondo/core/wire';
import { isFromHere } from './security.js';

/** Sockets at once: windows and browsers of one machine. */
const MOST_SOCKETS = 32;

/** WebSockets of the engines in Rondo's own page, by what they come for. */
export class EngineSockets {
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: Math.max(LONGEST_NET, LONGEST_PANEL),
    perMessageDeflate: false,
  });

  /**
   * @param port of the server that they come to
   * @param ways who takes a socket, by path
   */
  constructor(
    private readonly port: () => number,
    private readonly ways: Readonly<Record<string, ((client: WebSocket) => void) | undefined>>,
  ) {}

  /** Takes what asks for a WebSocket on a server. */
  attach(server: Server): void {
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      const { host, origin } = request.headers;
      const path = (request.url ?? '').split('?')[0];
      // A WebSocket says its origin always (RFC 6455, 4.1).
      const isOurs = origin !== undefined && isFromHere(host ?? '', origin, this.port());
      const take = Object.hasOwn(this.ways, path) ? this.ways[path] : undefined;
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
