/** Bytes ↔ messages. */
export * from './message.js';
export * from './parser.js';
export * from './relative.js';
export * from './status.js';
export * from './text.js';
