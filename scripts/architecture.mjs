import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { cruise } from 'dependency-cruiser';
import { instance } from '@viz-js/viz';
import { ROOT, say } from './lib.mjs';

/*
 * The drawing of the house, from the code's own imports: which room uses which. `--check` compares the edges with those
 * that are drawn, so that the drawing cannot drift, and fails where files know each other in a circle, be it for types.
 */

const DRAWN = join(ROOT, 'docs/architecture.dot');
const PICTURE = join(ROOT, 'docs/architecture.svg');

/** The room that a file stands in; null for what is not drawn. */
function roomOf(file) {
  const path = file.replace(/^node_modules\/@rondo\//, '');
  if (/\.(test|spec)\.ts$/.test(path) || /^core\/testing\//.test(path)) return null;
  const round = /^core\/round\/(plan|live|forward|return|cables)\//.exec(path);
  if (round) return `round/${round[1]}`;
  if (/^core\/round\//.test(path)) return 'round';
  const core = /^core\/([a-z-]+)\//.exec(path);
  if (core) return core[1];
  return /^(server|web|cli)\//.exec(path)?.[1] ?? null;
}

/** No file may come back to itself by what it imports. */
const NO_CIRCLES = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: { pathNot: '\\.(test|spec)\\.ts$' },
      to: { circular: true },
    },
  ],
};

/** The arrows between rooms, and the circles of files. */
async function look() {
  const { output } = await cruise(
    ['core', 'store', 'server', 'web/src', 'cli'],
    {
      baseDir: ROOT,
      tsPreCompilationDeps: 'specify',
      exclude: { path: '(^|/)(dist|\\.angular)/|node_modules/(?!@rondo)' },
      tsConfig: { fileName: join(ROOT, 'tsconfig.json') },
      validate: true,
      ruleSet: NO_CIRCLES,
    },
    { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
    { tsConfig: undefined },
  );
  /** Whether an arrow is there for types only, which leave no trace in what runs. */
  const found = new Map();
  for (const { source, dependencies } of output.modules) {
    const from = roomOf(source);
    if (!from) continue;
    for (const { resolved, preCompilationOnly } of dependencies) {
      const to = roomOf(resolved);
      if (!to || to === from) continue;
      const arrow = `"${from}" -> "${to}"`;
      found.set(arrow, (found.get(arrow) ?? true) && preCompilationOnly === true);
    }
  }
  const circles = output.summary.violations.map(({ from, cycle }) =>
    [from, ...cycle.map(({ name }) => name)].join(' > '),
  );
  const arrows = [...found]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([arrow, isType]) => `  ${arrow}${isType ? ' [style=dashed]' : ''};`);
  return { arrows, circles };
}

const { arrows, circles } = await look();
const dot = [
  'digraph house {',
  '  rankdir=BT; bgcolor="transparent"; nodesep=0.3; ranksep=0.5;',
  '  node [shape=box, style="rounded,filled", fillcolor="#fbf7ef", color="#3b3a36", fontname="sans-serif", fontsize=13];',
  '  edge [color="#1d5b6b", arrowsize=0.7];',
  '  subgraph cluster_round { label="core/round"; color="#8a8577"; fontname="sans-serif"; fontsize=12;',
  ...['round', 'round/plan', 'round/live', 'round/forward', 'round/return', 'round/cables'].map(
    (room) => `    "${room}";`,
  ),
  '  }',
  ...arrows,
  '}',
  '',
].join('\n');

if (process.argv.includes('--check')) {
  if (readFileSync(DRAWN, 'utf8') !== dot) {
    say(
      'The drawing of the house is not what the code imports. Run: node scripts/architecture.mjs',
    );
    process.exitCode = 1;
  } else say('The drawing of the house is what the code imports.');
  for (const circle of circles) {
    say(`A circle of files: ${circle}`);
    process.exitCode = 1;
  }
} else {
  writeFileSync(DRAWN, dot);
  writeFileSync(PICTURE, (await instance()).renderString(dot, { format: 'svg' }));
  say(`${arrows.length} arrows drawn in docs/architecture.svg.`);
}
