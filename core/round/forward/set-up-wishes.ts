import type { Notices } from '../cables/notices.js';
import type { Plan } from '../plan/plan.js';

/** Set-ups that are asked for within this time, µs: the second is cut. */
const BETWEEN_SET_UPS = 1_000_000;

/** What set-up a control has asked for: Rondo's owner goes over to it. */
export class SetUpWishes {
  /** The one that was asked for last, by its id; '' before any was. */
  last = '';
  /** Counts what was asked. */
  version = 0;
  private askedAt = -Infinity;

  /**
   * @param notices is told what was cut
   * @param clock the time now, µs, in its first place
   */
  constructor(
    private readonly notices: Notices,
    private readonly clock: Float64Array,
  ) {}

  /** An action goes over to a set-up. A second one at once is cut, and that is told. */
  goTo(plan: Plan, action: number): void {
    const { action: said, binding } = plan.actions[action] ?? {};
    if (said?.do !== 'setUp') return;
    if (this.clock[0] - this.askedAt < BETWEEN_SET_UPS) {
      const control = plan.bindings.find(({ id }) => id === binding);
      const link = plan.parts[control?.part ?? -1]?.link ?? 0;
      this.notices.say(
        'setUps',
        plan.links[link]?.key ?? '',
        `“${said.name}” was asked for less than a second after another set-up. Rondo stays with the first: two that call each other would go on for ever.`,
      );
      return;
    }
    this.askedAt = this.clock[0];
    this.last = said.setUp;
    this.version++;
  }
}
