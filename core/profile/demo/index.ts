/** The demo profiles, all invented. */
export * from './far-shore.js';
export * from './neap-rink.js';
export * from './nine-ferries.js';
