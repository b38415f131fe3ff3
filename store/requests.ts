import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { breathe } from './breathe.js';
import { inTransaction } from './transaction.js';

/** How long a request that was done is remembered, days: longer than a page that waits for its answer stays open. */
const REMEMBERED_DAYS = 30;
/** Rows that are forgotten in one step. */
const STEP = 50;

/** What was answered to a request that changed something. */
export interface Reply {
  readonly status: number;
  /** JSON text; null where nothing is said. */
  readonly body: string | null;
  readonly location?: string;
}

interface Row {
  id: string;
  print: string;
  status: number;
  body: string | null;
  location: string | null;
}

/** A request bears the id of another one. */
export class OtherRequestError extends Error {}

/** What a request asks for, in short: two that ask for the same have the same. */
export const printOf = (method: string, path: string, body: unknown): string =>
  createHash('sha256')
    .update(`${method} ${path}\n${JSON.stringify(body) ?? ''}`)
    .digest('hex');

/**
 * Does what a request asks for, once: one that comes again, because its answer was lost, gets the same answer and changes
 * nothing. What is done and that it was done are one transaction.
 * @param id the request's own id; undefined where it has none, and then it is done each time
 * @param print what it asks for, by {@link printOf}
 * @param work does it; where it throws nothing is changed and nothing remembered
 * @throws OtherRequestError where the id was borne by a request for something else
 */
export async function once(
  db: Knex,
  id: string | undefined,
  print: string,
  work: (tx: Knex) => Promise<Reply>,
): Promise<Reply> {
  return inTransaction(db, async (tx) => {
    if (id === undefined) return work(tx);
    const known = await tx<Row>('request').where({ id }).first();
    if (known) {
      if (known.print !== print) throw new OtherRequestError();
      const { status, body, location } = known;
      return { status, body, ...(location === null ? {} : { location }) };
    }
    const reply = await work(tx);
    await tx('request').insert({
      id,
      print,
      status: reply.status,
      body: reply.body,
      location: reply.location ?? null,
      done_at: new Date().toISOString(),
    });
    return reply;
  });
}

/** Forgets requests that nobody waits for any more, some at a time. */
export async function forgetRequests(db: Knex, now: Date = new Date()): Promise<void> {
  const since = new Date(now.getTime() - REMEMBERED_DAYS * 24 * 3_600_000).toISOString();
  const old = () => db('request').where('done_at', '<', since).select('id').limit(STEP);
  while ((await db('request').whereIn('id', old()).delete()) > 0) await breathe();
}
