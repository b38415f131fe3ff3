import { createReadStream } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { Decoder } from './decode.js';
import {
  backupCommand,
  diffCommand,
  exportCommand,
  importCommand,
  restoreCommand,
  usable,
} from './files.js';
import { eachLine } from './lines.js';
import { Replay, ReplayError, readDocuments } from './replay.js';
import { Teacher } from './teach.js';

const HELP = `rondo decode   reads MIDI bytes as lines of text and prints each message as JSON

  Lines are "hex bytes" or "milliseconds,port,hex bytes". Each port is one continuous stream.

rondo teach    reads a captured movement and prints, as JSON, what controls it was

  Lines are "milliseconds,hex bytes". Below a confidence of 0.6 the evidence is thin; "why" says what to do.

rondo replay profile.json   runs a recording through a profile, with its hosts and time simulated

  --in FILE        lines of "milliseconds,port,hex bytes"; a port is a surface or host of the profile (standard input)
  --out FILE       where lines of what left each port go; without it they are printed
  --state          prints the state of every function at the end as JSON, by host and address
  --surface FILE   a surface that does not ship with Rondo; may be given several times
  --profile ID     which one, where the file has several
  --after MS       how long time goes on after the last line (2000)

rondo export --data FOLDER --profile ID --out FILE   writes a profile, with the surfaces and hosts it uses, as one file

  --all --out FOLDER   writes one file for each profile, and one with everything

rondo import --data FOLDER FILE…   reads files in; prints a line of JSON a document: file, id, kind, name, did

  --as new|replace   what becomes of a document whose id another one has; else the file is refused and nothing changed

rondo diff A B    prints a line of JSON a difference: path (JSON Pointer), before, after, says

rondo backup --data FOLDER --out FILE    copies the database, also while Rondo runs
rondo restore --data FOLDER FILE         puts a backup in its place; the old one is kept beside it

Exit codes: 0 good; 1 findings, differences, or bad lines; 2 what was given cannot be used, and nothing was printed.
Lines that cannot be read are named on standard error, and the exit code is then 1.
`;

/** Output is gathered into blocks of this many characters. */
const BLOCK = 1 << 16;

async function decode(): Promise<number> {
  let block = '';
  const flush = () => {
    process.stdout.write(block);
    block = '';
  };
  const decoder = new Decoder(
    (json) => {
      block += json + '\n';
      if (block.length > BLOCK) flush();
    },
    (sentence) => process.stderr.write(sentence + '\n'),
  );
  await eachLine((line) => decoder.take(line));
  flush();
  return decoder.badLines > 0 ? 1 : 0;
}

async function teach(): Promise<number> {
  const teacher = new Teacher((sentence) => process.stderr.write(sentence + '\n'));
  await eachLine((line) => teacher.take(line));
  process.stdout.write(JSON.stringify(teacher.finish(), null, 2) + '\n');
  return teacher.badLines > 0 ? 1 : 0;
}

const REPLAY_OPTIONS = {
  in: { type: 'string' },
  out: { type: 'string' },
  state: { type: 'boolean' },
  surface: { type: 'string', multiple: true },
  profile: { type: 'string' },
  after: { type: 'string' },
} as const;

async function readJson(file: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(file, 'utf8')) as unknown;
  } catch (error) {
    throw new ReplayError(`${file} cannot be read: ${(error as Error).message}`);
  }
}

async function replay(args: string[]): Promise<number> {
  try {
    const { values, positionals } = parseArgs({
      args,
      options: REPLAY_OPTIONS,
      allowPositionals: true,
    });
    if (positionals.length !== 1) throw new ReplayError('Name one profile. See rondo help.');
    const after = Number(values.after ?? 2_000);
    if (!Number.isFinite(after) || after < 0 || after > 3_600_000)
      throw new ReplayError('--after takes milliseconds, 0 to 3600000.');
    const surfaces = await Promise.all((values.surface ?? []).map(readJson));
    const { profile, own } = readDocuments(
      await readJson(positionals[0]),
      surfaces,
      values.profile,
    );
    const lines: string[] = [];
    const player = new Replay(
      profile,
      own,
      (line) => lines.push(line),
      (sentence) => process.stderr.write(sentence + '\n'),
    );
    const input = values.in === undefined ? process.stdin : createReadStream(values.in);
    await eachLine((line) => player.take(line), input);
    player.finish(after * 1_000);
    const text = lines.map((line) => line + '\n').join('');
    if (values.out !== undefined) await writeFile(values.out, text);
    else if (!values.state) process.stdout.write(text);
    if (values.state) process.stdout.write(JSON.stringify(player.state(), null, 2) + '\n');
    return player.badLines > 0 ? 1 : 0;
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    return 2;
  }
}

const COMMANDS: Readonly<Record<string, ((args: string[]) => Promise<number>) | undefined>> = {
  export: exportCommand,
  import: importCommand,
  diff: diffCommand,
  backup: backupCommand,
  restore: restoreCommand,
};

async function main(command: string | undefined, args: string[]): Promise<number> {
  if (command === 'decode') return decode();
  if (command === 'teach') return teach();
  if (command === 'replay') return replay(args);
  const work = COMMANDS[command ?? ''];
  if (work) return usable(() => work(args));
  process.stderr.write(HELP);
  return command === undefined || command === 'help' || command === '--help' ? 0 : 2;
}

// A reader that stops early, as `head` does, is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
process.exitCode = await main(process.argv[2], process.argv.slice(3));
