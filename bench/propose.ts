import { blankHost, modelOfHost, readChart } from '@rondo/core/host';
import { addHost, addSurface, emptyProfile } from '@rondo/core/profile';
import { propose } from '@rondo/core/propose';
import { blankSurface, type Control, type Surface } from '@rondo/core/surface';
import { HOST_MODELS } from '@rondo/core/host';
import { table } from './report.js';
import { quantile } from './traffic.js';

const CONTROLS = 200;
const FUNCTIONS = 1_500;
/** A proposal within so many ms. */
const MOST = 300;
const RUNS = 11;

/** Rows of faders, knobs and keys, as a large desk has them. */
const DESK: Surface = {
  ...blankSurface('bench-desk', 'Bench desk'),
  controls: Array.from({ length: CONTROLS }, (_, n): Control => {
    const row = Math.floor(n / 20);
    const kind = row < 2 ? 'fader' : row < 5 ? 'knob' : row < 9 ? 'button' : 'pad';
    const part = row < 5 ? 'value' : 'push';
    return {
      id: `c-${n}`,
      kind,
      label: `Control ${n}`,
      x: (n % 20) * 30,
      y: row * 40,
      width: 18,
      height: 18,
      sends: { [part]: { type: 'controller', channel: 1 + (n >> 7), number: n & 127 } },
      takes: {},
    };
  }),
};

/** How long a proposal takes for 200 controls, before the Studio and before a chart of 1 500 functions. */
export function proposals(): void {
  const lines = Array.from({ length: FUNCTIONS }, (_, n) => `Parameter ${n},NRPN ${n}`).join('\n');
  const chart = modelOfHost({ ...blankHost('chart', 'Chart'), rows: [...readChart(lines).rows] });
  const rows = [HOST_MODELS.get('studio') ?? chart, chart].map((model): [string, string] => {
    let profile = {
      ...emptyProfile('bench', 'Bench'),
      surfaces: {},
      surfaceOrder: [],
      hosts: {},
      hostOrder: [],
    };
    profile = addSurface(profile, DESK.id, DESK.name).document as typeof profile;
    profile = addHost(profile, model.id, model.name).document as typeof profile;
    const times = Array.from({ length: RUNS }, () => {
      const from = performance.now();
      propose(profile, [{ id: 'surface-1', surface: DESK }], [{ id: model.id, model }]);
      return performance.now() - from;
    });
    const middle = quantile(times, 0.5);
    if (middle > MOST) process.exitCode = 1;
    return [
      `${model.name}, ${model.functions.length} functions`,
      `median ${middle.toFixed(0)} ms, ratio of that to ${MOST} ms ${(middle / MOST).toFixed(2)}`,
    ];
  });
  table(`A proposal for ${CONTROLS} controls`, rows);
}
