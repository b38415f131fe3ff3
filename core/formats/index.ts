/** Documents as they travel: Rondo's own file, and what differs between two of them. */
export * from './diff.js';
export { faultPlace } from './json-text.js';
export * from './rondo-file.js';
export * from './schema.js';
export * from './summary.js';
