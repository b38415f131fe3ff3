/** Surfaces, their controls, and what these send and take. */
import { GENERIC } from './stock/generic.js';
import { HARROW_8, HARROW_8_SIDE } from './stock/harrow8.js';
import { BURROW_14, COBBLE_64, CROSSTIE_2, PANE, PLINTH_32, TREADLE } from './stock/invented.js';
import { SILL } from './stock/sill.js';
import { WHOLE_DESK } from './stock/whole-desk.js';
import type { Surface } from './surface.js';

export * from './cables.js';
export * from './colour.js';
export * from './feel.js';
export * from './findings.js';
export * from './glow.js';
export * from './kinds.js';
export * from './layout.js';
export { type Run, LONGEST_RUN, countLabel, numberedRun, makeRun } from './numbered-run.js';
export * from './palette.js';
export * from './plain-text.js';
export * from './played-notes.js';
export * from './pattern.js';
export * from './heard.js';
export * from './link-decoder.js';
export { HALF_WAITS, HIGHS_ALONE } from './half-values.js';
export { MessageMap } from './message-map.js';
export { MOST_TOLD, type OscHeard, type OscTold } from './osc-hearing.js';
export { RING_STYLES } from './ring-wire.js';
export * from './sender.js';
export { textOfCells } from './time-cells.js';
export * from './surface.js';
export * from './unknown.js';
export {
  BURROW_14,
  COBBLE_64,
  CROSSTIE_2,
  HARROW_8,
  HARROW_8_SIDE,
  PANE,
  PLINTH_32,
  TREADLE,
  WHOLE_DESK,
};

/** The surfaces that ship with Rondo, by id. */
export const STOCK_SURFACES: ReadonlyMap<string, Surface> = new Map(
  [
    HARROW_8,
    HARROW_8_SIDE,
    BURROW_14,
    COBBLE_64,
    TREADLE,
    PLINTH_32,
    CROSSTIE_2,
    PANE,
    SILL,
    WHOLE_DESK,
    ...GENERIC,
  ].map((surface) => [surface.id, surface]),
);
export * from './sheets.js';
export * from './lamp.js';
