import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { carriedFrom, carryInto } from './carry-over.js';
import { MIGRATION_COUNT, NewerDatabaseError, openDatabase } from './database.js';
import { soundnessOf } from './soundness.js';

/** The first backup of so many days is kept, and so many of the newest, whoever made them. */
export const DAYS_KEPT = 7;
export const NEWEST_KEPT = 7;
/** As many databases are kept that a backup was put in the place of. */
export const REPLACED_KEPT = 3;
const NAME = /^rondo-(\d{4}-\d{2}-\d{2}T\d{2}-\d{2}-\d{2})\.sqlite$/;

const UNFINISHED = /\.part(-wal|-shm|-journal)?$/;

/** A database that is no good, with what is wrong. */
export class DamagedError extends Error {}

/**
 * Looks at a database without changing it.
 * @throws DamagedError where it is none, or is damaged; NewerDatabaseError where a newer Rondo made it
 */
async function checkDatabase(file: string): Promise<void> {
  if (!existsSync(file)) throw new DamagedError(`There is no file ${file}.`);
  const { version, integrity, tables } = await soundnessOf(file).catch((error: unknown) => {
    throw new DamagedError(`${file} is damaged: ${(error as Error).message}.`);
  });
  if (version > MIGRATION_COUNT) throw new NewerDatabaseError(file, version);
  if (integrity !== 'ok') {
    // It lists every page; the first tells enough.
    const [first] = integrity.split('\n').filter((line) => !line.startsWith('***'));
    throw new DamagedError(`${file} is damaged: ${first}.`);
  }
  if (tables !== 2) throw new DamagedError(`${file} is no database of Rondo’s.`);
}

/**
 * Copies a database while it is in use (SQLite’s online backup, on a connection of its own): to another name first, and
 * to its own only when the copy is sound.
 * @throws DamagedError where the copy is not
 */
export async function backUp(from: string, to: string): Promise<void> {
  mkdirSync(dirname(to), { recursive: true });
  const unfinished = `${to}.part`;
  rmSync(unfinished, { force: true });
  const db = new Sqlite(from, { readonly: true, fileMustExist: true });
  try {
    await db.backup(unfinished);
  } finally {
    db.close();
  }
  try {
    await checkDatabase(unfinished);
    renameSync(unfinished, to);
  } catch (error) {
    rmSync(unfinished, { force: true });
    throw error;
  } finally {
    for (const journal of ['-wal', '-shm']) rmSync(unfinished + journal, { force: true });
  }
}

export interface Backup {
  readonly name: string;
  /** When it was made, ISO 8601. */
  readonly at: string;
}

/** Where a data folder keeps its backups. */
export const backupFolder = (folder: string): string => join(folder, 'backups');

