/** The round: compile a profile, run it, tell how it went. */
export * from './bank.js';
export * from './beliefs.js';
export * from './compile.js';
export * from './engine.js';
export { setsAState } from './entering.js';
export { LookBook, usualReturns } from './look-book.js';
export { FINGER_LASTS } from './fingers.js';
export type { Notice, NoticeKind } from './notices.js';
export * from './outbox.js';
export * from './plan.js';
export type { MotorTest } from './returns.js';
export * from './shaper.js';
export * from './takeover.js';
export * from './trace.js';
