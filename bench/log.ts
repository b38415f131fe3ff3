import { RoundLog, type Plan } from '@rondo/core/round';

/** A recorder for a plan; of a core that made them otherwise, too. */
export const logFor = (plan: Plan): RoundLog =>
  'for' in RoundLog
    ? RoundLog.for(plan)
    : new (RoundLog as unknown as new (parts: number) => RoundLog)(plan.parts.length);
