import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileOf, fileText, profileDifferences, readFileText } from '@rondo/core/formats';
import { nineFerriesMix, type Binding, type Profile } from '@rondo/core/profile';
import { importFile, openDatabase } from '@rondo/store';
import { table } from './report.js';
import { quantile } from './traffic.js';

const BINDINGS = 5_000;
const RUNS = 9;
/** Reading, checking and importing, and comparing two versions, within so many ms. */
const MOST_IMPORT = 1_000;
const MOST_COMPARE = 500;

/** A profile with so many bindings: those of the demo, over and over, on layers of their own. */
function large(id: string, every: number): Profile {
  const demo = nineFerriesMix(id);
  const all = demo.bindingOrder.map((key) => demo.bindings[key]).filter(({ control }) => control);
  const layers: Profile['layers'] = { ...demo.layers };
  const bindings: Record<string, Binding> = {};
  for (let n = 0; n < BINDINGS; n++) {
    const layer = `layer-${Math.floor(n / all.length)}`;
    layers[layer] = { id: layer, label: layer };
    const binding = { ...all[n % all.length], id: `b-${n}`, layer };
    bindings[binding.id] = n % every === 0 ? { ...binding, pinned: true } : binding;
  }
  return {
    ...demo,
    layers,
    layerOrder: Object.keys(layers),
    bindings,
    bindingOrder: Object.keys(bindings),
  };
}

/** How long a file of 5 000 bindings takes to be taken in, and two versions of it to be compared. */
export async function files(): Promise<void> {
  const shelf = { surface: () => null, host: () => null };
  const text = fileText(fileOf([large('large', BINDINGS)], shelf));
  const folder = mkdtempSync(join(tmpdir(), 'rondo-bench-'));
  const taken: number[] = [];
  try {
    const db = await openDatabase(join(folder, 'rondo.sqlite'));
    for (let n = 0; n < RUNS; n++) {
      const from = performance.now();
      const read = readFileText(text);
      if (!read.ok) throw new Error(read.faults[0].message);
      const [done] = await importFile(db, read.file, n === 0 ? undefined : 'new');
      if (done.did !== 'new' && done.did !== 'same') throw new Error(done.did);
      taken.push(performance.now() - from);
    }
    await db.destroy();
  } finally {
    rmSync(folder, { recursive: true });
  }
  const [before, after] = [large('large', BINDINGS), large('large', 10)];
  const compared = Array.from({ length: RUNS }, () => {
    const from = performance.now();
    if (profileDifferences(before, after, []).length < 100) throw new Error('They differ by more.');
    return performance.now() - from;
  });
  const [a, b] = [quantile(taken, 0.5), quantile(compared, 0.5)];
  if (a > MOST_IMPORT || b > MOST_COMPARE) process.exitCode = 1;
  const row = (value: number, most: number) =>
    `median ${value.toFixed(0)} ms, ratio of that to ${most} ms ${(value / most).toFixed(2)}`;
  table(`A file of ${BINDINGS} bindings (${(text.length / 1e6).toFixed(1)} MB)`, [
    ['read, checked and imported', row(a, MOST_IMPORT)],
    ['two versions compared', row(b, MOST_COMPARE)],
  ]);
}
