import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';

/** What a look at a database file has found. */
export interface Soundness {
  /** `user_version`: how many migrations it has had. */
  readonly version: number;
  /** `ok`, or what is damaged, a line each. */
  readonly integrity: string;
  /** Tables of Rondo's that are there. */
  readonly tables: number;
}

/** Runs in a thread of its own: reading every page of a large file would hold up OSC, glass and keys. */
const LOOK = `
const { parentPort, workerData } = require('node:worker_threads');
const Sqlite = require(workerData.driver);
const db = new Sqlite(workerData.file, { readonly: true, fileMustExist: true });
try {
  const one = (name) => db.pragma(name, { simple: true });
  const tables = db.prepare("select count(*) as n from sqlite_master where name in ('profile', 'profile_revision')").get().n;
  const version = Number(one('user_version'));
  parentPort.postMessage({ version, tables, integrity: String(one("integrity_check")) });
} finally {
  db.close();
}`;

/**
 * Looks at a database without changing it, off this thread.
 * @throws where it cannot be opened or read as one
 */
export function soundnessOf(file: string): Promise<Soundness> {
  const driver = createRequire(import.meta.url).resolve('better-sqlite3');
  return new Promise((done, fail) => {
    const worker = new Worker(LOOK, { eval: true, workerData: { file, driver } });
    worker.once('message', done);
    worker.once('error', fail);
    worker.once('exit', () => fail(new Error('It was given up')));
  });
}
