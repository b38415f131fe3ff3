import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { format } from 'prettier';
import { ROOT, say } from './lib.mjs';

/* Writes docs/schema from the schemas of the sources; a test fails where they are not the same. */
const outfile = join(ROOT, 'node_modules', '.cache', 'rondo-schema.mjs');
await build({
  absWorkingDir: ROOT,
  entryPoints: ['core/formats/schema.ts'],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  logLevel: 'warning',
  packages: 'external',
  alias: Object.fromEntries(
    ['document', 'host', 'profile', 'surface', 'wire'].map((room) => [
      `@rondo/core/${room}`,
      join(ROOT, 'core', room, 'index.ts'),
    ]),
  ),
});
const { jsonSchemas } = await import(pathToFileURL(outfile).href);
rmSync(outfile);
const folder = join(ROOT, 'docs', 'schema');
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(jsonSchemas())) {
  const text = await format(JSON.stringify(schema), { parser: 'json', printWidth: 100 });
  writeFileSync(join(folder, `${name}.json`), text);
}
say(`Schemas written: ${Object.keys(jsonSchemas()).join(', ')}.`);
