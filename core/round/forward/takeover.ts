import type { Takeover } from '@rondo/core/surface';
import type { State } from '../live/state.js';

/** Places in the register that a takeover reads and writes. */
export const enum TakeoverAt {
  /** In: where the control stands, 0…1. */
  Position,
  /** In: what its shape makes of that. Out: what the host is told. */
  Wanted,
  /** In: what its shape made of where it stood before; below 0 where that is not known. */
  Before,
  /** In: what the function has now; what was last meant for it where the host has only rounded that. */
  Now,
  /** In: what the shape makes of the low and of the high end. */
  Low,
  High,
  /** In: where a control with a spring rests, 0…1; and what its shape makes of that. */
  Rest,
  AtRest,
  /** Out: how far the function is from the control, signed; above 0 the function is higher. */
  Gap,
  Width,
}

const NONE = -1;
const KINDS: readonly Takeover[] = ['jump', 'pickup', 'scale', 'rest'];
const enum How {
  Jump,
  Pickup,
  Scale,
  Rest,
}
/** Values nearer than this are the same: half a step of 14 bits. */
const SAME = 0.5 / 16_383;

/**
 * How controls meet functions that stand elsewhere, by action. Numbers travel in {@link register}; nothing is
 * allocated.
 */
export class Takeovers {
  readonly register = new Float64Array(TakeoverAt.Width);
  private readonly how: Uint8Array;
  private readonly tolerance: Float64Array;
  /** Slot that was met; −1 where none is. */
  private readonly met: Int32Array;
  /** What was sent last, or where the spring's move began. */
  private readonly sent: Float64Array;

  constructor(
    settings: readonly { readonly takeover: Takeover; readonly tolerance: number }[],
    state: Pick<State, 'met' | 'sent'>,
  ) {
    this.how = Uint8Array.from(settings, ({ takeover }) => KINDS.indexOf(takeover));
    this.tolerance = Float64Array.from(settings, ({ tolerance }) => tolerance);
    this.met = state.met;
    this.sent = state.sent;
  }

  /**
   * Works out what the host is told of a move.
   * @param slot the function that is moved, to notice that it is another one now
   * @returns false where the control has not met the function yet and nothing is told
   */
  meet(action: number, slot: number): boolean {
    const r = this.register;
    r[TakeoverAt.Gap] = 0;
    switch (this.how[action]) {
      case How.Pickup:
        return this.pickUp(action, slot);
      case How.Scale:
        this.scale(action, slot);
        return true;
      case How.Rest:
        this.fromRest(action, slot);
        return true;
      default:
        return true;
    }
  }

  private pickUp(action: number, slot: number): boolean {
    const r = this.register;
    const wanted = r[TakeoverAt.Wanted];
    const now = r[TakeoverAt.Now];
    const reach = Math.max(this.tolerance[action], SAME);
    const before = r[TakeoverAt.Before];
    const isMet = this.met[action] === slot && Math.abs(now - this.sent[action]) <= reach;
    const near = Math.abs(wanted - now) <= reach;
    const passed = before >= 0 && (before - now) * (wanted - now) < 0;
    // What lies beyond an end of the range can only be met there.
    const top = Math.max(r[TakeoverAt.Low], r[TakeoverAt.High]);
    const bottom = Math.min(r[TakeoverAt.Low], r[TakeoverAt.High]);
    const atEnd =
      (now >= top && wanted >= top - SAME) || (now <= bottom && wanted <= bottom + SAME);
    if (isMet || near || passed || atEnd) {
      this.met[action] = slot;
      this.sent[action] = wanted;
      return true;
    }
    this.met[action] = NONE;
    r[TakeoverAt.Gap] = now - wanted;
    return false;
  }

  private scale(action: number, slot: number): void {
    const r = this.register;
    const wanted = r[TakeoverAt.Wanted];
    const now = r[TakeoverAt.Now];
    const before = r[TakeoverAt.Before];
    this.met[action] = slot;
    const top = Math.max(r[TakeoverAt.Low], r[TakeoverAt.High]);
    const bottom = Math.min(r[TakeoverAt.Low], r[TakeoverAt.High]);
    const clamped = now > top ? top : now < bottom ? bottom : now;
    if (
      wanted >= top ||
      wanted <= bottom ||
      Math.abs(clamped - (before < 0 ? wanted : before)) <= SAME
    ) {
      this.sent[action] = wanted;
      return;
    }
    // The first touch only tells where the control stands.
    if (before < 0) {
      r[TakeoverAt.Wanted] = now;
      r[TakeoverAt.Gap] = now - wanted;
      return;
    }
    if (wanted > before)
      r[TakeoverAt.Wanted] = clamped + ((wanted - before) * (top - clamped)) / (top - before);
    else if (wanted < before)
      r[TakeoverAt.Wanted] = clamped - ((before - wanted) * (clamped - bottom)) / (before - bottom);
    else r[TakeoverAt.Wanted] = clamped;
    // Rounding must not carry it over an end.
    r[TakeoverAt.Wanted] = Math.max(bottom, Math.min(top, r[TakeoverAt.Wanted]));
    this.sent[action] = r[TakeoverAt.Wanted];
    r[TakeoverAt.Gap] = r[TakeoverAt.Wanted] - wanted;
  }

  /** From the function's value at rest to the ends of the range, as the shape goes there, and back to where it was when let go. */
  private fromRest(action: number, slot: number): void {
    const r = this.register;
    const rest = r[TakeoverAt.Rest];
    const position = r[TakeoverAt.Position];
    const atRest = Math.abs(position - rest) <= Math.max(this.tolerance[action] / 2, SAME);
    const moving = this.met[action] === slot;
    if (!moving) {
      this.sent[action] = r[TakeoverAt.Now];
      this.met[action] = slot;
    }
    const base = this.sent[action];
    if (atRest) {
      this.met[action] = NONE;
      r[TakeoverAt.Wanted] = base;
      return;
    }
    const [low, high] = [r[TakeoverAt.Low], r[TakeoverAt.High]];
    const wanted = r[TakeoverAt.Wanted];
    const still = r[TakeoverAt.AtRest];
    const end = wanted > still ? Math.max(low, high) : Math.min(low, high);
    r[TakeoverAt.Wanted] =
      end === still ? base : base + ((wanted - still) / (end - still)) * (end - base);
  }
}
