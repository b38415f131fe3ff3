import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { Duplex } from 'node:stream';
import Koa from 'koa';
import helmet from 'koa-helmet';
import serve from 'koa-static';
import { WebSocketServer } from 'ws';
import { LONGEST_FROM_GLASS } from '@rondo/core/wire';
import { isLoopback } from '../osc/places.js';
import type { GlassRelay } from './relay.js';

/** Where a glass speaks with Rondo. */
const SOCKET_PATH = '/glass/socket';
/** Sockets at once in all, and from one address: a tablet needs one, or two while its page loads anew. */
const MOST_GLASSES = 48;
export const MOST_BY_ADDRESS = 12;
const PORTS_TRIED = 20;

/**
 * The second listener: what tablets reach in the local network, and nothing else of Rondo. It is there only while the network
 * is switched on; it serves the few files of the glass page and one WebSocket.
 */
export class GlassListener {
  private server: Server | null = null;
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: LONGEST_FROM_GLASS,
    perMessageDeflate: false,
  });
  port = 0;

  /**
   * @param folder of the glass page's files
   * @param addresses by which this machine is called in the network
   */
  constructor(
    private readonly relay: GlassRelay,
    private readonly folder: string,
    private readonly addresses: () => readonly string[],
  ) {}

  get isOpen(): boolean {
    return this.server !== null;
  }

  /** The few files of the glass page. */
  private pages(): Koa {
    const app = new Koa();
    app.use(async (ctx, next) => {
      if (!this.isOurs(ctx.get('Host'))) ctx.throw(403);
      if (ctx.method !== 'GET' && ctx.method !== 'HEAD') ctx.throw(405);
      await next();
    });
    // A policy that allows nothing but these files and its own socket.
    app.use((ctx, next) =>
      helmet({
        contentSecurityPolicy: {
          useDefaults: false,
          directives: {
            defaultSrc: ["'none'"],
            scriptSrc: ["'self'"],
            styleSrc: ["'self'"],
            fontSrc: ["'self'"],
            connectSrc: [`ws://${ctx.get('Host')}`],
            baseUri: ["'none'"],
            formAction: ["'none'"],
            frameAncestors: ["'none'"],
          },
        },
        strictTransportSecurity: false,
        xFrameOptions: { action: 'deny' },
        // Both mean something in a secure context only, and this is none.
        crossOriginOpenerPolicy: false,
        originAgentCluster: false,
      })(ctx, next),
    );
    app.use(
      serve(this.folder, {
        index: 'index.html',
        setHeaders: (response) => response.setHeader('Cache-Control', 'no-store'),
      }),
    );
    // What a stranger asks amiss is no fault of ours.
    app.silent = true;
    return app;
  }

  /**
   * Opens at a port, or at the next that is free.
   * @throws where none is, or this machine has no such address
   * @param address of this machine; null for all that it has
   */
  async open(wanted: number, address: string | null): Promise<void> {
    if (this.server) return;
    const answer = this.pages().callback();
    const server = createServer((request, response) => void answer(request, response));
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      const { host = '', origin } = request.headers;
      const isMeant = request.url === SOCKET_PATH && this.isOurs(host);
      // A WebSocket says its origin always (RFC 6455, 4.1): our own page's, at this very address.
      const address = request.socket.remoteAddress ?? '';
      const hasRoom =
        this.relay.count() < MOST_GLASSES && this.relay.count(address) < MOST_BY_ADDRESS;
      if (!isMeant || origin !== `http://${host}` || !hasRoom) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, (client) =>
        this.relay.takeGlass(client, address),
      );
    });
    for (let port = wanted; ; port++) {
      if (await listen(server, port, address ?? '0.0.0.0')) break;
      if (port >= wanted + PORTS_TRIED) throw new Error('No port is free.');
    }
    const bound = server.address();
    this.port = bound && typeof bound === 'object' ? bound.port : wanted;
    this.server = server;
  }

  /** Closes it, and sends all who are there away. */
  close(): void {
    for (const client of this.sockets.clients) client.close(1001, 'The network was switched off');
    this.server?.close();
    this.server?.closeAllConnections();
    this.server = null;
    this.port = 0;
  }

  private isOurs(host: string): boolean {
    const [name] = host.split(':');
    const isHere = isLoopback(name) || name === 'localhost' || this.addresses().includes(name);
    return isHere && host === `${name}:${this.port}`;
  }
}

function listen(server: Server, port: number, address: string): Promise<boolean> {
  return new Promise((done, fail) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? done(false) : fail(error),
    );
    server.listen(port, address, () => {
      server.removeAllListeners('error');
      server.on('error', () => undefined);
      done(true);
    });
  });
}
