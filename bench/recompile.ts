import { editBindings } from '@rondo/core/profile';
import { Engine, compile } from '@rondo/core/round';
import { logFor, toEngine } from './any-core.js';
import { table, timed } from './report.js';
import { manyBindings } from './round.js';

const BINDINGS = 5_000;
const EDITS = 20;
const LIMIT_MS = 50;

/** A large profile that runs, ready to be edited; and whether what it knew is still known. */
interface Recompiling {
  /** One edit: seconds to compile it, and to swap it in. */
  edit(): { compile: number; swap: number };
  isKept(): boolean;
}

/** A profile of 5 000 bindings that runs, with a value that its host has told. */
export function recompilingToRun(): Recompiling {
  const { profile, library } = manyBindings(BINDINGS);
  const plan = compile(profile, library);
  const engine = new Engine(plan, () => undefined);
  engine.log = logFor(plan);
  plan.links.forEach((_, link) => {
    engine.setInputOpen(link, true, 0);
    engine.setOutputOpen(link, true, 0);
  });
  // A value that the host has told, and that must still be known after every edit.
  const host = plan.links.length - 1;
  toEngine(engine, Float64Array.of(1_000), host, Uint8Array.of(0xb0, 7, 100, 0xb0, 39, 5), 6);
  const slot = plan.slots.findIndex(({ address }) => address === 'volume/1');
  const told = engine.beliefs.value[slot];
  let document = profile;
  let n = 0;
  const edit = () => {
    const id = document.bindingOrder[(n * 997) % BINDINGS];
    document = editBindings(document, 'Edit', [id], (binding) => {
      binding.feel = { takeover: n % 2 === 0 ? 'pickup' : 'jump' };
    }).document;
    let next = plan;
    const compiled = timed(() => {
      next = compile(document, library);
    });
    const swap = timed(() => engine.load(next, 2_000 + n));
    n++;
    return { compile: compiled, swap };
  };
  return { edit, isKept: () => told > 0 && engine.beliefs.value[slot] === told };
}

/** One edit of a large profile: compiled anew and swapped in under what runs. */
export function recompile(): void {
  const { edit, isKept } = recompilingToRun();
  const times = Array.from({ length: EDITS }, edit);
  const total = times.map(({ compile: c, swap }) => (c + swap) * 1_000).sort((a, b) => a - b);
  const kept = isKept();
  const worst = Math.max(...times.map(({ swap }) => swap * 1_000));
  table(`Recompiling after one edit of ${BINDINGS} bindings`, [
    ['median', `${total[EDITS / 2].toFixed(1)} ms`],
    ['longest', `${total[EDITS - 1].toFixed(1)} ms`],
    [
      `ratio of the median to the ${LIMIT_MS} ms asked for`,
      (total[EDITS / 2] / LIMIT_MS).toFixed(2),
    ],
    ['longest swap, for which traffic waits', `${worst.toFixed(1)} ms`],
    ['live state kept', kept ? 'yes' : 'NO'],
  ]);
  if (!kept) process.exitCode = 1;
}
