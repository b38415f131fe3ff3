/** The demo profiles, all invented. */
export * from './neap-rink.js';
export * from './nine-ferries.js';
