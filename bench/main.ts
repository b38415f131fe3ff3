import { hosts } from './hosts.js';
import { page } from './page.js';
import { parsers } from './parser.js';
import { bindingsRatio, wholeRound } from './round.js';
import { teaching } from './teach.js';

const SECTIONS: Readonly<Record<string, () => void | Promise<void>>> = {
  parsers,
  round: wholeRound,
  bindings: bindingsRatio,
  teaching,
  hosts,
  page,
};

await SECTIONS[process.argv[2]]();
