import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ROOT, install, say } from './lib.mjs';

const RESULTS = join(ROOT, 'test-results');
const CHROMIUM = process.env.RONDO_CHROMIUM ?? '/usr/bin/chromium';
const started = Date.now();
const sums = { passed: 0, failed: 0 };
const broken = [];

/** Runs a step and goes on where it fails, so that one run tells everything. */
function step(sentence, command, args, env = {}) {
  say(`\n${sentence} …`);
  const from = Date.now();
  const result = spawnSync(command, args, {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
  });
  say(
    `${sentence}: ${result.status === 0 ? 'done' : 'FAILED'} in ${((Date.now() - from) / 1000).toFixed(1)} s`,
  );
  if (result.status !== 0) broken.push(sentence);
  return result.status === 0;
}

/** Runs checks side by side, each one's words together once it is through: every one uses a single core. */
function sideBySide(...lanes) {
  const check = ([sentence, script, ...args]) =>
    new Promise((done) => {
      const from = Date.now();
      const child = spawn(process.execPath, [join(ROOT, script), ...args], {
        cwd: ROOT,
        stdio: ['ignore', 'pipe', 'pipe'],
      });
      const words = [];
      for (const stream of [child.stdout, child.stderr])
        stream.on('data', (chunk) => words.push(chunk));
      child.once('error', (error) => words.push(Buffer.from(String(error))));
      child.once('close', (status) => {
        process.stdout.write(Buffer.concat(words));
        const took = ((Date.now() - from) / 1000).toFixed(1);
        say(`${sentence}: ${status === 0 ? 'done' : 'FAILED'} in ${took} s`);
        if (status !== 0) broken.push(sentence);
        done();
      });
    });
  say(
    `\n${lanes
      .flat()
      .map(([sentence]) => sentence)
      .join(', ')} …`,
  );
  return Promise.all(
    lanes.map(async (lane) => {
      for (const one of lane) await check(one);
    }),
  );
}

function installChromium() {
  if (existsSync(CHROMIUM)) return true;
  const canInstall =
    process.platform === 'linux' && process.getuid?.() === 0 && existsSync('/usr/bin/apt-get');
  if (!canInstall) {
    say(`There is no Chromium at ${CHROMIUM}. Install it, or name one with RONDO_CHROMIUM.`);
    broken.push('Chromium');
    return false;
  }
  step('Reading the package lists', 'apt-get', ['update', '-qq']);
  return step('Installing Chromium', 'apt-get', ['install', '-y', '-qq', 'chromium']);
}

/** A general OSC client and server to hold ours against; without them those tests are skipped, and counted so. */
function installOscTools() {
  const canInstall = process.platform === 'linux' && process.getuid?.() === 0;
  if (existsSync('/usr/bin/oscsend') || !canInstall || !existsSync('/usr/bin/apt-get')) return;
  spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore' });
  const { status } = spawnSync('apt-get', ['install', '-y', '-qq', 'liblo-tools'], {
    stdio: 'ignore',
  });
  say(status === 0 ? 'A general OSC client is installed.' : 'There is no general OSC client.');
}

/**
 * What has changed since a commit, and of the page's tests those that its folders name: a few minutes in place of all. Whatever
 * is in no folder of ours, as the lock file or a script, names them all.
 */
function changedSince(commit) {
  const git = (...args) => {
    const { status, stdout, stderr } = spawnSync('git', args, { cwd: ROOT, encoding: 'utf8' });
    if (status !== 0) throw new Error(stderr.trim());
    return stdout.split('\n').filter(Boolean);
  };
  const files = [
    ...new Set([
      ...git('diff', '--name-only', '--diff-filter=d', commit),
      ...git('ls-files', '--others', '--exclude-standard'),
    ]),
  ];
  const table = JSON.parse(readFileSync(join(ROOT, 'scripts/page-tests.json'), 'utf8'));
  const all = [...new Set(Object.values(table).flat())].sort();
  const tests = new Set();
  for (const file of files) {
    const own = /^e2e\/(.*)\.e2e\.ts$/.exec(file)?.[1];
    const row = Object.keys(table)
      .filter((folder) => file.startsWith(`${folder}/`))
      .sort((a, b) => b.length - a.length)[0];
    if (own) tests.add(own);
    else if (row) for (const name of file.endsWith('.test.ts') ? [] : table[row]) tests.add(name);
    else if (!/^(docs|README)|\.md$/.test(file)) for (const name of all) tests.add(name);
  }
  return { files, tests: [...tests].sort(), left: all.filter((name) => !tests.has(name)) };
}

