import { spawn } from 'node:child_process';
import { ROOT, install, say } from './lib.mjs';

const MIN_NODE = 20;
if (Number(process.versions.node.split('.')[0]) < MIN_NODE) {
  say(`Rondo needs Node.js ${MIN_NODE} or newer; this is ${process.version}.`);
  process.exit(1);
}
await install();
const { buildAll } = await import('./build.mjs');
await buildAll();
say('Starting …');
const server = spawn(process.execPath, ['--enable-source-maps', `${ROOT}/server/dist/main.mjs`], {
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code, signal) => {
  process.exitCode = signal ? 0 : code;
});
