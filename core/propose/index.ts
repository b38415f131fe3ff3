/** Whole profiles proposed: which control could do what, by rules that are data. */
export { PURPOSES, PURPOSE_WORDS, type Purpose } from './purposes.data.js';
export * from './known.js';
export * from './propose.js';
export { LAST_STRIP, inStrip, rowsOf, stripsOf } from './strips.js';
