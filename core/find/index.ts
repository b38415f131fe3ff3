/** Functions found by words, as people type them. */
export * from './search.js';
export * from './words.js';
