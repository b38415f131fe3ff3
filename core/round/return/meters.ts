import type { Sender } from '@rondo/core/surface';
import type { EngineServices } from '../engine-services.js';
import { LONG_AGO, type State } from '../live/state.js';
import { OutputColumn } from '../plan/columns.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { OutputTargets } from './output-targets.js';
import type { DueOuts } from './due-outs.js';
import type { Sight } from './sight.js';

/** Some surfaces let their meters fall by themselves, a step about every 300 ms (common practice, no source). */
const METER_FALL = 300_000;
/** The overload lamp of a meter stays on so long after the level was at its top, µs, where the host has no say in it. */
const OVERLOAD_STAYS = 2_000_000;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly targets: OutputTargets;
  readonly dueOuts: DueOuts;
  readonly sight: Sight;
}

/** Levels, their highest places, and overload lamps. */
export class Meters {
  private readonly tables: Tables;
  private readonly state: State;
  private readonly services: EngineServices;
  private readonly senders: readonly Sender[];
  private readonly targets: OutputTargets;
  private readonly dueOuts: DueOuts;
  private readonly sight: Sight;
  private readonly level = new Float64Array(1);
  // Of the state, what every level needs.
  private readonly shown: Int32Array;
  private readonly shownAt: Float64Array;
  private readonly overloads: Uint8Array;
  private readonly topAt: Float64Array;

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.state = round.state;
    this.shown = round.state.shown;
    this.shownAt = round.state.shownAt;
    this.overloads = round.state.overload;
    this.topAt = round.state.topAt;
    this.services = round.services;
    this.senders = round.senders;
    this.targets = round.targets;
    this.dueOuts = round.dueOuts;
    this.sight = round.sight;
  }

  /**
   * Writes what a meter is due, its overload lamp first; returns its bytes.
   * @param wire its level now, as it goes over the wire
   */
  render(out: number, wire: number, buffer: Uint8Array, bufferAt: number): number {
    const { shown, shownAt } = this;
    const at = out * OutputColumn.Width;
    const sender = this.senders[this.tables.outs[at + OutputColumn.Link]];
    const local = this.tables.outs[at + OutputColumn.Local];
    this.startAnew(out);
    const before = this.renderOverload(out, sender, local, buffer, bufferAt);
    const level = this.withPeak(out, wire);
    if (
      this.tables.outs[at + OutputColumn.Falls] === 1
        ? this.hasFallenTo(out, level)
        : level === shown[out]
    )
      return before;
    shown[out] = level;
    shownAt[out] = this.services.clock[0];
    return before + sender.write(local, level, buffer, bufferAt + before);
  }

  /** The highest place and the overload are a function's: they do not come along where another one is shown. */
  private startAnew(out: number): void {
    const { meterSlot, meterPeak } = this.state;
    const { slot } = this.targets.resolved[out];
    if (meterSlot[out] === slot) return;
    meterSlot[out] = slot;
    meterPeak[out] = -1;
    this.topAt[out] = LONG_AGO;
  }

  /** Whether a meter that falls by itself stands there already, or above. */
  private hasFallenTo(out: number, level: number): boolean {
    const { shown, shownAt } = this;
    const steps = Math.floor((this.services.clock[0] - shownAt[out]) / METER_FALL);
    return level <= Math.max(0, shown[out] - steps);
  }

  /** Writes that the overload lamp of a meter goes on or off, where that is due: as the host says, or while it was at its top. */
  private renderOverload(
    out: number,
    sender: Sender,
    local: number,
    buffer: Uint8Array,
    bufferAt: number,
  ): number {
    const { overloads: overload, topAt } = this;
    const { slot, rule } = this.targets.resolved[out];
    const told = slot < 0 ? -1 : this.round.beliefs.extra[slot];
    const now = this.services.clock[0];
    const shows = slot >= 0 && rule.feedback;
    if (shows && told < 0 && this.sight.see(slot, this.level, 0) && this.level[0] >= 1) {
      topAt[out] = now;
    }
    const ends = topAt[out] + OVERLOAD_STAYS;
    const lit = shows && (told >= 0 ? told === 1 : now < ends);
    // It goes out by itself, whatever the meter waits for beside it.
    if (lit && told < 0) this.dueOuts.waitAtMost(out, ends);
    if (lit === (overload[out] === 1)) return 0;
    const length = sender.writeOverload(local, lit, buffer, bufferAt);
    if (length > 0) overload[out] = lit ? 1 : 0;
    return length;
  }

  /** A meter whose highest place stays is told it again, as often as the surface lets it fall. */
  private withPeak(out: number, wire: number): number {
    const { peak } = this.targets.resolved[out].rule;
    if (peak === 0) return wire;
    const { meterPeak, meterPeakAt } = this.state;
    const now = this.services.clock[0];
    if (wire >= meterPeak[out] || now - meterPeakAt[out] >= peak) {
      meterPeak[out] = wire;
      meterPeakAt[out] = now;
      return wire;
    }
    this.dueOuts.waitAtMost(out, now + METER_FALL);
    return meterPeak[out];
  }
}
