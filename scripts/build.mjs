import { copyFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { ROOT, install, once, run, say } from './lib.mjs';

const CORE = ['core', 'package-lock.json', 'scripts/build.mjs', 'tsconfig.base.json'];

/** What is loaded from its own folder: the database is no script, and of its drivers this one alone is there. */
const OUTSIDE =
  /^(better-sqlite3|libsql|mariadb|mysql2?|oracledb|pg|pg-query-stream|sqlite3|tedious)(\/|$)/;

/** Bundles one Node program with all that it uses: one file is read sooner than hundreds. */
async function bundle(entry, outfile, isOutside) {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: ROOT,
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: true,
    // What was written for the older kind of module asks for these.
    banner: {
      js: [
        "import { createRequire as __createRequire } from 'node:module';",
        "import { fileURLToPath as __fileURLToPath } from 'node:url';",
        'const require = __createRequire(import.meta.url);',
        'const __filename = __fileURLToPath(import.meta.url);',
        "const __dirname = __fileURLToPath(new URL('.', import.meta.url));",
      ].join('\n'),
    },
    logLevel: 'warning',
    plugins: [
      {
        name: 'outside',
        setup(builder) {
          builder.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind !== 'entry-point' && isOutside(path) ? { path, external: true } : null,
          );
        },
      },
    ],
  });
}

/** The small page that holds the MIDI ports: a script of its own, without anything of the page's. */
async function bundleMidiFrame() {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: ROOT,
    entryPoints: ['web/src/midi/frame.ts'],
    outfile: 'web/dist/browser/midi.js',
    bundle: true,
    minify: true,
    platform: 'browser',
    target: 'es2022',
    format: 'esm',
    logLevel: 'warning',
  });
  copyFileSync(`${ROOT}/web/src/midi/midi.html`, `${ROOT}/web/dist/browser/midi.html`);
}

/** The page of a surface on glass: scripts and fonts of its own, and nothing of Rondo's own page. */
async function bundleGlass() {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: ROOT,
    entryPoints: { glass: 'web/src/glass/main.ts', style: 'web/src/glass/glass.css' },
    outdir: 'web/dist/browser/glass',
    entryNames: '[name]',
    bundle: true,
    minify: true,
    platform: 'browser',
    target: 'es2022',
    format: 'esm',
    loader: { '.woff2': 'file' },
    logLevel: 'warning',
  });
  copyFileSync(`${ROOT}/web/src/glass/index.html`, `${ROOT}/web/dist/browser/glass/index.html`);
}

const bundleOnce = (
  name,
  part,
  entry,
  outfile,
  sentence,
  isOutside = (path) => OUTSIDE.test(path),
) =>
  once(name, [...CORE, ...[part].flat()], outfile, () => {
    say(sentence);
    return bundle(entry, outfile, isOutside);
  });

export const buildCli = () =>
  bundleOnce(
    'cli',
    ['cli', 'store'],
    'cli/main.ts',
    'cli/dist/rondo.mjs',
    'Building the command …',
  );

export const buildServer = () =>
  bundleOnce(
    'server',
    ['server', 'store'],
    'server/main.ts',
    'server/dist/main.mjs',
    'Building the server …',
  );

export const buildBench = () =>
  bundleOnce(
    'bench',
    ['bench', 'web', 'e2e'],
    'bench/main.ts',
    'bench/dist/main.mjs',
    'Building the bench …',
    // It drives a browser with tools that load their own files; what is written for bundlers alone comes along.
    (path) => !path.startsWith('@rondo/') && !path.startsWith('jsonc-parser/'),
  );

export const buildWeb = () =>
  once('web', [...CORE, 'web'], 'web/dist/browser/index.html', () => {
    say('Building the page (half a minute) …');
    run(process.execPath, [`${ROOT}/node_modules/@angular/cli/bin/ng.js`, 'build'], {
      cwd: `${ROOT}/web`,
      env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    });
    return Promise.all([bundleMidiFrame(), bundleGlass()]);
  });

export async function buildAll() {
  await buildServer();
  await buildCli();
  await buildWeb();
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  await install();
  await buildAll();
}
