import { promisify } from 'node:util';
import { deflateRaw, inflateRawSync } from 'node:zlib';
import type { Knex } from 'knex';
import { breathe } from './breathe.js';
import { thinned } from './thinning.js';
import { inTransaction } from './transaction.js';

/** The kinds of documents that are stored. Each has a table of its own and one of its revisions. */
export const KINDS = ['profile', 'surface', 'host', 'setup'] as const;
export type Kind = (typeof KINDS)[number];

export interface Summary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: string;
}

/** What a profile is made of, for its line in a list. */
export interface Holds {
  /** Models of its surfaces, in its order. */
  readonly surfaces: readonly string[];
  /** What its hosts are called. */
  readonly hosts: readonly string[];
  readonly bindings: number;
  readonly layers: number;
  /** Version of the format; one that is not known yet is of a newer Rondo. */
  readonly version: number;
}

export interface Stored extends Summary {
  /** The document as JSON text, byte for byte as it was saved. */
  readonly body: string;
}

interface Row {
  id: string;
  name: string;
  revision: number;
  updated_at: string;
}

interface RevisionRow {
  revision: number;
  /** JSON text; compressed (RFC 1951) where it is not the newest. */
  body: string | Buffer;
  saved_at: string;
  label: string | null;
}

const textOf = (body: string | Buffer): string =>
  typeof body === 'string' ? body : inflateRawSync(body).toString('utf8');

/** A revision in a list. */
export interface Version {
  readonly revision: number;
  /** ISO 8601. */
  readonly savedAt: string;
  /** What its maker called it; null where it was saved by itself. */
  readonly label: string | null;
}

const summary = (row: Row): Summary => ({
  id: row.id,
  name: row.name,
  revision: row.revision,
  updatedAt: row.updated_at,
});

/** Rows that one step of upkeep touches at most. */
const STEP = 25;
const deflate = promisify(deflateRaw);

export type SaveResult =
  | { readonly done: true; readonly revision: number; readonly updatedAt: string }
  | { readonly done: false; readonly why: 'missing' }
  | { readonly done: false; readonly why: 'stale'; readonly revision: number };

/** Documents of one kind and all their revisions. Each method is one transaction. */
export class DocumentStore {
  private readonly revisions: string;
  private readonly owner: string;

  constructor(
    private readonly db: Knex,
    readonly kind: Kind,
    private readonly now: () => string = () => new Date().toISOString(),
  ) {
    this.revisions = `${kind}_revision`;
    this.owner = `${kind}_id`;
  }

  async list(): Promise<(Summary & { readonly holds?: Holds })[]> {
    const rows = await this.db<Row>(this.kind)
      .whereNull('deleted_at')
      .orderBy('updated_at', 'desc');
    const holds = this.kind === 'profile' ? await holdsOf(this.db) : null;
    return rows.map((row) => {
      const its = holds?.get(row.id);
      return { ...summary(row), ...(its ? { holds: its } : {}) };
    });
  }

  /** A document at its newest revision, or at an earlier one. */
  async get(id: string, revision?: number): Promise<Stored | null> {
    const row = await this.db<Row>(this.kind).where({ id }).whereNull('deleted_at').first();
    if (!row) return null;
    const wanted = revision ?? row.revision;
    const kept = await this.db<RevisionRow>(this.revisions)
      .where({ [this.owner]: id, revision: wanted })
      .first();
    return kept ? { ...summary(row), revision: wanted, body: textOf(kept.body) } : null;
  }

  /** Stores a new document as revision 1; false where the id is taken, also by a deleted one. */
  async create(id: string, name: string, body: string): Promise<boolean> {
    return inTransaction(this.db, async (tx) => {
      if (await tx(this.kind).where({ id }).first()) return false;
      const now = this.now();
      await tx(this.kind).insert({ id, name, revision: 1, updated_at: now });
      await tx(this.revisions).insert({ [this.owner]: id, revision: 1, body, saved_at: now });
      return true;
    });
  }

  /** Stores a document whatever is there under its id: anew, as its next revision, or back from the bin. */
  async put(id: string, name: string, body: string): Promise<number> {
    return inTransaction(this.db, async (tx) => {
      const row = await tx<Row>(this.kind).where({ id }).first();
      const revision = (row?.revision ?? 0) + 1;
      const now = this.now();
      if (row)
        await tx(this.kind)
          .where({ id })
          .update({ name, revision, updated_at: now, deleted_at: null });
      else await tx(this.kind).insert({ id, name, revision, updated_at: now });
      await tx(this.revisions).insert({ [this.owner]: id, revision, body, saved_at: now });
      return revision;
    });
  }

