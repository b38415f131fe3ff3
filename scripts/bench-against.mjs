import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { ROOT, install, say } from './lib.mjs';

/*
 * Times the core against that of another commit: both are built, loaded into one process and run by turns of some
 * milliseconds, so that a slow spell of the machine hits both; and that in several processes, since each may compile the
 * same code otherwise. `npm run bench -- against COMMIT`, the commit before where none is named.
 */

const PAIRS = Number(process.env.RONDO_PAIRS ?? 11);

/** Stretches of each section in a process: some to warm up, those that count. */
const STRETCHES = { round: [150, 150], busy: [60, 100], recompile: [5, 15] };

const git = (...args) => {
  const { status, stdout, stderr } = spawnSync('git', args, { cwd: ROOT, encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return stdout.trim();
};

/** Builds our bench with the core of a tree. */
const bundle = (tree, outfile) =>
  build({
    absWorkingDir: ROOT,
    entryPoints: ['bench/pairs.ts'],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    logLevel: 'error',
    plugins: [
      {
        name: 'core-of-a-tree',
        setup(builder) {
          builder.onResolve({ filter: /^@rondo\/core\// }, ({ path }) => ({
            path: `${tree}/core/${path.slice('@rondo/core/'.length)}/index.ts`,
          }));
          builder.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind === 'entry-point' ? null : { path, external: true },
          );
        },
      },
    ],
  });

const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

/** Runs all pairs and prints each figure of both, and its ratio. */
export async function against(commit = 'HEAD~1') {
  await install();
  const tree = mkdtempSync(join(tmpdir(), 'rondo-before-'));
  git('worktree', 'add', '--detach', '--force', tree, commit);
  try {
    if (!existsSync(join(tree, 'node_modules')))
      symlinkSync(join(ROOT, 'node_modules'), join(tree, 'node_modules'));
    const files = {
      before: join(ROOT, 'bench/dist/before.mjs'),
      now: join(ROOT, 'bench/dist/now.mjs'),
    };
    await bundle(tree, files.before);
    await bundle(ROOT, files.now);
    const ratios = new Map();
    for (let pair = 0; pair < PAIRS; pair++)
      for (const section of Object.keys(STRETCHES)) {
        const order = pair % 2 === 0 ? 'before' : 'now';
        const { stdout, stderr } = spawnSync(
          process.execPath,
          [fileURLToPath(import.meta.url), files.before, files.now, section, order],
          { encoding: 'utf8' },
        );
        if (stdout === '') throw new Error(stderr);
        for (const [name, ratio, seconds] of JSON.parse(stdout))
          ratios.set(name, [...(ratios.get(name) ?? []), { ratio, seconds }]);
      }
    say(`\nTime against ${git('rev-parse', '--short', commit)}, medians of ${PAIRS} processes:`);
    for (const [name, list] of ratios) {
      const all = list.map(({ ratio }) => ratio).sort((a, b) => a - b);
      const ms = median(list.map(({ seconds }) => seconds * 1_000));
      say(
        `  ${name}: × ${median(all).toFixed(3)} (${all[0].toFixed(2)} to ${all.at(-1).toFixed(2)}), now ${ms.toFixed(1)} ms`,
      );
    }
  } finally {
    git('worktree', 'remove', '--force', tree);
    rmSync(tree, { recursive: true, force: true });
  }
}

/** In a process of its own: both run by turns, and what ours took is put beside what the other took just then. */
async function byTurns(before, now, section, first) {
  const [ours, theirs] = await Promise.all(
    [now, before].map(async (file) => (await import(pathToFileURL(file).href)).SECTIONS[section]()),
  );
  const [warm, counted] = STRETCHES[section];
  const seen = new Map();
  for (let n = -warm; n < counted; n++) {
    const weFirst = (n % 2 === 0) === (first === 'now');
    const early = weFirst ? ours() : theirs();
    const late = weFirst ? theirs() : ours();
    const [us, them] = weFirst ? [early, late] : [late, early];
    if (n < 0) continue;
    for (const [name, seconds] of Object.entries(us)) {
      const one = { ratio: seconds / them[name], seconds };
      seen.set(name, [...(seen.get(name) ?? []), one]);
    }
  }
  const figures = [...seen].map(([name, list]) => [
    name,
    median(list.map(({ ratio }) => ratio)),
    median(list.map(({ seconds }) => seconds)),
  ]);
  process.stdout.write(JSON.stringify(figures));
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await byTurns(...process.argv.slice(2));
