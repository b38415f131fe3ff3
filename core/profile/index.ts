/** The profile: its schema, its edits, its demo. */
export * from './action.js';
export * from './demo/index.js';
export * from './causes.js';
export * from './edit.js';
export * from './profile.js';
export * from './shape.js';
export * from './surfaces.js';
export * from './layers.js';
export * from './routes.js';
export * from './mirror.js';
export * from './series.js';
export * from './stands-in.js';
export * from './showings.js';
export * from './uses.js';
export * from './set-up.js';
export * from './usual.js';
export * from './versions.js';
