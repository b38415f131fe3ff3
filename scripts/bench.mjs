import { cpus } from 'node:os';
import { buildAll, buildBench } from './build.mjs';
import { against } from './bench-against.mjs';
import { ROOT, install, run, say } from './lib.mjs';

const SECTIONS = [
  'parsers',
  'round',
  'bindings',
  'busy',
  'recompile',
  'teaching',
  'wires',
  'hosts',
  'proposals',
  'files',
  'osc',
  'glass',
  'page',
  'setUps',
  'through',
  'throughPage',
];

/* `npm run bench` measures all sections, `npm run bench -- SECTION …` some, `npm run bench -- against COMMIT` two cores. */

const [first, ...more] = process.argv.slice(2);
if (first === 'against') {
  await against(more[0]);
  process.exit();
}
const asked = first === undefined ? SECTIONS : [first, ...more];
const unknown = asked.find((name) => !SECTIONS.includes(name));
if (unknown !== undefined) {
  say(`There is no section “${unknown}”. There are: ${SECTIONS.join(', ')}.`);
  process.exit(2);
}
await install();
await buildAll();
await buildBench();
say(`Node ${process.version}, ${cpus().length} × ${cpus()[0].model}`);
const missed = [];
// A process each, so that one section's types do not slow another's code.
for (const section of asked) {
  // One that misses its mark does not keep the others from being measured.
  try {
    // Node also collects by the clock, where little is left to collect: only what the work leaves is to be counted.
    run(process.execPath, ['--no-memory-reducer', `${ROOT}/bench/dist/main.mjs`, section], {
      stdio: 'inherit',
    });
  } catch {
    missed.push(section);
  }
}
if (missed.length > 0) {
  say(`Missed their marks: ${missed.join(', ')}.`);
  process.exitCode = 1;
}
