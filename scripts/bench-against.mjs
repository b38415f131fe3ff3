import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { ROOT, install, say } from './lib.mjs';

/*
 * Times the core against that of another commit: both are built, and run by turns, so that a slow spell of the machine
 * hits both. `npm run bench -- against COMMIT`, the commit before where none is named.
 */

const PAIRS = Number(process.env.RONDO_PAIRS ?? 11);

/** What is read off each section: a name, where it stands, and whether less is better. */
const FIGURES = [
  ['round', 'whole round, messages a second', /messages a second\s+([\d.e+]+)/, false],
  ['busy', 'full demo, messages a second', /messages a second\s+([\d.e+]+)/, false],
  ['recompile', 'recompiling 5 000 bindings, ms', /median\s+([\d.]+) ms/, true],
  ['recompile', 'longest wait of the traffic, ms', /traffic waits\s+([\d.]+) ms/, true],
];

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
    const seen = new Map();
    for (let pair = 0; pair < PAIRS; pair++)
      for (const section of new Set(FIGURES.map(([name]) => name)))
        for (const which of pair % 2 === 0 ? ['before', 'now'] : ['now', 'before']) {
          const { stdout } = spawnSync(process.execPath, [files[which], section], {
            encoding: 'utf8',
          });
          for (const [name, figure, where] of FIGURES) {
            const value = name === section ? where.exec(stdout)?.[1] : undefined;
            if (value !== undefined)
              seen.set(`${which} ${figure}`, [
                ...(seen.get(`${which} ${figure}`) ?? []),
                Number(value),
              ]);
          }
        }
    say(`\nAgainst ${git('rev-parse', '--short', commit)}, ${PAIRS} pairs, medians:`);
    for (const [, figure, , lessIsBetter] of FIGURES) {
      const [before, now] = ['before', 'now'].map((which) =>
        median(seen.get(`${which} ${figure}`) ?? [NaN]),
      );
      const change = ((lessIsBetter ? now / before : before / now) - 1) * 100;
      say(
        `  ${figure}: ${before} → ${now} (${change > 0 ? '+' : ''}${change.toFixed(1)} % of time)`,
      );
    }
  } finally {
    git('worktree', 'remove', '--force', tree);
    rmSync(tree, { recursive: true, force: true });
  }
}
