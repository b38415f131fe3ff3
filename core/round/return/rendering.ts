import { RING_STYLES, type Sender } from '@rondo/core/surface';
import type { EngineServices } from '../engine-services.js';
import { LONG_AGO, NOTHING_SHOWN, type State } from '../live/state.js';
import { OutputColumn } from '../plan/columns.js';
import { Shows } from '../plan/out-plan.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { OutputTargets } from './output-targets.js';
import { DOUBT, type Beliefs } from './beliefs.js';
import type { DueOuts } from './due-outs.js';
import type { Lights } from './lights.js';
import type { Meters } from './meters.js';
import { LET_ALONE, type Motors } from './motors.js';
import type { Sight } from './sight.js';
import type { TextFields } from './text-fields.js';

const NONE = new Int32Array(0);

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly targets: OutputTargets;
  readonly dueOuts: DueOuts;
  readonly fields: TextFields;
  readonly lights: Lights;
  readonly meters: Meters;
  readonly motors: Motors;
  readonly sight: Sight;
}

/** Writes what outputs are due, each in its own way, and remembers what was written. */
export class Rendering {
  private readonly tables: Tables;
  private readonly state: State;
  private readonly services: EngineServices;
  private readonly senders: readonly Sender[];
  private readonly beliefs: Beliefs;
  private readonly sight: Sight;
  private readonly targets: OutputTargets;
  private readonly dueOuts: DueOuts;
  private readonly lights: Lights;
  private readonly motors: Motors;
  private readonly meters: Meters;
  private readonly fields: TextFields;
  private readonly seen = new Float64Array(1);
  /** The form of ring that fits each slot, its place in {@link RING_STYLES}. */
  private readonly fitting: Uint8Array;
  // Of the state, what every output needs.
  private readonly shown: Int32Array;
  private readonly shownAt: Float64Array;
  private readonly tried: Int32Array;
  /** What the outputs of each link show, side by side. */
  private readonly beside: readonly Int32Array[];

  constructor(round: Needs) {
    this.tables = round.tables;
    this.state = round.state;
    this.services = round.services;
    this.senders = round.senders;
    this.beliefs = round.beliefs;
    this.sight = round.sight;
    this.targets = round.targets;
    this.dueOuts = round.dueOuts;
    this.lights = round.lights;
    this.motors = round.motors;
    this.meters = round.meters;
    this.fields = round.fields;
    this.shown = round.state.shown;
    this.shownAt = round.state.shownAt;
    this.tried = round.state.tried;
    this.fitting = Uint8Array.from(round.plan.slots, ({ law }) =>
      RING_STYLES.indexOf(law === 'pan' ? 'fromCentre' : 'fromEnd'),
    );
    this.beside = round.plan.links.map(({ kind, first, count }) =>
      kind === 'surface' ? this.shown.subarray(first, first + count) : NONE,
    );
  }

  /** Writes what an output is due at `buffer[bufferAt…]`; returns its bytes, 0 where nothing needs to be sent. */
  render(out: number, buffer: Uint8Array, bufferAt: number): number {
    const at = out * OutputColumn.Width;
    const shows = this.tables.outs[at + OutputColumn.Shows] as Shows;
    if (shows === Shows.Text) return this.fields.render(out, buffer, bufferAt);
    const wire = this.wanted(out, shows);
    if (wire === LET_ALONE) return 0;
    if (shows === Shows.Meter) return this.meters.render(out, wire, buffer, bufferAt);
    const { shown, shownAt } = this;
    if (wire === shown[out]) return 0;
    if (shows === Shows.Motor) {
      // A motor is told no more than its rate allows; what it misses comes in its time.
      const due = shownAt[out] + this.targets.motorGaps[out];
      if (this.services.clock[0] < due && shown[out] >= 0) {
        this.dueOuts.waitUntil(out, due);
        return 0;
      }
    }
    shown[out] = wire;
    shownAt[out] = this.services.clock[0];
    if (shows === Shows.Motor) this.motors.driven(out, wire);
    const link = this.tables.outs[at + OutputColumn.Link];
    const local = this.tables.outs[at + OutputColumn.Local];
    return this.senders[link].write(local, wire, buffer, bufferAt, this.beside[link]);
  }

