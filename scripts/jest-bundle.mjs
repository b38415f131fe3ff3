import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { build } from 'esbuild';
import angular from 'jest-preset-angular';
import { bundledFile, packagesKey } from './jest-packages.mjs';
import { ROOT, hashOf } from './lib.mjs';

/*
 * What Jest runs in place of a test file: the file with all that it imports of ours, as one module. Jest links ECMAScript
 * modules one by one in a context of its own, which took longer than most tests.
 */

/** Angular's own classes say at run time what its compiler would have written. */
const DECORATED = /^@(Component|Directive|Injectable|Pipe)\(/m;

/**
 * What a context's own global has is looked up through an interceptor each time; a constant is not. No name that a test may
 * replace: neither time nor timers.
 */
const CONSTANT = [
  ...['Math', 'Object', 'Number', 'Array', 'String', 'Map', 'Set', 'JSON', 'Reflect', 'Symbol'],
  ...['Uint8Array', 'Uint16Array', 'Uint32Array', 'Int8Array', 'Int16Array', 'Int32Array'],
  ...['Float32Array', 'Float64Array', 'ArrayBuffer', 'DataView', 'WeakMap', 'RegExp', 'Promise'],
];
const local = (name) => `__global_${name}`;

/** All that a test file may import: with any other of it the module is another one. */
const sources = [
  hashOf(['core', 'store', 'server', 'cli', 'web/src', 'web/testing', 'scripts/jest-bundle.mjs']),
  packagesKey(),
].join();

/** Has Angular's classes compiled as they are for a document that compiles templates itself. */
function angularPlugin(options) {
  const compiler = angular.default.createTransformer({
    tsconfig: `${ROOT}/web/tsconfig.spec.json`,
    diagnostics: false,
    useESM: true,
  });
  const done = new Map();
  return {
    name: 'angular',
    setup(builder) {
      builder.onLoad({ filter: /\/web\/src\/.*\.ts$/ }, async ({ path }) => {
        const known = done.get(path);
        if (known) return known;
        const source = await readFile(path, 'utf8');
        const result = DECORATED.test(source)
          ? { contents: compiler.process(source, path, options).code, loader: 'js' }
          : { contents: source, loader: 'ts' };
        done.set(path, result);
        return result;
      });
    },
  };
}

/** Our own packages come along; others are bundled once for all tests, or left to Jest. */
const packages = {
  name: 'packages',
  setup(builder) {
    builder.onResolve({ filter: /^[^./]/ }, ({ path: name, kind }) =>
      kind === 'entry-point' || name.startsWith('@rondo/')
        ? null
        : { path: bundledFile(name) ?? name, external: true },
    );
  },
};

/** @param page whether the tests are of the page, in a document of its own; then a file that prepares it comes first */
function transformer({ page = '' } = {}) {
  let plugins = null;
  return {
    getCacheKey: (source, path) =>
      createHash('sha256').update([sources, path, source].join('\0')).digest('hex'),
    async processAsync(source, path, options) {
      plugins ??= page ? [packages, angularPlugin(options)] : [packages];
      const { outputFiles } = await build({
        absWorkingDir: ROOT,
        entryPoints: [path],
        inject: [`${ROOT}/core/testing/count-ids.ts`, ...(page ? [`${ROOT}/${page}`] : [])],
        bundle: true,
        write: false,
        platform: 'node',
        target: 'node20',
        format: 'esm',
        sourcemap: 'inline',
        sourcesContent: false,
        sourceRoot: `${ROOT}/`,
        logLevel: 'error',
        loader: { '.html': 'text', '.css': 'text', '.woff2': 'empty' },
        define: Object.fromEntries(CONSTANT.map((name) => [name, local(name)])),
        banner: {
          js: [
            "import { createRequire as __createRequire } from 'node:module';",
            'const require = __createRequire(import.meta.url);',
            ...CONSTANT.map((name) => `const ${local(name)} = globalThis.${name};`),
          ].join(' '),
        },
        plugins,
      });
      return { code: outputFiles[0].text };
    },
  };
}

export default { createTransformer: transformer };
