/** Where documents are kept: a data folder, its database, what is read from and written into it as a whole. */
export * from './backup.js';
export * from './database.js';
export * from './documents.js';
export * from './files.js';
export * from './folder.js';
export * from './live.js';
export * from './requests.js';
export * from './settings.js';
export * from './thinning.js';
export * from './upkeep.js';
