/** Simulated surfaces and hosts. They and the engine know each other by bytes alone. */
export * from './booth.js';
export * from './cable.js';
export * from './codec/habits.js';
export * from './desk.js';
export * from './desk-program.js';
export * from './host.js';
export * from './hosts.js';
export * from './plain-host.js';
export * from './studio.js';
export * from './wire.js';
export * from './world.js';
