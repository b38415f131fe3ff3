import type { Tables } from './tables.js';
import type { UntabledPlan } from './untabled-plan.js';

/** A profile made ready to run. It never changes. */
export interface Plan extends UntabledPlan {
  readonly tables: Tables;
}
