export {
  AUTOMATION_STATES,
  CLIP_STATES,
  FOCUS_SLOTS,
  MARKERS,
  SCENES,
  USER_ACTIONS,
  VIEWS,
} from './choices.js';
export { INSERTS, SENDS } from './inserts.js';
export { STUDIO } from './studio.js';
