import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
/** What was installed and built last, by the hash of what it was made from. */
const STAMPS = join(ROOT, 'node_modules', '.rondo');

/** Tells what is going on, on standard error, so that standard output stays clean for commands that print. */
export const say = (sentence) => process.stderr.write(`${sentence}\n`);

/** Runs a command, showing its output; throws where it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: ROOT, stdio: ['ignore', 2, 2], ...options });
  if (result.error) throw result.error;
  if (result.status !== 0)
    throw new Error(`${command} ${args.join(' ')} failed (${result.status})`);
}

export const npm = (...args) => run(process.platform === 'win32' ? 'npm.cmd' : 'npm', args);

/** Path of a package's command. */
export const bin = (name) => join(ROOT, 'node_modules', '.bin', name);

const SKIP = new Set(['node_modules', 'dist', '.angular', '.git', 'data', 'test-results', 'docs']);

function* filesBelow(path) {
  for (const entry of readdirSync(path, { withFileTypes: true })) {
    if (SKIP.has(entry.name)) continue;
    const inner = join(path, entry.name);
    if (entry.isDirectory()) yield* filesBelow(inner);
    else yield inner;
  }
}

/** Hash over the contents of files and folders. */
export function hashOf(paths) {
  const hash = createHash('sha256');
  for (const path of paths) {
    const full = join(ROOT, path);
    const files =
      existsSync(full) && !/\.[a-z]+$/.test(path) ? [...filesBelow(full)].sort() : [full];
    for (const file of files) {
      if (/\.(test|spec)\.ts$/.test(file)) continue;
      hash.update(relative(ROOT, file)).update('\0').update(readFileSync(file)).update('\0');
    }
  }
  return hash.digest('hex');
}

/** Does `work` unless it was done for the same sources already. */
export async function once(name, sources, output, work) {
  const stamp = join(STAMPS, name);
  const hash = hashOf(sources);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash && existsSync(join(ROOT, output)))
    return false;
  const started = Date.now();
  await work();
  mkdirSync(STAMPS, { recursive: true });
  writeFileSync(stamp, hash);
  say(`  done in ${((Date.now() - started) / 1000).toFixed(1)} s`);
  return true;
}

/** Installs packages where the lock file has changed since the last time. */
export async function install() {
  const manifests = ['core', 'store', 'server', 'web', 'cli', 'e2e'].map(
    (part) => `${part}/package.json`,
  );
  await once(
    'install',
    ['package-lock.json', 'package.json', ...manifests],
    'node_modules/koa',
    () => {
      say('Installing packages (the database driver is compiled; a few minutes the first time) …');
      npm('ci', '--no-audit', '--no-fund');
    },
  );
}
