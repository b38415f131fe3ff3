/** What a movement says about a control. */
export * from './capture.js';
export { classify } from './classify.js';
export * from './guess.js';
export { infer, type Finding } from './infer.js';
export * from './lesson.js';
export { OscLesson } from './osc-lesson.js';
export * from './steps.js';
export * from './settle.js';
export * from './apply.js';
export * from './pairs.js';
export * from './row.js';
