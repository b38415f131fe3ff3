import { parsers } from './parser.js';
import { bindingsRatio, wholeRound } from './round.js';

const SECTIONS: Readonly<Record<string, () => void>> = {
  parsers,
  round: wholeRound,
  bindings: bindingsRatio,
};

SECTIONS[process.argv[2]]();
