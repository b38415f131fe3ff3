import { BOOTH, STUDIO } from '@rondo/core/host';
import { Booth } from './booth.js';
import type { SimulatedHost } from './host.js';
import { Studio } from './studio.js';

type Emit = (bytes: Uint8Array, from: number, to: number) => void;

/** The hosts that have a simulation, by their model's id. */
export const SIMULATIONS: ReadonlyMap<string, (emit: Emit) => SimulatedHost> = new Map([
  [STUDIO.id, (emit: Emit): SimulatedHost => new Studio(emit)],
  [BOOTH.id, (emit: Emit): SimulatedHost => new Booth(emit)],
]);
