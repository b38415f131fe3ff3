import { randomBytes } from 'node:crypto';
import type { Middleware } from 'koa';
import helmet from 'koa-helmet';
import { Problem } from './problem.js';

/** Names by which this machine may call itself; nothing else reaches the server. */
const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

const HTTP_PORT = 80;

/** The hosts under which this server is asked for. */
function hostsOf(port: number): string[] {
  // Port 80 goes without saying (RFC 9110, 4.2.3), and browsers leave it out.
  const plain = port === HTTP_PORT ? LOOPBACK : [];
  return [...LOOPBACK.map((name) => `${name}:${port}`), ...plain];
}

/** Whether a request is for this server and from its own page; an origin of '' is none. */
export function isFromHere(host: string, origin: string, port: number): boolean {
  const hosts = hostsOf(port);
  return hosts.includes(host) && (origin === '' || hosts.some((one) => origin === `http://${one}`));
}

/** Refuses requests for another host (DNS rebinding) and from another origin. */
export const onlyFromHere =
  (port: () => number): Middleware =>
  async (ctx, next) => {
    if (!isFromHere(ctx.get('Host'), '', port()))
      throw new Problem(403, 'Wrong host', 'Rondo answers on this machine only.');
    if (!isFromHere(ctx.get('Host'), ctx.get('Origin'), port()))
      throw new Problem(403, 'Wrong origin', 'Rondo answers its own page only.');
    if (ctx.get('Sec-Fetch-Site') === 'cross-site' && ctx.method !== 'GET')
      throw new Problem(403, 'Wrong origin', 'Rondo answers its own page only.');
    await next();
  };

/** The page that holds the MIDI ports, and nothing else: it is framed by Rondo's own page, under the other name. */
export const MIDI_FRAME = '/midi';

/** The names that take turns: the page is under one, the frame that it opens under the other. */
const OTHER: Readonly<Record<string, string>> = {
  '127.0.0.1': 'localhost',
  localhost: '127.0.0.1',
};

/** Where a page of this host finds the frame, and the frame its page: another site for the browser. */
function otherOrigin(host: string, port: number): string | null {
  const other = OTHER[host.replace(/:\d+$/, '')];
  if (other === undefined) return null;
  return port === HTTP_PORT ? `http://${other}` : `http://${other}:${port}`;
}

/**
 * A fresh nonce for each answer, and a policy that allows nothing that Rondo does not ship. Only the frame of the MIDI
 * ports may be framed, and by the page only.
 */
export const contentSecurity =
  (port: () => number, holdsLocalhost: () => boolean): Middleware =>
  async (ctx, next) => {
    const nonce = randomBytes(16).toString('base64');
    ctx.state['nonce'] = nonce;
    const other = holdsLocalhost() ? otherOrigin(ctx.get('Host'), port()) : null;
    const isFrame = ctx.path === MIDI_FRAME && other !== null;
    await helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: isFrame
          ? {
              defaultSrc: ["'none'"],
              scriptSrc: ["'self'"],
              baseUri: ["'none'"],
              formAction: ["'none'"],
              frameAncestors: [other],
            }
          : {
              defaultSrc: ["'none'"],
              scriptSrc: ["'self'"],
              styleSrc: ["'self'", `'nonce-${nonce}'`],
              fontSrc: ["'self'"],
              imgSrc: ["'self'", 'data:'],
              connectSrc: ["'self'"],
              workerSrc: ["'self'"],
              manifestSrc: ["'self'"],
              ...(other === null ? {} : { frameSrc: [`${other}${MIDI_FRAME}`] }),
              baseUri: ["'self'"],
              formAction: ["'none'"],
              frameAncestors: ["'none'"],
            },
      },
      strictTransportSecurity: false,
      xFrameOptions: isFrame ? false : { action: 'deny' },
    })(ctx, async () => {
      const midi = isFrame || other === null ? 'midi=(self)' : `midi=(self "${other}")`;
      ctx.set('Permissions-Policy', `${midi}, camera=(), microphone=(), geolocation=()`);
      await next();
    });
  };
