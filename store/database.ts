import { existsSync } from 'node:fs';
import Sqlite from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { lantern, placard } from '@rondo/core/host';
import { farShore, neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';

type Migration = Knex.Migration & { readonly name: string };

/** A table of documents and one of all their revisions. */
async function createTables(db: Knex, kind: string): Promise<void> {
  await db.schema.createTable(kind, (table) => {
    table.text('id').primary();
    table.text('name').notNullable();
    table.integer('revision').notNullable();
    table.text('updated_at').notNullable();
    table.text('deleted_at');
  });
  await db.schema.createTable(`${kind}_revision`, (table) => {
    table.text(`${kind}_id`).notNullable().references(`${kind}.id`).onDelete('CASCADE');
    table.integer('revision').notNullable();
    table.text('body').notNullable();
    table.text('saved_at').notNullable();
    table.primary([`${kind}_id`, 'revision']);
  });
}

async function addDemo(
  db: Knex,
  demo: { readonly id: string; readonly name: string },
  kind = 'profile',
): Promise<void> {
  // Somebody may have an id like it already.
  if (await db(kind).where({ id: demo.id }).first()) return;
  const now = new Date().toISOString();
  await db(kind).insert({ id: demo.id, name: demo.name, revision: 1, updated_at: now });
  await db(`${kind}_revision`).insert({
    [`${kind}_id`]: demo.id,
    revision: 1,
    body: JSON.stringify(demo),
    saved_at: now,
  });
}

/** Brings a demo up to date where it is still as it was made. */
async function renewDemo(db: Knex, demo: Profile): Promise<void> {
  const row = (await db('profile').where({ id: demo.id, revision: 1 }).first()) as unknown;
  if (!row) return;
  await db('profile_revision')
    .where({ profile_id: demo.id, revision: 1 })
    .update({ body: JSON.stringify(demo), saved_at: new Date().toISOString() });
}

/** The migrations in order. Their count is the database's version. Never change one that has shipped. */
const MIGRATIONS: readonly Migration[] = [
  {
    name: '001_profiles',
    async up(db) {
      await createTables(db, 'profile');
      await addDemo(db, nineFerriesMix());
    },
    async down(db) {
      await db.schema.dropTable('profile_revision').dropTable('profile');
    },
  },
  {
    name: '002_surfaces',
    async up(db) {
      await createTables(db, 'surface');
    },
    async down(db) {
      await db.schema.dropTable('surface_revision').dropTable('surface');
    },
  },
  {
    name: '003_neap_rink',
    async up(db) {
      await addDemo(db, neapRink());
    },
    async down(db) {
      await db('profile').where({ id: neapRink().id }).delete();
    },
  },
  {
    name: '004_complete_demos',
    async up(db) {
      await renewDemo(db, nineFerriesMix());
      await renewDemo(db, neapRink());
    },
    async down() {
      // The demos may stay as they are: every earlier version reads what it knows of them.
    },
  },
  {
    name: '005_hosts',
    async up(db) {
      await createTables(db, 'host');
      await addDemo(db, lantern(), 'host');
      await addDemo(db, farShore());
    },
    async down(db) {
      await db('profile').where({ id: farShore().id }).delete();
      await db.schema.dropTable('host_revision').dropTable('host');
    },
  },
  {
    name: '006_requests',
    async up(db) {
      await db.schema.createTable('request', (table) => {
        table.text('id').primary();
        table.text('print').notNullable();
        table.integer('status').notNullable();
        table.text('body');
        table.text('location');
        table.text('done_at').notNullable().index();
      });
    },
    async down(db) {
      await db.schema.dropTable('request');
    },
  },
  {
    name: '007_versions',
    async up(db) {
      for (const kind of ['profile', 'surface', 'host'])
        await db.schema.alterTable(`${kind}_revision`, (table) => table.text('label'));
    },
    async down(db) {
      for (const kind of ['profile', 'surface', 'host'])
        await db.schema.alterTable(`${kind}_revision`, (table) => table.dropColumn('label'));
    },
  },
  {
    name: '008_settings',
    async up(db) {
      await db.schema.createTable('setting', (table) => {
        table.text('name').primary();
        table.text('value').notNullable();
      });
    },
    async down(db) {
      await db.schema.dropTable('setting');
    },
  },
  {
    name: '009_set_ups',
    async up(db) {
      await createTables(db, 'setup');
      await db.schema.alterTable('setup_revision', (table) => table.text('label'));
    },
    async down(db) {
      await db.schema.dropTable('setup_revision').dropTable('setup');
    },
  },
  {
    name: '010_a_program_of_keys',
    async up(db) {
      await addDemo(db, placard(), 'host');
    },
    async down() {
      // It may stay: every earlier version reads it as a host that speaks OSC.
    },
  },
];

/** The version of a database that this Rondo makes. */
export const MIGRATION_COUNT = MIGRATIONS.length;

/** A database that a newer Rondo has made. */
export class NewerDatabaseError extends Error {
  constructor(file: string, version: number) {
    super(
      `The database ${file} was made by a newer Rondo (version ${version}; this one knows up to ${MIGRATIONS.length}). ` +
        'Start the newer Rondo, or name another data folder with RONDO_DATA. Nothing was changed.',
    );
  }
}

/** Refuses a database from a newer Rondo without opening it for writing. */
function refuseNewer(file: string): void {
  if (!existsSync(file)) return;
  const db = new Sqlite(file, { readonly: true });
  try {
    const version = Number(db.pragma('user_version', { simple: true }));
    if (version > MIGRATIONS.length) throw new NewerDatabaseError(file, version);
  } finally {
    db.close();
  }
}

/** What `auto_vacuum` reads where pages are given back in steps (SQLite, PRAGMA auto_vacuum). */
const INCREMENTAL = 2;

/** Brings a file over once that was made to give no pages back: it is written anew as a whole, before it is served. */
function givePagesBack(file: string, tell: (sentence: string) => void): void {
  if (!existsSync(file)) return;
  const db = new Sqlite(file);
  try {
    if (Number(db.pragma('auto_vacuum', { simple: true })) === INCREMENTAL) return;
    tell('The database is written anew once, so that it stays small by itself …');
    db.pragma('auto_vacuum = INCREMENTAL');
    db.exec('VACUUM');
    tell('Done.');
  } finally {
    db.close();
  }
}

/**
 * Opens the database, creating it with the demo profile where there is none, and brings it up to date.
 * @param file path of the SQLite file
 * @param tell hears, in a sentence, of what takes long
 * @throws NewerDatabaseError where a newer Rondo made it
 */
export async function openDatabase(
  file: string,
  tell: (sentence: string) => void = () => undefined,
): Promise<Knex> {
  refuseNewer(file);
  givePagesBack(file, tell);
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: file },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate(connection: Sqlite.Database, done: (error: Error | null) => void) {
        // Said before anything is written: freed pages are given back in small steps, not all at once.
        connection.pragma('auto_vacuum = INCREMENTAL');
        connection.pragma('journal_mode = WAL');
        // An answer is given only when the revision is on the disk.
        connection.pragma('synchronous = FULL');
        connection.pragma('foreign_keys = ON');
        done(null);
      },
    },
    migrations: {
      migrationSource: {
        getMigrations: () => Promise.resolve([...MIGRATIONS]),
        getMigrationName: (migration: Migration) => migration.name,
        getMigration: (migration: Migration) => Promise.resolve(migration),
      },
    },
  });
  await db.migrate.latest();
  await db.raw(`PRAGMA user_version = ${MIGRATIONS.length}`);
  return db;
}
