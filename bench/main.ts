import { hosts } from './hosts.js';
import { page } from './page.js';
import { parsers } from './parser.js';
import { busy } from './busy.js';
import { recompile } from './recompile.js';
import { bindingsRatio, wholeRound } from './round.js';
import { teaching } from './teach.js';

const SECTIONS: Readonly<Record<string, () => void | Promise<void>>> = {
  parsers,
  round: wholeRound,
  bindings: bindingsRatio,
  busy,
  recompile,
  teaching,
  hosts,
  page,
};

await SECTIONS[process.argv[2]]();
