import type { Knex } from 'knex';
import type { Context } from 'koa';
import * as z from 'zod';
import { OtherRequestError, once, printOf, type Reply } from '@rondo/store';
import { Problem } from './problem.js';

/** A request's own id: a header that several programs share (Idempotency-Key, IETF draft). */
const KEY = 'Idempotency-Key';
const keySchema = z.string().regex(/^[\x21-\x7e]{8,100}$/);

/**
 * Does what a request asks for, once for each id of one, and answers.
 * @throws Problem where the id is none, or is that of another request
 */
export async function answerOnce(
  ctx: Context,
  db: Knex,
  work: (tx: Knex) => Promise<Reply>,
): Promise<Reply> {
  const sent = ctx.get(KEY);
  const key = keySchema.optional().safeParse(sent === '' ? undefined : sent);
  if (!key.success)
    throw new Problem(400, 'Request not understood', `${KEY} has 8 to 100 plain characters.`);
  const print = printOf(ctx.method, ctx.url, ctx.request.body);
  try {
    const reply = await once(db, key.data, print, work);
    ctx.status = reply.status;
    if (reply.location) ctx.set('Location', reply.location);
    if (reply.body !== null) {
      ctx.type = 'application/json';
      ctx.body = reply.body;
    }
    return reply;
  } catch (error) {
    if (!(error instanceof OtherRequestError)) throw error;
    throw new Problem(
      422,
      'Id of another request',
      `${KEY} was borne by another request. Give each one an id of its own.`,
    );
  }
}

export const json = (status: number, body: unknown): Reply => ({
  status,
  body: JSON.stringify(body),
});
export const NOTHING: Reply = { status: 204, body: null };
