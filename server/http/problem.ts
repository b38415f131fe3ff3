import type { Middleware } from 'koa';
import type { Fault } from '@rondo/core/document';
import { BusyError } from '@rondo/store';

/** An error answer as problem details, RFC 9457. */
export class Problem extends Error {
  /**
   * @param status HTTP status
   * @param title what happened, in a few words
   * @param detail what to do about it
   * @param more further members, such as the faults of a document
   */
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly more: { readonly faults?: readonly Fault[]; readonly revision?: number } = {},
  ) {
    super(title);
  }
}

interface HttpLike {
  status?: unknown;
  code?: unknown;
  expose?: unknown;
  message?: unknown;
}

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof BusyError)
    return new Problem(503, 'A backup is being restored', 'Try again in a moment.');
  const { status, message, code } = error as HttpLike;
  // RFC 4918, section 11.5.
  if (code === 'SQLITE_FULL' || code === 'ENOSPC')
    return new Problem(
      507,
      'No room left',
      'There is no room left where Rondo keeps its data. Nothing that was there is changed. Make room on that disk.',
    );
  if (status === 413)
    return new Problem(
      413,
      'Too large',
      'It is larger than Rondo takes: 4 MB for a document, 64 MB for a file.',
    );
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Problem(status, 'Request not understood', String(message));
  return new Problem(
    500,
    'Rondo failed',
    'Something went wrong inside the server; its log says what.',
  );
}

/** Turns every error into problem details; unexpected ones are handed to `report`. */
export const problems =
  (report: (error: unknown) => void): Middleware =>
  async (ctx, next) => {
    try {
      await next();
      if (ctx.body !== undefined && ctx.body !== null) return;
      if (ctx.status === 404)
        throw new Problem(404, 'Not found', `There is nothing at ${ctx.path}.`);
      if (ctx.status === 405 || ctx.status === 501)
        throw new Problem(
          ctx.status,
          'Not a way to ask',
          `${ctx.method} is not known at ${ctx.path}; what is stands in the header Allow.`,
        );
    } catch (error) {
      const problem = asProblem(error);
      if (problem.status >= 500) report(error);
      ctx.status = problem.status;
      ctx.body = JSON.stringify({
        type: 'about:blank',
        title: problem.title,
        status: problem.status,
        detail: problem.detail,
        ...problem.more,
      });
      ctx.type = 'application/problem+json';
    }
  };
