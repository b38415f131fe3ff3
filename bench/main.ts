import { files } from './files.js';
import { glass } from './glass.js';
import { hosts } from './hosts.js';
import { osc } from './osc.js';
import { page } from './page.js';
import { proposals } from './propose.js';
import { parsers } from './parser.js';
import { busy } from './busy.js';
import { recompile } from './recompile.js';
import { bindingsRatio, wholeRound } from './round.js';
import { soak, throughPage } from './cables.js';
import { setUps } from './set-ups.js';
import { teaching } from './teach.js';
import { through } from './through.js';
import { wires } from './wires.js';

const SECTIONS: Readonly<Record<string, () => void | Promise<void>>> = {
  parsers,
  round: wholeRound,
  bindings: bindingsRatio,
  busy,
  recompile,
  teaching,
  wires,
  hosts,
  page,
  setUps,
  proposals,
  files,
  osc,
  glass,
  through,
  throughPage,
  soak,
};

await SECTIONS[process.argv[2]]();
