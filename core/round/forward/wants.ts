import { Register } from '../context.js';
import { ActionColumn, SlotColumn, Op } from '../plan/columns.js';
import { InputMode } from '../plan/part-plan.js';
import { NOTHING } from '../plan/shaper.js';
import type { Tables } from '../plan/tables.js';
import { Know, type Beliefs } from '../return/beliefs.js';
import type { RoundContext } from '../round-context.js';
import { Stop } from '../trace.js';
import { TakeoverAt, type Takeovers } from './takeover.js';

/** Ticks a second from which a turn counts as fast, and where acceleration is at its full. */
const SLOW_TURN = 15;
const FAST_TURN = 75;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly takeovers: Takeovers;
}

/**
 * Works out what a function is to be told by what the hand does, and by where the function is. Reads `Register.Heard`,
 * `HandBefore` and `HandMovedBefore`; writes `Wanted`.
 */
export class Wants {
  private readonly tables: Tables;
  private readonly beliefs: Beliefs;
  private readonly takeovers: Takeovers;
  private readonly register: Float64Array;
  /** Where the function is meant to be, in its first place. */
  private readonly meant = new Float64Array(1);

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.beliefs = round.beliefs;
    this.takeovers = round.takeovers;
    this.register = round.services.context.register;
  }

  /** Puts what a function is to be told into the register; false where it is told nothing. */
  want(part: number, action: number, op: Op, moves: InputMode, slot: number): boolean {
    const r = this.register;
    const shaper = this.tables.shapers[action];
    switch (op) {
      case Op.Toggle: {
        const { value: believed, know } = this.beliefs;
        const { low, high } = shaper;
        const nearHigh = Math.abs(believed[slot] - high) <= Math.abs(believed[slot] - low);
        r[Register.Wanted] = know[slot] !== Know.Unknown && nearHigh ? low : high;
        return true;
      }
      case Op.SetTo:
        r[Register.Wanted] = this.tables.actTo[action];
        return true;
      case Op.Momentary:
        r[Register.Wanted] = shaper.high;
        return true;
      case Op.Nudge:
        r[Register.Wanted] = r[Register.Heard];
        return moves !== InputMode.Absolute || part < 0 || this.ticksMoved(action);
      case Op.Step:
        return this.step(part, action, moves, slot);
      default:
        if (moves === InputMode.Relative) return this.turn(part, action, slot);
        r[Register.Wanted] = r[Register.Heard];
        shaper.apply(r, Register.Wanted);
        if (r[Register.Wanted] === NOTHING) return false;
        if (moves !== InputMode.Absolute || part < 0) return true;
        return this.beliefs.know[slot] === Know.Unknown || this.takeOver(part, action, slot);
    }
  }

  /** What stands at a place turns by the ticks that lie between it and the place before; false where there are none. */
  private ticksMoved(action: number): boolean {
    const r = this.register;
    if (r[Register.HandBefore] < 0) return false;
    const step = this.tables.actStep[action];
    const ticks = Math.round(r[Register.Heard] / step) - Math.round(r[Register.HandBefore] / step);
    r[Register.Wanted] = ticks;
    return ticks !== 0;
  }

  /** A press, or a tick, goes on by whole steps; at the end it stops, or begins anew. */
  private step(part: number, action: number, moves: InputMode, slot: number): boolean {
    const { acts, actStep, shapers, slots } = this.tables;
    const at = action * ActionColumn.Width;
    // What has no state goes on by ticks, wherever it is.
    if (slots[slot * SlotColumn.Width + SlotColumn.Nudge] === 1) {
      const turned = moves === InputMode.Relative ? this.register[Register.Heard] : 1;
      this.register[Register.Wanted] = turned * acts[at + ActionColumn.By];
      return this.register[Register.Wanted] !== 0;
    }
    if (this.beliefs.know[slot] === Know.Unknown) {
      this.round.stop(part, Stop.StateUnknown);
      return false;
    }
    this.beliefs.meantOf(slot, this.meant, 0);
    const { low, high } = shapers[action];
    const bottom = Math.min(low, high);
    const top = Math.max(low, high);
    const step = actStep[action];
    const ticks = moves === InputMode.Relative ? this.register[Register.Heard] : 1;
    let wanted = this.meant[0] + ticks * acts[at + ActionColumn.By] * step;
    const slack = step / 2;
    if (wanted > top + slack || wanted < bottom - slack) {
      if (acts[at + ActionColumn.Wrap] === 1) wanted = wanted > top ? bottom : top;
      else this.round.services.clamped++;
    }
    this.register[Register.Wanted] = Math.max(bottom, Math.min(top, wanted));
    return true;
  }

  /** A turn moves the function from where it is meant to be: a host may round each tick away. */
  private turn(part: number, action: number, slot: number): boolean {
    const { actStep, acceleration, shapers } = this.tables;
    if (this.beliefs.know[slot] === Know.Unknown) {
      this.round.stop(part, Stop.StateUnknown);
      return false;
    }
    this.beliefs.meantOf(slot, this.meant, 0);
    const r = this.register;
    const shaper = shapers[action];
    const bottom = Math.min(shaper.low, shaper.high);
    const top = Math.max(shaper.low, shaper.high);
    const ticks = r[Register.Heard];
    let step = shaper.invert === shaper.low <= shaper.high ? -actStep[action] : actStep[action];
    if (acceleration[action] > 1 && part >= 0) {
      const passed = Math.max(1, this.round.services.clock[0] - r[Register.HandMovedBefore]);
      const speed = (Math.abs(ticks) * 1_000_000) / passed;
      const share = (speed - SLOW_TURN) / (FAST_TURN - SLOW_TURN);
      if (share > 0) step *= 1 + (acceleration[action] - 1) * Math.min(1, share);
    }
    const wanted = this.meant[0] + ticks * step;
    if (wanted > top || wanted < bottom) this.round.services.clamped++;
    r[Register.Wanted] = wanted > top ? top : wanted < bottom ? bottom : wanted;
    return true;
  }

  /** A control that stands elsewhere than its function meets it. */
  private takeOver(part: number, action: number, slot: number): boolean {
    const r = this.register;
    const t = this.takeovers.register;
    const shaper = this.tables.shapers[action];
    t[TakeoverAt.Position] = r[Register.Heard];
    t[TakeoverAt.Wanted] = r[Register.Wanted];
    t[TakeoverAt.Before] = r[Register.HandBefore];
    if (t[TakeoverAt.Before] >= 0) shaper.apply(t, TakeoverAt.Before);
    this.beliefs.meantOf(slot, t, TakeoverAt.Now);
    t[TakeoverAt.Low] = shaper.invert ? shaper.high : shaper.low;
    t[TakeoverAt.High] = shaper.invert ? shaper.low : shaper.high;
    t[TakeoverAt.Rest] = this.tables.rest[part];
    t[TakeoverAt.AtRest] = t[TakeoverAt.Rest];
    shaper.apply(t, TakeoverAt.AtRest);
    // Where nothing is told at rest, its zones part there: both ways lead from the middle.
    if (t[TakeoverAt.AtRest] === NOTHING) t[TakeoverAt.AtRest] = (shaper.low + shaper.high) / 2;
    const meets = this.takeovers.meet(action, slot);
    r[Register.Wanted] = t[TakeoverAt.Wanted];
    const { log } = this.round.services;
    if (log) log.gap[part] = t[TakeoverAt.Gap];
    if (!meets) this.round.stop(part, Stop.Pickup);
    return meets;
  }
}
