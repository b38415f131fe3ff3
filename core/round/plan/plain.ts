import type { ActionPlan } from './binding-plan.js';
import type { Link } from './link-plan.js';
import type { Plan } from './plan.js';
import type { UntabledPlan } from './untabled-plan.js';

/** A link as those know it who only look at a plan. */
export type PlainLink = Omit<Link, 'map' | 'senders' | 'musicalNotes'>;
/** An action as those know it who only look at a plan. */
export type PlainAction = Omit<ActionPlan, 'shaper' | 'message' | 'osc'>;

/**
 * A plan for those who look at it and do not run it: nothing in it has methods, so that it can be posted from one thread
 * to another. Every {@link Plan} is one.
 */
export interface PlainPlan extends Omit<UntabledPlan, 'links' | 'actions'> {
  readonly links: readonly PlainLink[];
  readonly actions: readonly PlainAction[];
}

/** What of a plan can be posted. */
export function plainOf(plan: Plan): PlainPlan {
  const { tables: _, links, actions, ...plain } = plan;
  return {
    ...plain,
    links: links.map(
      ({ map: _map, senders: _senders, musicalNotes: _musicalNotes, ...link }) => link,
    ),
    actions: actions.map(({ shaper: _shaper, message: _message, osc: _osc, ...action }) => action),
  };
}