const readJson = (name) => {
  const file = join(RESULTS, name);
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
};

const [mode, named] = process.argv.slice(2);
const knows = (commit) =>
  spawnSync('git', ['rev-parse', '--verify', '--quiet', `${commit}^{commit}`], { cwd: ROOT })
    .status === 0;
/** Where nobody has fetched anything, what is not committed yet is what has changed. */
const since = named ?? (knows('origin/main') ? 'origin/main' : 'HEAD');
if (mode !== undefined && mode !== 'changed') {
  say('npm test runs all; npm test -- changed [COMMIT] what differs from a commit (origin/main).');
  process.exit(2);
}
if (mode === 'changed' && !knows(since)) {
  say(`There is no commit ${since}.`);
  process.exit(2);
}
const changed = mode === 'changed' ? changedSince(since) : null;
if (changed) {
  say(`${changed.files.length} files differ from ${since}.`);
  if (changed.files.length === 0) {
    console.log('0 passed, 0 failed');
    process.exit();
  }
}
const scripts = changed?.files.filter((file) => /\.(ts|mjs|html)$/.test(file)) ?? ['.'];
const formatted = changed?.files ?? ['.'];
await install();
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });

const node = process.execPath;
const module = (path) => join(ROOT, 'node_modules', path);
const types = (project) => [
  `Types of ${project}`,
  'node_modules/typescript/bin/tsc',
  '-p',
  project,
];
await sideBySide(
  [
    [
      'Lint',
      'node_modules/eslint/bin/eslint.js',
      ...(scripts.length > 0 ? scripts : ['scripts']),
      '--no-warn-ignored',
      '--max-warnings',
      '0',
    ],
    types('web/tsconfig.spec.json'),
    ['The drawing of the house', 'scripts/architecture.mjs', '--check'],
  ],
  [
    [
      'Format',
      'node_modules/prettier/bin/prettier.cjs',
      '--check',
      ...formatted,
      '--ignore-unknown',
      '--log-level',
      'warn',
    ],
    types('tsconfig.json'),
    types('core/tsconfig.json'),
  ],
);

// Tests run the built server with its page, and the built command, so these are built first.
const { buildAll } = await import('./build.mjs');
try {
  await buildAll();
} catch (error) {
  say(String(error));
  broken.push('Build');
}
installOscTools();
step(
  'Jest (some minutes; the server is killed twenty times in it)',
  node,
  [
    '--experimental-vm-modules',
    module('jest/bin/jest.js'),
    '--json',
    '--outputFile',
    join(RESULTS, 'jest.json'),
    '--silent',
    // The killing of servers goes on beside all the rest.
    '--maxWorkers=2',
    ...(changed ? [`--changedSince=${since}`, '--passWithNoTests'] : []),
  ],
  { NODE_NO_WARNINGS: '1' },
);
const jest = readJson('jest.json');
sums.passed += jest?.numPassedTests ?? 0;
sums.failed += (jest?.numFailedTests ?? 1) + (jest?.numRuntimeErrorTestSuites ?? 0);

if (changed?.tests.length === 0) say('\nNothing of the page is concerned: none of its tests ran.');
else if (installChromium()) {
  step('The page in Chromium', node, [
    module('@playwright/test/cli.js'),
    'test',
    '-c',
    'e2e/playwright.config.ts',
    ...(changed?.tests ?? []).map((name) => `e2e/${name}.e2e.ts`),
  ]);
  const e2e = readJson('e2e.json');
  sums.passed += e2e?.stats.expected ?? 0;
  sums.failed += e2e ? e2e.stats.unexpected + e2e.stats.flaky : 1;
}
sums.failed = Math.max(sums.failed, broken.length > 0 ? 1 : 0);

if (changed)
  say(
    `\nLeft out: what Jest finds no change in, and of the page’s tests ${changed.left.join(', ') || 'none'}. npm test runs all.`,
  );
say(
  `\n${((Date.now() - started) / 60_000).toFixed(1)} minutes.${broken.length ? ` Failed: ${broken.join(', ')}.` : ''}`,
);
console.log(`${sums.passed} passed, ${sums.failed} failed`);
process.exitCode = sums.failed > 0 ? 1 : 0;
