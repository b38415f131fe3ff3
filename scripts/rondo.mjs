import { spawn } from 'node:child_process';
import { buildCli } from './build.mjs';
import { ROOT, install } from './lib.mjs';

await install();
await buildCli();
const child = spawn(process.execPath, [`${ROOT}/cli/dist/rondo.mjs`, ...process.argv.slice(2)], {
  stdio: 'inherit',
});
child.on('exit', (code, signal) => {
  process.exitCode = signal ? 1 : code;
});
