/** The round: compile a profile, run it, tell how it went. */
export * from './forward/bank.js';
export * from './return/beliefs.js';
export { compile, compileInSlices } from './plan/compile.js';
export { mismatchOf, type Mismatch } from './plan/can-work.js';
export { notAvailable, slotOfAim } from './plan/not-available.js';
export * from './engine.js';
export type { RouteTraffic } from './forward/pass-on.js';
export { setsAState } from './plan/entering.js';
export { LookBook, usualReturns } from './plan/look-book.js';
export { FINGER_LASTS } from './forward/fingers.js';
export { LONGEST_SYSEX } from './forward/link-input.js';
export type { Notice, NoticeKind } from './cables/notices.js';
export * from './return/outbox.js';
export * from './plan/plan.js';
export type { MotorTest } from './return/motors.js';
export { REFRESH_EVERY } from './return/refresh.js';
export * from './plan/shaper.js';
export * from './trace.js';
