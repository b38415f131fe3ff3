import type { EngineServices } from '../engine-services.js';
import type { State } from '../live/state.js';
import type { Plan } from '../plan/plan.js';
import type { RoundContext } from '../round-context.js';
import type { Outbox } from './outbox.js';
import type { Rendering } from './rendering.js';

/** How often an idle surface is shown one of its outputs again, µs: all of a desk in some ten seconds. */
export const REFRESH_EVERY = 100_000;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly rendering: Rendering;
}

/** Shows surfaces again what they should show already: all of it soon after a change of layer or bank, else now and then. */
export class Refresh {
  private readonly plan: Plan;
  private readonly services: EngineServices;
  private readonly outboxes: readonly Outbox[];
  private readonly rendering: Rendering;
  /** When each surface's slow refresh goes on, µs. */
  private readonly at: Float64Array;
  /** Outputs of each surface that are still to be sent once more after a change of layer or bank. */
  private readonly unpainted: Int32Array;
  private readonly outCount: Int32Array;

  constructor(round: Needs) {
    const { state }: { state: State } = round;
    this.plan = round.plan;
    this.services = round.services;
    this.outboxes = round.outboxes;
    this.rendering = round.rendering;
    this.at = state.refreshAt;
    this.unpainted = state.unpainted;
    this.outCount = Int32Array.from(this.plan.links, ({ kind, count }) =>
      kind === 'surface' ? count : 0,
    );
  }

  /** The output of a link has been opened: it is refreshed from now on; or closed. */
  open(link: number, open: boolean): void {
    this.at[link] =
      open && this.outCount[link] > 0 ? this.services.clock[0] + REFRESH_EVERY : Infinity;
    this.unpainted[link] = 0;
  }

  /** After a change of layer or bank all follows what has been sent as the difference, as the wires have room. */
  hurry(): void {
    for (let link = 0; link < this.outCount.length; link++) {
      if (!this.outboxes[link].open) continue;
      this.unpainted[link] = this.outCount[link];
    }
  }

  private dueOf(link: number): number {
    const box = this.outboxes[link];
    if (!box.open) return Infinity;
    if (this.unpainted[link] === 0) return this.at[link];
    // What is due goes first; the rest follows as the wire is free.
    if (!box.isIdle) return Infinity;
    return box.free;
  }

  /** When one more output is shown again, µs; {@link advance} is needed by then. */
  get deadline(): number {
    let next = Infinity;
    for (let link = 0; link < this.at.length; link++) next = Math.min(next, this.dueOf(link));
    return next;
  }

  /** Where a surface's output has nothing to do, one more of what it shows is sent again. */
  advance(): void {
    const now = this.services.clock[0];
    for (let link = 0; link < this.at.length; link++) {
      if (now < this.dueOf(link)) continue;
      if (this.outboxes[link].isIdle) this.rendering.refresh(link);
      if (this.unpainted[link] > 0) this.unpainted[link]--;
      // What has been sent in a hurry makes the slow round begin anew.
      this.at[link] = now + REFRESH_EVERY;
    }
  }
}
