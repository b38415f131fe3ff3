import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as z from 'zod';

const noteSchema = z.object({ port: z.int().min(1).max(65_535) });
const healthSchema = z.object({ app: z.literal('rondo'), folder: z.string() });

const HEALTH_WAIT_MS = 2_000;

/** A data folder, its id, and the note of who serves it. */
export class DataFolder {
  readonly id: string;
  private readonly noteFile: string;

  /** Opens the folder, creating it where there is none. */
  constructor(readonly path: string) {
    mkdirSync(path, { recursive: true, mode: 0o700 });
    this.noteFile = join(path, 'server.json');
    this.id = this.readId();
  }

  private readId(): string {
    const file = join(this.path, 'folder-id');
    try {
      // Fails where it exists: two first starts at once agree on one id.
      writeFileSync(file, randomUUID(), { flag: 'wx' });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
    return readFileSync(file, 'utf8').trim();
  }

  /** Whether the program that answers on a port is a Rondo with this folder. */
  async isServedOn(port: number): Promise<boolean> {
    try {
      const answer = await fetch(`http://127.0.0.1:${port}/api/health`, {
        signal: AbortSignal.timeout(HEALTH_WAIT_MS),
      });
      const health = healthSchema.safeParse(await answer.json());
      return health.success && health.data.folder === this.id;
    } catch {
      return false;
    }
  }

  /** Port of the Rondo that serves this folder now, null where none does. */
  async runningPort(): Promise<number | null> {
    try {
      const note = noteSchema.parse(JSON.parse(readFileSync(this.noteFile, 'utf8')));
      return (await this.isServedOn(note.port)) ? note.port : null;
    } catch {
      return null;
    }
  }

  /** Notes who serves this folder. */
  note(port: number): void {
    writeFileSync(this.noteFile, JSON.stringify({ port }));
  }

  forget(): void {
    rmSync(this.noteFile, { force: true });
  }
}
