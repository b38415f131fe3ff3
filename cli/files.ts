import { existsSync, mkdirSync, statSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import type { Fault } from '@rondo/core/document';
import {
  LARGEST_FILE,
  faultPlace,
  fileDifferences,
  fileText,
  partsOf,
  profileDifferences,
  readFileText,
  type RondoFile,
} from '@rondo/core/formats';
import {
  DamagedError,
  DataFolder,
  backUp,
  exportFile,
  importFile,
  openDatabase,
  restoreBackup,
  type Clash,
  type Imported,
  type LeftOut,
} from '@rondo/store';

/** Something that cannot be used, in a sentence. */
class UnusableError extends Error {}

const DATABASE = 'rondo.sqlite';

/** Says something beside what is printed. */
const tell = (sentence: string): void => void process.stderr.write(`${sentence}\n`);

/** A file of Rondo’s, read from disk. */
async function readRondoFile(path: string): Promise<RondoFile> {
  let text: string;
  try {
    // The size is seen before anything is read.
    if (statSync(path).size > LARGEST_FILE)
      throw new UnusableError(`${path} is larger than 64 MB; no file of Rondo’s is.`);
    text = await readFile(path, 'utf8');
  } catch (error) {
    if (error instanceof UnusableError) throw error;
    throw new UnusableError(`${path} cannot be read: ${(error as Error).message}`);
  }
  const read = readFileText(text);
  const told = (faults: readonly Fault[]) =>
    faults
      .slice(0, 20)
      .map((fault) => `${faultPlace(fault)}: ${fault.message}`)
      .join('; ');
  if (!read.ok) throw new UnusableError(`${path} ${told(read.faults)}`);
  if (read.putRight.length > 0) tell(`Put right in ${path}: ${told(read.putRight)}`);
  return read.file;
}

/** Values of options, with a sentence in place of a stack where they are wrong. */
function parsed<T extends ParseArgsConfig>(config: T): ReturnType<typeof parseArgs<T>> {
  try {
    return parseArgs(config);
  } catch (error) {
    throw new UnusableError(`${(error as Error).message} See rondo help.`);
  }
}

function needed(value: string | undefined, option: string): string {
  if (value === undefined || value === '')
    throw new UnusableError(`${option} is missing. See rondo help.`);
  return value;
}

/** The data folder, which has to be there. */
function folderOf(path: string | undefined): string {
  const folder = needed(path, '--data');
  if (!existsSync(join(folder, DATABASE)))
    throw new UnusableError(
      `${folder} is no data folder of Rondo’s: there is no ${DATABASE} in it.`,
    );
  return folder;
}

/** A file as text, and what it had to leave out. */
interface ExportedText {
  readonly text: string;
  readonly leftOut: readonly LeftOut[];
}

/** What is done with a data folder: through the server that has it, else by itself. */
interface Access {
  exported(ids: readonly string[] | undefined): Promise<ExportedText>;
  imported(file: RondoFile, clash: Clash | undefined): Promise<readonly Imported[]>;
  close(): Promise<void>;
}

async function accessTo(path: string): Promise<Access> {
  const folder = new DataFolder(path);
  const port = await folder.runningPort();
  if (port !== null) return throughServer(`http://127.0.0.1:${port}/api/files`);
  const db = await openDatabase(join(path, DATABASE));
  return {
    exported: async (ids) => {
      const { file, leftOut } = await exportFile(db, ids);
      return { text: fileText(file), leftOut };
    },
    imported: (file, clash) => importFile(db, file, clash),
    close: () => db.destroy(),
  };
}

function throughServer(address: string): Access {
  const ask = async (url: string, init?: RequestInit): Promise<Response> => {
    const answer = await fetch(url, init);
    if (answer.ok) return answer;
    const problem = (await answer.json().catch(() => ({}))) as { detail?: string };
    throw new UnusableError(problem.detail ?? `Rondo answered ${answer.status}.`);
  };
  return {
    exported: async (ids) => {
      const query = (ids ?? []).map((id) => `profile=${encodeURIComponent(id)}`).join('&');
      const answer = await ask(`${address}?${query}`);
      const leftOut = decodeURIComponent(answer.headers.get('Rondo-Left-Out') ?? '[]');
      return { text: await answer.text(), leftOut: JSON.parse(leftOut) as LeftOut[] };
    },
    imported: async (file, clash) => {
      const answer = await ask(clash ? `${address}?as=${clash}` : address, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: fileText(file),
      });
      return ((await answer.json()) as { documents: Imported[] }).documents;
    },
    close: () => Promise.resolve(),
  };
}

