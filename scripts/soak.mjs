import { buildAll, buildBench } from './build.mjs';
import { ROOT, install, run, say } from './lib.mjs';

await install();
await buildAll();
await buildBench();
say('Rondo behind another tab, as it is while people work. RONDO_SOAK_MINUTES says how long (20).');
run(process.execPath, [`${ROOT}/bench/dist/main.mjs`, 'soak'], { stdio: 'inherit' });
