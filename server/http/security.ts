import { randomBytes } from 'node:crypto';
import type { Middleware } from 'koa';
import helmet from 'koa-helmet';
import { Problem } from './problem.js';

/** Names by which this machine may call itself; nothing else reaches the server. */
const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

const HTTP_PORT = 80;

/** Refuses requests for another host (DNS rebinding) and from another origin. */
export const onlyFromHere =
  (port: () => number): Middleware =>
  async (ctx, next) => {
    // Port 80 goes without saying (RFC 9110, 4.2.3), and browsers leave it out.
    const plain = port() === HTTP_PORT ? LOOPBACK : [];
    const hosts = [...LOOPBACK.map((name) => `${name}:${port()}`), ...plain];
    if (!hosts.includes(ctx.get('Host')))
      throw new Problem(403, 'Wrong host', 'Rondo answers on this machine only.');
    const origin = ctx.get('Origin');
    if (origin !== '' && !hosts.some((host) => origin === `http://${host}`))
      throw new Problem(403, 'Wrong origin', 'Rondo answers its own page only.');
    if (ctx.get('Sec-Fetch-Site') === 'cross-site' && ctx.method !== 'GET')
      throw new Problem(403, 'Wrong origin', 'Rondo answers its own page only.');
    await next();
  };

/** A fresh nonce for each answer, and a policy that allows nothing that Rondo does not ship. */
export const contentSecurity = (): Middleware => async (ctx, next) => {
  const nonce = randomBytes(16).toString('base64');
  ctx.state['nonce'] = nonce;
  await helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", `'nonce-${nonce}'`],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'self'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: false,
    xFrameOptions: { action: 'deny' },
  })(ctx, async () => {
    ctx.set('Permissions-Policy', 'midi=(self), camera=(), microphone=(), geolocation=()');
    await next();
  });
};
