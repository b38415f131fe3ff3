import type { Knex } from 'knex';
import { restoreBackup } from './backup.js';
import { openDatabase } from './database.js';

/** The database is being exchanged: ask again in a moment. */
export class BusyError extends Error {}

/** A database that is served, and may be exchanged for one of its backups meanwhile. */
export class LiveDatabase {
  private isBusy = false;

  /** @param current resolves when it is open */
  constructor(
    private readonly file: string,
    private current: Promise<Knex>,
  ) {}

  /** @throws BusyError while it is exchanged */
  async get(): Promise<Knex> {
    if (this.isBusy) throw new BusyError();
    return this.current;
  }

  /**
   * Puts a backup in its place; the one that was there is kept beside it. Nothing is changed where the backup is not sound.
   * @returns where the old one is kept
   */
  async restore(backup: string): Promise<string | null> {
    const before = await this.get();
    this.isBusy = true;
    try {
      await before.destroy();
      return await restoreBackup(backup, this.file);
    } finally {
      this.current = openDatabase(this.file);
      // Whoever asks next is told; until then it is nobody's.
      this.current.catch(() => undefined);
      this.isBusy = false;
    }
  }

  async close(): Promise<void> {
    await (await this.current).destroy();
  }
}