/** The backups of a data folder, the newest first. */
export function backupsOf(folder: string): Backup[] {
  const place = backupFolder(folder);
  if (!existsSync(place)) return [];
  return readdirSync(place)
    .flatMap((name) => {
      const at = NAME.exec(name)?.[1];
      return at ? [{ name, at: `${at.slice(0, 11)}${at.slice(11).replaceAll('-', ':')}Z` }] : [];
    })
    .sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** The newest backup of a data folder that is sound; null where there is none. */
async function newestGoodBackup(folder: string): Promise<Backup | null> {
  for (const backup of backupsOf(folder)) {
    const isGood = await checkDatabase(join(backupFolder(folder), backup.name)).then(
      () => true,
      () => false,
    );
    if (isGood) return backup;
  }
  return null;
}

/**
 * Looks at the database of a data folder before it is opened.
 * @throws DamagedError with what can be done about it; nothing is changed
 */
export async function checkFolder(folder: string): Promise<void> {
  const file = join(folder, 'rondo.sqlite');
  if (!existsSync(file)) return;
  try {
    await checkDatabase(file);
  } catch (error) {
    if (!(error instanceof DamagedError)) throw error;
    const good = await newestGoodBackup(folder);
    const mend = good
      ? `The newest good backup is of ${good.at.slice(0, 16).replace('T', ', ')} UTC. To go on from it: ` +
        `npm run -s rondo -- restore --data "${folder}" "${join(backupFolder(folder), good.name)}"`
      : 'There is no good backup beside it. Start with another folder, named with RONDO_DATA.';
    throw new DamagedError(`${error.message} Nothing was changed. ${mend}`);
  }
}

/** Those backups that are neither the first of one of the last days nor among the newest. */
function superfluous(backups: readonly Backup[]): Backup[] {
  const days = [...new Set(backups.map(({ at }) => at.slice(0, 10)))].slice(0, DAYS_KEPT);
  const kept = new Set(backups.slice(0, NEWEST_KEPT));
  for (const day of days) {
    const first = backups.findLast(({ at }) => at.startsWith(day));
    if (first) kept.add(first);
  }
  return backups.filter((one) => !kept.has(one));
}

/** Makes a backup in a data folder, and takes away what is kept no longer: by hand one drives out no day's. */
export async function backUpFolder(folder: string, now: Date = new Date()): Promise<Backup> {
  const at = now.toISOString().slice(0, 19);
  const place = backupFolder(folder);
  // What was being made when Rondo was killed will never be done.
  if (existsSync(place))
    for (const name of readdirSync(place).filter((one) => UNFINISHED.test(one)))
      rmSync(join(place, name), { force: true });
  const name = `rondo-${at.replaceAll(':', '-')}.sqlite`;
  await backUp(join(folder, 'rondo.sqlite'), join(backupFolder(folder), name));
  for (const old of superfluous(backupsOf(folder)))
    rmSync(join(backupFolder(folder), old.name), { force: true });
  return { name, at: `${at}Z` };
}

/** Makes the backup of a day, where there is none of it yet. */
export async function dailyBackup(folder: string, now: Date = new Date()): Promise<Backup | null> {
  const today = now.toISOString().slice(0, 10);
  const has = backupsOf(folder).some(({ at }) => at.startsWith(today));
  return has ? null : backUpFolder(folder, now);
}

/** Writes what the journal holds into the database itself. A damaged one is left as it is. */
function settleJournal(file: string): void {
  try {
    const db = new Sqlite(file);
    try {
      db.pragma('wal_checkpoint(TRUNCATE)');
    } finally {
      db.close();
    }
  } catch {
    // It is kept as it is.
  }
}

/** Gives a file a second name; where the disk knows no such thing, it is copied. */
function keepBeside(file: string, kept: string): void {
  try {
    linkSync(file, kept);
  } catch {
    copyFileSync(file, kept);
  }
}

/**
 * Puts a backup in the place of a database that nobody has open; the one that was there is kept beside it, and what outlives
 * it is carried over.
 * @returns where the old one is kept; null where there was none
 * @throws DamagedError or NewerDatabaseError where the backup is not sound: then nothing was changed
 */
export async function restoreBackup(backup: string, to: string): Promise<string | null> {
  await checkDatabase(backup);
  const next = `${to}.next`;
  await backUp(backup, next);
  const kept = existsSync(to)
    ? `${to}.before-${new Date().toISOString().replaceAll(/[:.]/g, '-')}`
    : null;
  if (kept) {
    // What the journal holds belongs to the old one.
    settleJournal(to);
    keepBeside(to, kept);
    const db = await openDatabase(next);
    await carryInto(db, carriedFrom(to)).finally(() => db.destroy());
  }
  for (const journal of ['-wal', '-shm']) rmSync(to + journal, { force: true });
  // The new one comes in the place of the old one in one stroke: at no moment is there none, whatever is killed.
  renameSync(next, to);
  const before = `${basename(to)}.before-`;
  const replaced = readdirSync(dirname(to)).filter((name) => name.startsWith(before));
  for (const old of replaced.sort().slice(0, -REPLACED_KEPT))
    rmSync(join(dirname(to), old), { force: true });
  return kept;
}
