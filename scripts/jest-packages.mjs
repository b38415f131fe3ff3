import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { join } from 'node:path';
import { build } from 'esbuild';
import { ROOT, say } from './lib.mjs';

/*
 * Packages as few modules: Jest links ECMAScript modules one by one in a context of its own, for each test file anew, and
 * some packages have hundreds. They are bundled once for as long as the lock file stays.
 */

const FOLDER = join(ROOT, 'node_modules/.rondo/jest-packages');
/** What is bundled, by the name that it is imported by. All else is left to Jest. */
const BUNDLED =
  /^(@angular\/|@ngrx\/|@primeuix\/|primeng\/|rxjs|d3$|jest-preset-angular\/setup-env|zod$|fast-check$|immer$|culori|idb-keyval$|dequal$|safe-stable-stringify$|pure-rand|transliteration$|fast-json-patch$|munkres$|osc-min$|jsonc-parser\/|papaparse$|tinykeys$|uqr$)/;
const PARTS = ['core', 'web/src', 'web/testing'];

const importsIn = (text) =>
  [...text.matchAll(/(?:from|import) '([^.'][^']*)'/g)].map(([, name]) => name);

function* sourcesBelow(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory() && entry.name !== 'node_modules' && entry.name !== 'dist')
      yield* sourcesBelow(path);
    else if (entry.name.endsWith('.ts')) yield path;
  }
}

/** Names of all that is bundled, as the sources import it. */
function namesUsed() {
  const names = PARTS.flatMap((part) => [...sourcesBelow(join(ROOT, part))]).flatMap((path) =>
    importsIn(readFileSync(path, 'utf8')),
  );
  return [...new Set(names)].filter((name) => BUNDLED.test(name)).sort();
}

const fileOf = (name) =>
  `${name
    .replaceAll('/', '__')
    .replaceAll('@', '_')
    .replace(/\.m?js$/, '')}`;

/** The file of a package that is bundled; null for one that is not. */
export function bundledFile(name) {
  if (!BUNDLED.test(name)) return null;
  const file = join(FOLDER, `${fileOf(name)}.mjs`);
  return existsSync(file) ? file : null;
}

/** What the bundles were made of: with other packages, or other names, they are made anew. */
export function packagesKey() {
  const names = namesUsed();
  return createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .update(readFileSync(new URL(import.meta.url)))
    .update(names.join('\n'))
    .digest('hex');
}

/** Bundles all of them, unless that was done for the same. Jest calls it before its workers begin. */
export default async function bundlePackages() {
  const stamp = join(FOLDER, 'key');
  const key = packagesKey();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === key) return;
  say('Bundling packages for the tests …');
  rmSync(FOLDER, { recursive: true, force: true });
  mkdirSync(FOLDER, { recursive: true });
  const { metafile } = await build({
    absWorkingDir: ROOT,
    metafile: true,
    entryPoints: namesUsed().map((name) => ({ in: name, out: fileOf(name) })),
    outdir: FOLDER,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    // Neither Node's nor a browser's: packages of modules, not those for `require`.
    platform: 'neutral',
    conditions: ['module', 'es2015'],
    mainFields: ['module', 'main'],
    external: builtinModules,
    nodePaths: [join(ROOT, 'web/node_modules')],
    target: 'node20',
    format: 'esm',
    logLevel: 'error',
    banner: {
      js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);",
    },
  });
  // What is no module gives no names: it is left to Jest, which finds them.
  for (const [path, { entryPoint, exports }] of Object.entries(metafile.outputs))
    if (entryPoint && metafile.inputs[entryPoint].format === 'cjs' && exports.length <= 1)
      rmSync(join(ROOT, path));
  writeFileSync(stamp, key);
}
