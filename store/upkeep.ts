import type Sqlite from 'better-sqlite3';
import type { Knex } from 'knex';
import { breathe } from './breathe.js';
import { DocumentStore, KINDS } from './documents.js';
import { forgetRequests } from './requests.js';

/** How long what was deleted can be brought back, days. */
const BIN_DAYS = 90;
/** Pages that are given back to the disk in one step, of four kilobytes each. */
const PAGES = 64;

/** Keeps a database small: old revisions are thinned and compressed, the bin is emptied by age, freed pages given back. */
export async function keepSmall(db: Knex, now: Date = new Date()): Promise<void> {
  const limit = new Date(now.getTime() - BIN_DAYS * 86_400_000).toISOString();
  for (const kind of KINDS) {
    const store = new DocumentStore(db, kind);
    await store.purgeBefore(limit);
    await store.thin(now);
  }
  await forgetRequests(db);
  // It ends where no more can be given back, too.
  for (let left = Infinity, before; ; before = left) {
    left = await giveBack(db);
    if (left === 0 || left === before) return;
    await breathe();
  }
}

/** Gives some free pages back to the disk; how many are left. The query builder would step it once only. */
async function giveBack(db: Knex): Promise<number> {
  const connection = (await db.client.acquireConnection()) as Sqlite.Database;
  try {
    connection.pragma(`incremental_vacuum(${PAGES})`);
    return Number(connection.pragma('freelist_count', { simple: true }));
  } finally {
    await db.client.releaseConnection(connection);
  }
}
