export { BOOTH } from './booth.js';
export {
  CURVES,
  DECKS,
  EFFECTS,
  EFFECT_UNITS,
  HOT_CUES,
  KEY_SHIFTS,
  LENGTHS,
  PITCH_RANGES,
  SAMPLERS,
  SIDES,
  STEMS,
  STEM_GROUPS,
} from './sizes.js';