  /** What an output should show now, as it goes over the wire; {@link LET_ALONE} where nothing is to be sent. */
  private wanted(out: number, shows: Shows): number {
    const tried = this.tried[out];
    if (tried >= 0) return tried;
    if (shows === Shows.Motor) return this.motors.wanted(out);
    if (shows === Shows.Light) return this.light(out);
    const { rule, slot } = this.targets.resolved[out];
    const at = out * OutputColumn.Width;
    const sender = this.senders[this.tables.outs[at + OutputColumn.Link]];
    const local = this.tables.outs[at + OutputColumn.Local];
    const isSeen = rule.feedback && slot >= 0 && this.sight.see(slot, this.seen, 0);
    if (shows === Shows.Ring)
      return isSeen ? this.ring(out, sender, local) : sender.wire(local, -1);
    return isSeen ? sender.wireAt(local, this.seen, 0) : 0;
  }

  private light(out: number): number {
    const resolved = this.targets.resolved[out];
    const wire = this.lights.wire(out, resolved);
    this.lights.keep(out);
    // What nobody has confirmed by then is assumed, and may look so.
    if (resolved.slot >= 0 && this.beliefs.isFresh(resolved.slot))
      this.dueOuts.waitUntil(out, this.services.clock[0] + DOUBT);
    if (resolved.shown !== null && resolved.rule.peak > 0) {
      const end = this.lights.peakEnd(resolved);
      if (end < Infinity) this.dueOuts.waitUntil(out, end);
    }
    return wire;
  }

  private ring(out: number, sender: Sender, local: number): number {
    const { rule, slot } = this.targets.resolved[out];
    const as = this.beliefs.extra[slot];
    // A ring that came as a ring is shown as it came, unless the user wants it otherwise.
    if (as >= 0 && rule.ring === 'fit' && !rule.invert)
      return sender.ringAs(local, as, this.seen, 0);
    if (rule.invert) this.seen[0] = 1 - this.seen[0];
    const style = rule.ring === 'fit' ? this.fitting[slot] : RING_STYLES.indexOf(rule.ring);
    return sender.ringAt(local, style, this.seen, 0);
  }

  /** What a surface shows is not known any more: everything is due. */
  repaint(link: number): void {
    const { outs } = this.tables;
    const { shown, shownAt } = this;
    const { overload } = this.state;
    for (let out = 0; out < shown.length; out++) {
      if (outs[out * OutputColumn.Width + OutputColumn.Link] !== link) continue;
      shown[out] = NOTHING_SHOWN;
      shownAt[out] = LONG_AGO;
      overload[out] = 0;
      this.dueOuts.add(out);
    }
  }

  /** Shows one more output of a link again, as if nothing were known of it: a device may have been off meanwhile. */
  refresh(link: number): void {
    const { outs } = this.tables;
    const { shown } = this;
    const { refreshed } = this.state;
    const count = shown.length;
    for (let n = 0; n < count; n++) {
      const out = (refreshed[link] + n) % count;
      const at = out * OutputColumn.Width;
      const shows = outs[at + OutputColumn.Shows] as Shows;
      if (outs[at + OutputColumn.Link] !== link || shown[out] < 0) continue;
      // A meter falls by itself, and a hand knows where its fader is.
      if (shows === Shows.Meter || (shows === Shows.Motor && this.motors.isTouched(out))) continue;
      refreshed[link] = (out + 1) % count;
      shown[out] = NOTHING_SHOWN;
      this.dueOuts.add(out);
      return;
    }
  }

  /** Makes an output show a number whatever it is bound to; below 0 it shows its own again. */
  try(out: number, wire: number): void {
    this.tried[out] = wire;
    this.dueOuts.add(out);
  }
}
