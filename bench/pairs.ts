import { busyToRun } from './busy.js';
import { recompilingToRun } from './recompile.js';
import { timed } from './report.js';
import { wholeRoundToRun } from './round.js';

/** Seconds that a stretch of work took, by the name of what was timed. */
type Stretch = Readonly<Record<string, number>>;

/**
 * What is timed against another commit, each made ready once and then run a stretch at a time: this file is built once
 * with that commit's core and once with ours, and both are loaded into one process to be run by turns.
 */
export const SECTIONS: Readonly<Record<string, () => () => Stretch>> = {
  round: () => {
    const { run } = wholeRoundToRun();
    return () => ({ 'whole round': timed(() => run(2_000)) });
  },
  busy: () => {
    const { run } = busyToRun();
    return () => ({ 'full demo': timed(() => run(20_000)) });
  },
  recompile: () => {
    const { edit } = recompilingToRun();
    return () => {
      const { compile, swap } = edit();
      return { 'recompiling 5 000 bindings': compile + swap, 'wait of the traffic': swap };
    };
  },
};
