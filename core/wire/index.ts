/** Bytes ↔ messages. */
export * from './desk-writing.js';
export { isDeskSysex, decodeDesk } from './desk-reading.js';
export {
  DESK_UNITS,
  type DeskUnit,
  DESK_HEADER,
  DESK_STRIPS,
  DESK_LINE,
  DESK_TOUCH,
  RING_FORMS,
  type RingForm,
  LAMP_STATES,
  type LampState,
  type DeskMessage,
  type DeskSide,
} from './desk-messages.js';
export * from './identity.js';
export * from './message.js';
export * from './parser.js';
export * from './relative.js';
export * from './status.js';
export * from './text.js';
export * from './template.js';
export * from './note-names.js';
export * from './osc.js';
export * from './osc-pattern.js';
export * from './osc-stream.js';
export * from './osc-template.js';
export * from './glass.js';
export * from './keys.js';
export * from './net.js';
