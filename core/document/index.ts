/** What all documents share: edits that can be taken back, and faults with their path. */
export * from './edit.js';
export * from './fault.js';
export * from './order.js';
export * from './shared.js';
