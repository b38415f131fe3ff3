import type { Knex } from 'knex';

export interface ProfileSummary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: string;
}

export interface StoredProfile extends ProfileSummary {
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
  profile_id: string;
  revision: number;
  body: string;
}

const summary = (row: Row): ProfileSummary => ({
  id: row.id,
  name: row.name,
  revision: row.revision,
  updatedAt: row.updated_at,
});

export type SaveResult =
  | { readonly done: true; readonly revision: number; readonly updatedAt: string }
  | { readonly done: false; readonly why: 'missing' }
  | { readonly done: false; readonly why: 'stale'; readonly revision: number };

/** Profiles and all their revisions. Each method is one transaction. */
export class ProfileStore {
  constructor(
    private readonly db: Knex,
    private readonly now: () => string = () => new Date().toISOString(),
  ) {}

  async list(): Promise<ProfileSummary[]> {
    const rows = await this.db<Row>('profile')
      .whereNull('deleted_at')
      .orderBy('updated_at', 'desc');
    return rows.map(summary);
  }

  /** A profile at its newest revision, or at an earlier one. */
  async get(id: string, revision?: number): Promise<StoredProfile | null> {
    const row = await this.db<Row>('profile').where({ id }).whereNull('deleted_at').first();
    if (!row) return null;
    const wanted = revision ?? row.revision;
    const kept = await this.db<RevisionRow>('profile_revision')
      .where({ profile_id: id, revision: wanted })
      .first();
    return kept ? { ...summary(row), revision: wanted, body: kept.body } : null;
  }

  /** Stores a new profile as revision 1; false where the id is taken, also by a deleted one. */
  async create(id: string, name: string, body: string): Promise<boolean> {
    return this.db.transaction(async (tx) => {
      if (await tx('profile').where({ id }).first()) return false;
      const now = this.now();
      await tx('profile').insert({ id, name, revision: 1, updated_at: now });
      await tx('profile_revision').insert({ profile_id: id, revision: 1, body, saved_at: now });
      return true;
    });
  }

  /** Stores the next revision, if `base` is still the newest. */
  async save(id: string, base: number, name: string, body: string): Promise<SaveResult> {
    return this.db.transaction(async (tx): Promise<SaveResult> => {
      const row = await tx<Row>('profile').where({ id }).whereNull('deleted_at').first();
      if (!row) return { done: false, why: 'missing' };
      if (row.revision !== base) return { done: false, why: 'stale', revision: row.revision };
      const revision = base + 1;
      const now = this.now();
      await tx('profile_revision').insert({ profile_id: id, revision, body, saved_at: now });
      await tx('profile').where({ id }).update({ name, revision, updated_at: now });
      return { done: true, revision, updatedAt: now };
    });
  }

  /** Puts a profile out of sight; {@link restore} brings it back. False where there is none. */
  async remove(id: string): Promise<boolean> {
    const count = await this.db('profile')
      .where({ id })
      .whereNull('deleted_at')
      .update({ deleted_at: this.now() });
    return count > 0;
  }

  /** Brings a deleted profile back. False where none was deleted. */
  async restore(id: string): Promise<boolean> {
    const count = await this.db('profile')
      .where({ id })
      .whereNotNull('deleted_at')
      .update({ deleted_at: null });
    return count > 0;
  }
}