  /** The revisions that are kept of a document, the newest first. */
  async versions(id: string): Promise<Version[]> {
    const rows = await this.db<RevisionRow>(this.revisions)
      .select('revision', 'saved_at', 'label')
      .where({ [this.owner]: id })
      .orderBy('revision', 'desc');
    return rows.map(({ revision, saved_at, label }) => ({ revision, savedAt: saved_at, label }));
  }

  /** Calls a revision by a name, or by none (null): what has a name is kept for good. False where it is not there. */
  async call(id: string, revision: number, label: string | null): Promise<boolean> {
    const count = await this.db(this.revisions)
      .where({ [this.owner]: id, revision })
      .update({ label });
    return count > 0;
  }

  /** Calls a revision by a name unless it has one. */
  async callUnnamed(id: string, revision: number, label: string): Promise<void> {
    await this.db(this.revisions)
      .where({ [this.owner]: id, revision, label: null })
      .update({ label });
  }

  /**
   * Compresses what is not the newest revision any more, and takes away what is too close to another for its age. In small
   * steps, each whole by itself, so that what else happens waits for none of them; where it is broken off, the next time goes
   * on.
   */
  async thin(now: Date): Promise<number> {
    let gone = 0;
    for (const { id, revision: last } of await this.db<Row>(this.kind).select('id', 'revision')) {
      const mine = () => this.db<RevisionRow>(this.revisions).where({ [this.owner]: id });
      const rows = await mine().select('revision', 'saved_at', 'label').orderBy('revision');
      const drop = thinned(
        rows.map((row) => ({ revision: row.revision, savedAt: row.saved_at, label: row.label })),
        last,
        now,
      );
      for (let from = 0; from < drop.length; from += STEP) {
        // It may have been given a name meanwhile.
        gone += await mine()
          .whereIn('revision', drop.slice(from, from + STEP))
          .whereNull('label')
          .delete();
        await breathe();
      }
      // Those that stay are small; the newest stays as text, which lists look into.
      const plain = await mine()
        .select('revision')
        .whereNot({ revision: last })
        .whereRaw(`typeof(body) = 'text'`);
      for (const { revision } of plain) {
        const kept = await mine().where({ revision }).first('body');
        if (!kept) continue;
        const body = await deflate(Buffer.from(textOf(kept.body)));
        await mine().where({ revision }).update({ body });
        await breathe();
      }
    }
    return gone;
  }

  /** What was deleted and can be brought back, the last one first. */
  async bin(): Promise<(Summary & { readonly deletedAt: string })[]> {
    const rows = await this.db<Row & { deleted_at: string }>(this.kind)
      .whereNotNull('deleted_at')
      .orderBy('deleted_at', 'desc');
    return rows.map((row) => ({ ...summary(row), deletedAt: row.deleted_at }));
  }

  /** Removes something from the bin for good, with all its revisions. False where it is not in there. */
  async purge(id: string): Promise<boolean> {
    return (await this.db(this.kind).where({ id }).whereNotNull('deleted_at').delete()) > 0;
  }

  /** Removes for good what was deleted before a time, in small steps. */
  async purgeBefore(time: string): Promise<number> {
    const old = await this.db<Row>(this.kind).where('deleted_at', '<', time).select('id');
    let gone = 0;
    for (const { id } of old) {
      const isBinned = this.db(this.kind).where({ id }).where('deleted_at', '<', time);
      const some = () =>
        this.db(this.revisions)
          .where({ [this.owner]: id })
          .whereExists(isBinned.clone())
          .select('revision')
          .limit(STEP);
      const step = async () =>
        this.db(this.revisions)
          .where({ [this.owner]: id })
          .whereIn('revision', some())
          .delete();
      // The last of them go with it.
      while ((await some()).length === STEP) {
        await step();
        await breathe();
      }
      gone += await isBinned.clone().delete();
      await breathe();
    }
    return gone;
  }

