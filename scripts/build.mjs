import { copyFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { ROOT, install, once, run, say } from './lib.mjs';

const CORE = ['core', 'package-lock.json', 'scripts/build.mjs', 'tsconfig.base.json'];

/** Bundles one Node program; packages of the registry stay outside, our own sources go in. */
async function bundle(entry, outfile) {
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
    logLevel: 'warning',
    plugins: [
      {
        name: 'registry-packages-outside',
        setup(builder) {
          builder.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind === 'entry-point' || path.startsWith('@rondo/') ? null : { path, external: true },
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

const bundleOnce = (name, part, entry, outfile, sentence) =>
  once(name, [...CORE, ...[part].flat()], outfile, () => {
    say(sentence);
    return bundle(entry, outfile);
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
