import Sqlite from 'better-sqlite3';
import type { Knex } from 'knex';
import { KINDS, type Kind } from './documents.js';

interface Known {
  readonly kind: Kind;
  readonly id: string;
  readonly revision: number;
}

/** What a database keeps that outlives its being replaced by a backup. */
export interface Carried {
  /** What is set for this machine: network, devices that may come, keys. */
  readonly settings: readonly { readonly name: string; readonly value: string }[];
  readonly revisions: readonly Known[];
}

/** Reads what outlives a restore; nothing where the file cannot be read, as where damage is why it is replaced. */
export function carriedFrom(file: string): Carried {
  try {
    const db = new Sqlite(file, { readonly: true, fileMustExist: true });
    try {
      const all = <T>(query: string) => db.prepare(query).all() as T[];
      return {
        settings: all('select name, value from setting'),
        revisions: KINDS.flatMap((kind) =>
          all<Omit<Known, 'kind'>>(`select id, revision from ${kind}`).map((one) => ({
            kind,
            ...one,
          })),
        ),
      };
    } finally {
      db.close();
    }
  } catch {
    return { settings: [], revisions: [] };
  }
}

/**
 * Brings into a restored database what outlives that. What was set for this machine stays as it was: a device that was sent
 * away stays away. Revisions go on counting where they had come to, so that no number ever stands for two states, and who has
 * a later state open is told.
 */
export async function carryInto(db: Knex, { settings, revisions }: Carried): Promise<void> {
  await db.transaction(async (tx) => {
    if (settings.length > 0) {
      await tx('setting').delete();
      await tx('setting').insert([...settings]);
    }
    for (const { kind, id, revision } of revisions) {
      const row = (await tx(kind).where({ id }).first('revision')) as
        { revision: number } | undefined;
      if (!row || row.revision >= revision) continue;
      const [table, owner] = [`${kind}_revision`, `${kind}_id`];
      const newest = (await tx(table)
        .where({ [owner]: id, revision: row.revision })
        .first()) as Record<string, unknown> | undefined;
      if (!newest) continue;
      await tx(table).insert({ ...newest, revision: revision + 1, label: null });
      await tx(kind)
        .where({ id })
        .update({ revision: revision + 1 });
    }
  });
}
