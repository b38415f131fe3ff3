import { table } from './report.js';
import { quantile } from './traffic.js';

/** Messages a second and how many of them one run sends. */
export const PER_SECOND = 1_000;
export const COUNT = 5_000;
const REPETITIONS = 5;
/** With the engine in the middle it takes at most so many times a bare echo, at 99 %. */
const MOST = 3;

/** The time, ms, of a clock that goes on. */
export const now = (): number => Number(process.hrtime.bigint()) / 1e6;

/** Sends messages numbered from 1 at an even pace, and gives what is under way a second more to come. */
export async function atPace(send: (n: number) => void, underWay: () => number): Promise<void> {
  const turn = () => new Promise((done) => setImmediate(done));
  const from = now();
  for (let n = 1; n <= COUNT; n++) {
    while (now() - from < (n * 1_000) / PER_SECOND) await turn();
    send(n);
  }
  const until = now() + 1_000;
  while (underWay() > 0 && now() < until) await turn();
}

/**
 * Runs an echo and the engine by turns, and reports how many times longer the engine takes.
 * @param title of the table
 * @param echo times of one run with nothing but an echo in the middle, ms
 * @param through times of one run with the engine in the middle, ms
 */
export async function besideEcho(
  title: string,
  echo: () => Promise<number[]>,
  through: () => Promise<number[]>,
): Promise<void> {
  const ratios: number[] = [];
  const rows: [string, string][] = [];
  let [lost, lostBare] = [0, 0];
  for (let n = 0; n < REPETITIONS; n++) {
    const bareTimes = await echo();
    const times = await through();
    // The figures are of what arrived; UDP may lose some, and whoever has lost half has measured nothing.
    lost = Math.max(lost, COUNT - times.length);
    lostBare = Math.max(lostBare, COUNT - bareTimes.length);
    if (Math.min(times.length, bareTimes.length) < COUNT / 2) {
      rows.push([
        `run ${n + 1}`,
        `${times.length} of ${COUNT} arrived, ${bareTimes.length} in the echo`,
      ]);
      continue;
    }
    const bare = quantile(bareTimes, 0.99);
    const p99 = quantile(times, 0.99);
    ratios.push(p99 / bare);
    rows.push([
      `run ${n + 1}`,
      `median ${quantile(times, 0.5).toFixed(2)} ms, 99 % ${p99.toFixed(2)} ms; a bare echo ${bare.toFixed(2)} ms`,
    ]);
  }
  const middle = ratios.length > 0 ? quantile(ratios, 0.5) : NaN;
  if (!(middle <= MOST)) process.exitCode = 1;
  table(title, [
    ...rows,
    [`lost of ${COUNT}, at most in one run`, `${lost}; ${lostBare} in the echo`],
    ['ratio at 99 %, median of the runs', `${middle.toFixed(2)} (at most ${MOST})`],
  ]);
}