/** Writes one profile with all that it uses, or everything, as Rondo’s file. */
export async function exportCommand(args: string[]): Promise<number> {
  const { values } = parsed({
    args,
    options: {
      data: { type: 'string' },
      profile: { type: 'string', multiple: true },
      all: { type: 'boolean' },
      out: { type: 'string' },
    },
  });
  const folder = folderOf(values.data);
  const out = needed(values.out, '--out');
  const ids = values.profile ?? [];
  if (ids.length > 0 === (values.all === true))
    throw new UnusableError('Name --profile ID or --all, one of the two.');
  const access = await accessTo(folder);
  try {
    if (!values.all) {
      await writeFile(out, (await access.exported(ids)).text);
      return 0;
    }
    const { text, leftOut } = await access.exported(undefined);
    const whole = JSON.parse(text) as RondoFile;
    mkdirSync(out, { recursive: true });
    for (const { id } of whole.profiles)
      await writeFile(
        join(out, `${id.replaceAll(':', '_')}.json`),
        (await access.exported([id])).text,
      );
    for (const { kind, name } of leftOut)
      tell(`Left out, since a newer Rondo has made it: the ${kind} “${name}”.`);
    // What no profile uses has a file, too.
    await writeFile(join(out, 'everything.json'), fileText(whole));
    return 0;
  } catch (error) {
    throw error instanceof UnusableError ? error : new UnusableError((error as Error).message);
  } finally {
    await access.close();
  }
}

/** Reads files into a data folder; prints what became of each document. */
export async function importCommand(args: string[]): Promise<number> {
  const { values, positionals } = parsed({
    args,
    options: { data: { type: 'string' }, as: { type: 'string' } },
    allowPositionals: true,
  });
  const folder = needed(values.data, '--data');
  if (positionals.length === 0) throw new UnusableError('Name at least one file. See rondo help.');
  const clash = values.as;
  if (clash !== undefined && clash !== 'new' && clash !== 'replace')
    throw new UnusableError('--as takes new or replace.');
  // All are read before any is taken in: a bad one changes nothing.
  const files = await Promise.all(
    positionals.map(async (path) => ({ path, file: await readRondoFile(path) })),
  );
  for (const { path, file } of files) {
    const [part] = partsOf(file);
    if (part !== undefined)
      throw new UnusableError(
        `${path} holds the ${part}, which is taken into a document in the page.`,
      );
  }
  const access = await accessTo(folder);
  const lines: string[] = [];
  let isRefused = false;
  try {
    for (const { path, file } of files)
      for (const { id, kind, name, did } of await access.imported(file, clash)) {
        isRefused ||= did === 'refused';
        lines.push(JSON.stringify({ file: path, id, kind, name, did }));
      }
  } finally {
    await access.close();
  }
  process.stdout.write(lines.map((line) => `${line}\n`).join(''));
  return isRefused ? 1 : 0;
}

/** Prints what differs between two files. */
export async function diffCommand(args: string[]): Promise<number> {
  const { positionals } = parsed({ args, options: {}, allowPositionals: true });
  if (positionals.length !== 2) throw new UnusableError('Name two files. See rondo help.');
  const [before, after] = await Promise.all(positionals.map(readRondoFile));
  const found = await differencesOf(positionals, before, after);
  process.stdout.write(found.map((one) => `${JSON.stringify(one)}\n`).join(''));
  return found.length > 0 ? 1 : 0;
}

/** Two profiles by themselves are compared as such: paths are those of the profile. */
async function differencesOf(paths: string[], before: RondoFile, after: RondoFile) {
  const formats = await Promise.all(
    paths.map(
      async (path) =>
        (JSON.parse((await readFile(path, 'utf8')).replace(/^\uFEFF/, '')) as { format: string })
          .format,
    ),
  );
  return formats.every((format) => format === 'rondo-profile')
    ? profileDifferences(before.profiles[0], after.profiles[0])
    : fileDifferences(before, after);
}

/** Copies the database of a data folder, also while Rondo uses it. */
export async function backupCommand(args: string[]): Promise<number> {
  const { values } = parsed({
    args,
    options: { data: { type: 'string' }, out: { type: 'string' } },
  });
  const folder = folderOf(values.data);
  await backUp(join(folder, DATABASE), needed(values.out, '--out'));
  return 0;
}

/** Puts a backup in the place of a data folder’s database; the old one is kept beside it. */
export async function restoreCommand(args: string[]): Promise<number> {
  const { values, positionals } = parsed({
    args,
    options: { data: { type: 'string' } },
    allowPositionals: true,
  });
  const path = needed(values.data, '--data');
  if (positionals.length !== 1) throw new UnusableError('Name one backup. See rondo help.');
  const folder = new DataFolder(path);
  if ((await folder.runningPort()) !== null)
    throw new UnusableError(
      'Rondo runs on this folder. Stop it, then restore; nothing was changed.',
    );
  const database = join(path, DATABASE);
  const kept = await restoreBackup(positionals[0], database);
  // Brought up to date at once, so that a start later finds nothing to do.
  await (await openDatabase(database)).destroy();
  if (kept) tell(`The database that was there is kept as ${kept}.`);
  return 0;
}

/** Does a command; what cannot be used is told on standard error, with nothing on standard output. */
export async function usable(work: () => Promise<number>): Promise<number> {
  try {
    return await work();
  } catch (error) {
    const isTold = error instanceof UnusableError || error instanceof DamagedError;
    const message = (error as Error).message;
    tell(isTold ? message : `It failed: ${message}`);
    return 2;
  }
}
