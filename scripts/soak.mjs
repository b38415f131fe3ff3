import { buildAll, buildBench } from './build.mjs';
import { ROOT, install, run, say } from './lib.mjs';

await install();
await buildAll();
await buildBench();
say(
  'The laws of the engine, over random profiles, hands, hosts and moments. RONDO_LAW_RUNS says how many (10000).',
);
run(
  process.execPath,
  [
    '--experimental-vm-modules',
    `${ROOT}/node_modules/jest/bin/jest.js`,
    '--testPathPatterns',
    'core/round/(laws|owed)',
  ],
  {
    stdio: 'inherit',
    cwd: ROOT,
    env: { RONDO_LAW_RUNS: '10000', ...process.env, NODE_NO_WARNINGS: '1' },
  },
);
say('What is shown, drafted, saved and undone is one. RONDO_MODEL_RUNS says how often (500).');
run(
  process.execPath,
  [
    '--experimental-vm-modules',
    `${ROOT}/node_modules/jest/bin/jest.js`,
    '--testPathPatterns',
    'web/src/app/state/model',
  ],
  {
    stdio: 'inherit',
    cwd: ROOT,
    env: { RONDO_MODEL_RUNS: '500', ...process.env, NODE_NO_WARNINGS: '1' },
  },
);
say(
  'Two windows in the real page, by a model: twice RONDO_PAGE_RUNS runs (30); what fails is made smaller for RONDO_PAGE_SHRINK seconds (600).',
);
run(
  process.execPath,
  [
    `${ROOT}/node_modules/@playwright/test/cli.js`,
    'test',
    '-c',
    'e2e/playwright.config.ts',
    'model',
  ],
  {
    stdio: 'inherit',
    cwd: ROOT,
    env: { RONDO_PAGE_RUNS: '30', RONDO_PAGE_SHRINK: '600', ...process.env },
  },
);
say('The server is killed while it saves. RONDO_KILLS says how often (200).');
run(
  process.execPath,
  [
    '--experimental-vm-modules',
    `${ROOT}/node_modules/jest/bin/jest.js`,
    '--testPathPatterns',
    'server/server.test',
  ],
  {
    stdio: 'inherit',
    cwd: ROOT,
    env: { RONDO_KILLS: '200', ...process.env, NODE_NO_WARNINGS: '1' },
  },
);
say('Files that are spoilt at random. RONDO_FUZZ_RUNS says how many (100000).');
run(
  process.execPath,
  [
    '--experimental-vm-modules',
    `${ROOT}/node_modules/jest/bin/jest.js`,
    '--testPathPatterns',
    'core/formats/formats.test',
    '--testTimeout',
    '3600000',
  ],
  {
    stdio: 'inherit',
    cwd: ROOT,
    env: { RONDO_FUZZ_RUNS: '100000', ...process.env, NODE_NO_WARNINGS: '1' },
  },
);
say('Rondo behind another tab, as it is while people work. RONDO_SOAK_MINUTES says how long (20).');
run(process.execPath, [`${ROOT}/bench/dist/main.mjs`, 'soak'], { stdio: 'inherit' });
