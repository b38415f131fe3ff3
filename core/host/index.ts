/** Hosts: what they can do, in which unit, and the messages for it. */
import type { HostModel } from './catalogue.js';
import { BOOTH } from './booth/index.js';
import { STUDIO } from './studio/index.js';

export * from './catalogue.js';
export * from './chart.js';
export { feedbackText, rangeText, readCell, readFeedback, withRange } from './chart-cell.js';
export * from './chart-text.js';
export * from './expected.js';
export * from './lantern.js';
export * from './placard.js';
export * from './host-rows.js';
export * from './law.js';
export * from './message-host.js';
export * from './numbered.js';
export * from './booth/index.js';
export * from './records.js';
export * from './resolve.js';
export * from './studio/index.js';

/** The hosts that ship with Rondo, by id. */
export const HOST_MODELS: ReadonlyMap<string, HostModel> = new Map(
  [STUDIO, BOOTH].map((model) => [model.id, model]),
);
