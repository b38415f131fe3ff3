import type { Knex } from 'knex';
import { DocumentStore, KINDS } from './documents.js';

/** How long what was deleted can be brought back, days. */
const BIN_DAYS = 90;
/** Where so much of the file is empty it is written anew. */
const EMPTY_SHARE = 0.25;

/** Keeps a database small: old revisions are thinned and compressed, the bin is emptied by age, freed pages given back. */
export async function keepSmall(db: Knex, now: Date = new Date()): Promise<void> {
  const limit = new Date(now.getTime() - BIN_DAYS * 86_400_000).toISOString();
  for (const kind of KINDS) {
    const store = new DocumentStore(db, kind);
    await store.purgeBefore(limit);
    await store.thin(now);
  }
  const pragma = async (name: string): Promise<number> => {
    const rows: Record<string, number>[] = await db.raw(`PRAGMA ${name}`);
    return Object.values(rows[0] ?? {})[0] ?? 0;
  };
  const [free, all] = [await pragma('freelist_count'), await pragma('page_count')];
  if (free > EMPTY_SHARE * all) await db.raw('VACUUM');
}