  /** Stores the next revision, if `base` is still the newest. */
  async save(id: string, base: number, name: string, body: string): Promise<SaveResult> {
    return inTransaction(this.db, async (tx): Promise<SaveResult> => {
      const row = await tx<Row>(this.kind).where({ id }).whereNull('deleted_at').first();
      if (!row) return { done: false, why: 'missing' };
      if (row.revision !== base) return { done: false, why: 'stale', revision: row.revision };
      const revision = base + 1;
      const now = this.now();
      await tx(this.revisions).insert({ [this.owner]: id, revision, body, saved_at: now });
      await tx(this.kind).where({ id }).update({ name, revision, updated_at: now });
      return { done: true, revision, updatedAt: now };
    });
  }

  /** Puts a document out of sight; {@link restore} brings it back. False where there is none. */
  async remove(id: string): Promise<boolean> {
    const count = await this.db(this.kind)
      .where({ id })
      .whereNull('deleted_at')
      .update({ deleted_at: this.now() });
    return count > 0;
  }

  /** Brings a deleted document back. False where none was deleted. */
  async restore(id: string): Promise<boolean> {
    const count = await this.db(this.kind)
      .where({ id })
      .whereNotNull('deleted_at')
      .update({ deleted_at: null });
    return count > 0;
  }
}

interface HoldsRow {
  id: string;
  surfaces: string;
  hosts: string;
  bindings: number | null;
  layers: number | null;
  version: unknown;
}

/** What every profile holds, read from its newest revision without taking it apart as a whole. */
async function holdsOf(db: Knex): Promise<Map<string, Holds>> {
  const named = (order: string, family: string, field: string) =>
    `(select json_group_array(json_extract(r.body, '$.${family}.' || json_quote(value) || '.${field}'))
        from json_each(r.body, '$.${order}'))`;
  const rows: HoldsRow[] = await db
    .select(
      'profile.id',
      db.raw(`${named('surfaceOrder', 'surfaces', 'model')} as surfaces`),
      db.raw(`${named('hostOrder', 'hosts', 'label')} as hosts`),
      db.raw(`json_array_length(r.body, '$.bindingOrder') as bindings`),
      db.raw(`json_array_length(r.body, '$.layerOrder') as layers`),
      db.raw(`json_extract(r.body, '$.version') as version`),
    )
    .from('profile')
    .joinRaw(
      'join profile_revision r on r.profile_id = profile.id and r.revision = profile.revision',
    )
    .whereNull('profile.deleted_at');
  const texts = (json: string) => (JSON.parse(json) as unknown[]).map((one) => String(one ?? ''));
  return new Map(
    rows.map(({ id, surfaces, hosts, bindings, layers, version }) => [
      id,
      {
        surfaces: texts(surfaces),
        hosts: texts(hosts),
        bindings: bindings ?? 0,
        layers: layers ?? 0,
        version: typeof version === 'number' ? version : 1,
      },
    ]),
  );
}

/** Entries of the newest revision of every profile that is there, under a path of its JSON. */
const entriesOf = (db: Knex, path: '$.surfaces' | '$.hosts') =>
  db
    .distinct('profile.name')
    .from(
      db.raw(
        `profile join profile_revision
           on profile_revision.profile_id = profile.id
          and profile_revision.revision = profile.revision,
         json_each(profile_revision.body, ?) as used`,
        [path],
      ),
    )
    .whereNull('profile.deleted_at')
    .orderBy('profile.name');

/** The profiles that use a surface or a host, by name. Deleted ones do not count. */
export async function profilesWith(
  db: Knex,
  kind: 'surface' | 'host',
  id: string,
): Promise<string[]> {
  const model = `json_extract(used.value, '$.model')`;
  const rows: { name: string }[] =
    kind === 'host'
      ? await entriesOf(db, '$.hosts').whereRaw(`${model} = ?`, [id])
      : [
          // Format 1 of the profile said stock.
          ...(await entriesOf(db, '$.surfaces').whereRaw(
            `coalesce(${model}, json_extract(used.value, '$.stock')) = ?`,
            [id],
          )),
          // A program may expect it: as:one+another.
          ...(await entriesOf(db, '$.hosts').whereRaw(
            `${model} like 'as:%' and instr('+' || substr(${model}, 4) || '+', '+' || ? || '+') > 0`,
            [id],
          )),
        ];
  return [...new Set(rows.map(({ name }) => name))];
}
