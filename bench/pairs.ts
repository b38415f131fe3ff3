import { busy } from './busy.js';
import { recompile } from './recompile.js';
import { wholeRound } from './round.js';

/** What is timed against another commit: built once with its core and once with ours. */
const SECTIONS: Readonly<Record<string, () => void>> = { round: wholeRound, busy, recompile };

SECTIONS[process.argv[2]]();
