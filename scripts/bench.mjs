import { cpus } from 'node:os';
import { buildAll, buildBench } from './build.mjs';
import { against } from './bench-against.mjs';
import { ROOT, install, run, say } from './lib.mjs';

if (process.argv[2] === 'against') {
  await against(process.argv[3]);
  process.exit();
}
await install();
await buildAll();
await buildBench();
say(`Node ${process.version}, ${cpus().length} × ${cpus()[0].model}`);
const missed = [];
// A process each, so that one section's types do not slow another's code.
for (const section of [
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
]) {
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
