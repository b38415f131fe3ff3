/** The profile: its schema, its edits, its demo. */
export * from './demo.js';
export * from './edit.js';
export * from './profile.js';
export * from './surfaces.js';
