import { defineConfig } from '@playwright/test';

/**
 * The browser draws the list under its own address bar with a page in a process of its own, for each new context: a
 * tenth of all that a test takes. The rest is what Playwright asks to be left off, said again since the last list holds.
 */
const OFF = [
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsFirstBalancedModeAutoEnable',
  'HttpsUpgrades',
  'MediaRouter',
  'OptimizationHints',
  'PaintHolding',
  'ThirdPartyStoragePartitioning',
];

export default defineConfig({
  testDir: '.',
  testMatch: '*.e2e.ts',
  outputDir: '../test-results/e2e',
  // What takes longer is red; long random runs say their own, five minutes at most.
  timeout: 60_000,
  // A limit, not a wait: on a machine that is shared an answer may be long in coming.
  expect: { timeout: 30_000 },
  // One for each core that tests may count on; each test has a server and a page of its own.
  workers: 2,
  // What fails once has failed.
  retries: 0,
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env['RONDO_CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        `--disable-features=${OFF.join(',')}`,
      ],
    },
  },
});
