import { Register, type ActionContext } from '../context.js';
import type { EngineServices } from '../engine-services.js';
import { NO_GRIP, type State } from '../live/state.js';
import { ActionColumn, BindingColumn, Op, PartColumn } from '../plan/columns.js';
import { GestureAt, InputMode } from '../plan/part-plan.js';
import type { Plan } from '../plan/plan.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { OutputTargets } from '../return/output-targets.js';
import type { DueOuts } from '../return/due-outs.js';
import type { Holds } from './holds.js';
import type { LayerChanges } from './layer-changes.js';
import type { Touches } from './touches.js';
import { Stop } from '../trace.js';
import type { Actions } from './actions.js';
import { Disposition } from './disposition.js';
import { Gestures, type GestureSink } from './gestures.js';
import { NoMatch, type Matcher } from './matcher.js';

const NEVER = -1;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly actions: Actions;
  readonly targets: OutputTargets;
  readonly dueOuts: DueOuts;
  readonly holds: Holds;
  readonly layerChanges: LayerChanges;
  readonly touches: Touches;
}

/**
 * What hands do to controls: which binding that means, and when it begins and ends. Reads `Register.Heard`, and writes it
 * anew for what acts later, from the press itself; writes `HandBefore` and `HandMovedBefore`.
 */
export class Hands implements GestureSink {
  readonly gestures: Gestures;
  private readonly plan: Plan;
  private readonly tables: Tables;
  private readonly state: State;
  private readonly matcher: Matcher;
  private readonly actions: Actions;
  private readonly services: EngineServices;
  private readonly context: ActionContext;
  private readonly register: Float64Array;
  private readonly clock: Float64Array;
  // Of the state, what every message needs.
  private readonly hand: Float64Array;
  private readonly down: Uint8Array;
  private readonly movedAt: Float64Array;
  private readonly bankAt: Int32Array;
  private readonly grip: Int32Array;
  /** The part whose press acts now, at once or later; none most of the time. */
  acting = NEVER;

  constructor(private readonly round: Needs) {
    this.plan = round.plan;
    this.tables = round.tables;
    this.state = round.state;
    this.matcher = round.matcher;
    this.actions = round.actions;
    this.services = round.services;
    this.context = round.services.context;
    this.register = this.context.register;
    this.clock = round.services.clock;
    this.hand = round.state.hand;
    this.down = round.state.down;
    this.movedAt = round.state.movedAt;
    this.bankAt = round.state.bankAt;
    this.grip = round.state.grip;
    this.gestures = new Gestures(round.state, this, this.clock, round.services.agenda);
  }

  /** What the hand has done to a part; its value stands in the register. */
  touched(part: number): Disposition {
    const { oneShot, latching, parts } = this.tables;
    const mode = parts[part * PartColumn.Width + PartColumn.Mode] as InputMode;
    if (mode === InputMode.Absolute) return this.onPart(part, mode);
    // A turn by nothing is none.
    if (mode === InputMode.Relative && this.register[Register.Heard] === 0)
      return Disposition.Consumed;
    if (latching[part] !== 0) return this.onLatching(part);
    const disposition = this.onPart(part, mode);
    if (oneShot[part] !== 0 && this.register[Register.Heard] > 0) {
      this.register[Register.Heard] = 0;
      this.onPart(part, mode);
    }
    return disposition;
  }

  /**
   * A key that latches in hardware says 'on' and 'off' by turns, and each is one press. Only what is to be held goes
   * by what it says.
   */
  private onLatching(part: number): Disposition {
    const { down } = this;
    const on = this.register[Register.Heard] > 0;
    const binding = this.matcher.resolve(part, GestureAt.Press, this.services.bank.start);
    const { bindings } = this.tables;
    const holds =
      binding >= 0 && bindings[binding * BindingColumn.Width + BindingColumn.Holds] === 1;
    if (holds || down[part] !== 0)
      return on || down[part] !== 0 ? this.onPart(part, InputMode.Press) : Disposition.Consumed;
    this.register[Register.Heard] = 1;
    const disposition = this.onPart(part, InputMode.Press);
    this.register[Register.Heard] = 0;
    this.onPart(part, InputMode.Press);
    const { log } = this.services;
    if (log) log.value[part] = on ? 1 : 0;
    return disposition;
  }

  private onPart(part: number, mode: InputMode): Disposition {
    const { parts } = this.tables;
    const { log, cables } = this.services;
    const at = part * PartColumn.Width;
    const { register } = this;
    const isButton = mode === InputMode.Press || mode === InputMode.Touch;
    const pressed = register[Register.Heard] > 0;
    if (log) log.hand(part, this.context, this.clock, isButton && !pressed);
    if (mode === InputMode.Absolute) {
      register[Register.HandBefore] = this.hand[part];
      this.hand[part] = register[Register.Heard];
      const motor = parts[at + PartColumn.Motor];
      if (motor >= 0) this.round.dueOuts.add(motor);
    }
    if (mode !== InputMode.Touch) {
      const text = parts[at + PartColumn.Text];
      if (text >= 0) this.round.targets.pickText(text, parts[at + PartColumn.TextSource]);
      this.round.targets.touched(part, parts[at + PartColumn.Link]);
    }
    if (cables.isWatching) cables.moved();
    if (isButton) {
      if (pressed) return this.press(part, mode);
      return this.down[part] === 0
        ? (this.state.disposition[part] as Disposition)
        : this.release(part);
    }
    register[Register.HandMovedBefore] = this.movedAt[part];
    this.movedAt[part] = this.clock[0];
    const binding = this.gripOf(part);
    if (this.services.choosing) return Disposition.Consumed;
    if (binding < 0) {
      this.stopUnmatched(part, binding);
      return Disposition.Unmatched;
    }
    if (log) log.binding[part] = binding;
    this.actions.runBinding(part, binding, mode);
    return this.dispositionOf(binding);
  }

  private press(part: number, mode: InputMode): Disposition {
    const { down, movedAt, bankAt, grip } = this;
    const { disposition } = this.state;
    down[part] = 1;
    movedAt[part] = this.clock[0];
    // The second of a double tap means what the first one does.
    if (!this.gestures.isBetween(part)) bankAt[part] = this.services.bank.start;
    let told = false;
    if (mode === InputMode.Touch) {
      const guarded = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
      if (guarded >= 0) {
        grip[guarded] = NO_GRIP;
        // What has told a host of a finger has done its part, and does not go on anywhere else.
        told =
          !this.services.choosing && this.round.touches.finger(guarded, this.gripOf(guarded), true);
      }
    } else if (this.services.watch.goesRound(part)) return this.ignorePress(part);
    if (this.services.choosing) return this.ignorePress(part);
    const best = this.settle(part);
    if (best < 0) {
      if (mode !== InputMode.Touch) this.stopUnmatched(part, best);
      return (disposition[part] = told ? Disposition.Consumed : Disposition.Unmatched);
    }
    disposition[part] = this.dispositionOf(best);
    this.latch(part);
    const { log } = this.services;
    if (log) log.binding[part] = best;
    this.gestures.press(
      part,
      this.feelOf(part, GestureAt.Long),
      this.feelOf(part, GestureAt.Double),
    );
    this.round.layerChanges.apply();
    return disposition[part] as Disposition;
  }

  /** A press that means nothing: its release means nothing either. */
  private ignorePress(part: number): Disposition {
    this.gestures.forget(part);
    return (this.state.disposition[part] = Disposition.Consumed);
  }

  /** Settles what each gesture of a press means; returns the likeliest binding, else a {@link NoMatch}. */
  private settle(part: number): number {
    const { settled } = this.gestures;
    const at = part * GestureAt.Count;
    let best: number = NoMatch.Nothing;
    if (this.gestures.isBetween(part)) {
      for (let gesture = 0; gesture < GestureAt.Count && best < 0; gesture++)
        best = Math.max(best, settled[at + gesture]);
      return best;
    }
    for (let gesture = 0; gesture < GestureAt.Count; gesture++) {
      const binding = this.matcher.resolve(part, gesture, this.services.bank.start);
      settled[at + gesture] = binding < 0 ? NEVER : binding;
      if (binding >= 0) this.resolve(binding);
      if (binding >= 0 ? best < 0 : best < 0 && binding < best) best = binding;
    }
    return best;
  }

  /** Settles which functions a binding means, as bank and focus are at the press. */
  private resolve(binding: number): void {
    const { acts, bindings } = this.tables;
    const row = binding * BindingColumn.Width;
    const first = bindings[row + BindingColumn.First];
    const end = first + bindings[row + BindingColumn.Count];
    for (let action = first; action < end; action++) {
      const at = action * ActionColumn.Width;
      if (acts[at + ActionColumn.Op] > Op.Step) continue;
      this.state.pressSlot[action] = this.matcher.slotAt(
        acts[at + ActionColumn.Base],
        acts[at + ActionColumn.Offset],
        acts[at + ActionColumn.Strips],
        this.services.bank.start,
      );
    }
  }

  /** What a press was stays with it, for what comes of it later. */
  private latch(part: number): void {
    const { pressValue, pressPacked, pressSysex } = this.state;
    const { sysex, sysexFrom, sysexTo, packed } = this.context;
    pressValue[part] = this.register[Register.Heard];
    pressPacked[part] = packed;
    pressSysex[part] = sysex ? sysex.slice(sysexFrom, sysexTo) : null;
  }

  /** A key has come up; what it began ends, and what hangs on its release begins. */
  private release(part: number): Disposition {
    const { disposition } = this.state;
    const double = this.feelOf(part, GestureAt.Double);
    this.lift(part);
    // What stands for a release of its own, as after a message that only says 'pressed', is none that came in.
    const own = this.tables.oneShot[part] === 0;
    this.context.releasing = own ? part : NEVER;
    this.gestures.release(part, double);
    this.context.releasing = NEVER;
    if (disposition[part] !== Disposition.Unmatched && !this.services.choosing) {
      const after = this.gestures.settled[part * GestureAt.Count + GestureAt.Release];
      if (after >= 0) {
        this.acting = part;
        this.actions.runBinding(part, after, InputMode.Press);
        this.acting = NEVER;
        this.round.holds.letGoOf(this.plan.bindings[after]);
      }
    }
    if (!this.gestures.isBetween(part)) this.gestures.forget(part);
    this.round.layerChanges.apply();
    return disposition[part] as Disposition;
  }

  /** The hand is off a part. */
  private lift(part: number): void {
    const { down, grip } = this;
    down[part] = 0;
    const { parts } = this.tables;
    const at = part * PartColumn.Width;
    const partner = parts[at + PartColumn.Partner];
    if (parts[at + PartColumn.Mode] === InputMode.Touch && partner >= 0) {
      grip[partner] = NO_GRIP;
      this.round.touches.finger(partner, NEVER, false);
    }
    const motor = parts[at + PartColumn.Motor];
    if (motor >= 0) this.round.dueOuts.add(motor);
  }

  /** Lets go of a part whatever it does: its device is gone, or everything is to stop. */
  letGo(part: number): void {
    this.gestures.stop(part);
    if (this.down[part] !== 0) this.lift(part);
  }

  private dispositionOf(binding: number): Disposition {
    const passes = this.tables.bindings[binding * BindingColumn.Width + BindingColumn.PassOn] === 1;
    return passes ? Disposition.PassedOn : Disposition.Consumed;
  }

  /** How long a part's long press is, or its double tap may take, µs. */
  private feelOf(part: number, gesture: GestureAt): number {
    const binding = this.gestures.settled[part * GestureAt.Count + gesture];
    if (binding < 0) return 0;
    const { feel } = this.plan.actions[this.plan.bindings[binding].first];
    return (gesture === GestureAt.Long ? feel.longPress : feel.doubleTap) * 1_000;
  }

  /** @internal a press of a binding begins, with what the press itself was */
  begin(part: number, binding: number): void {
    const { context, register } = this;
    const { pressValue, pressPacked, pressSysex } = this.state;
    const { packed, firstHalf, sysex, sysexFrom, sysexTo } = context;
    const value = register[Register.Heard];
    const own = pressSysex[part];
    if (own) context.long(own, 0, own.length);
    else context.short(pressPacked[part], 0);
    register[Register.Heard] = pressValue[part];
    if (this.services.log) this.services.log.binding[part] = binding;
    const mode = this.tables.parts[part * PartColumn.Width + PartColumn.Mode] as InputMode;
    this.acting = part;
    this.actions.runBinding(part, binding, mode);
    this.acting = NEVER;
    if (sysex) context.long(sysex, sysexFrom, sysexTo);
    else context.short(packed, firstHalf);
    register[Register.Heard] = value;
  }

  /** @internal a press of a binding ends */
  end(part: number, binding: number): void {
    this.round.holds.endPress(part, this.plan.bindings[binding]);
  }

  private stopUnmatched(part: number, why: number): void {
    this.round.stop(
      part,
      why === NoMatch.OtherLayer
        ? Stop.OtherLayer
        : why === NoMatch.Condition
          ? Stop.ConditionFalse
          : Stop.NothingBound,
    );
  }

  /** The binding that a move means: the one from the beginning of a touch, as long as that lasts. */
  private gripOf(part: number): number {
    const { down, grip } = this;
    const partner = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
    const touched = partner >= 0 && down[partner] !== 0;
    if (touched && grip[part] !== NO_GRIP) return grip[part];
    const binding = this.matcher.resolve(part, GestureAt.Press, this.bankOf(part));
    if (touched) grip[part] = binding;
    return binding;
  }

  /**
   * The bank window that a part's messages mean: the one at its touch or press, as long as that lasts, and for all that comes
   * of that press later.
   */
  bankOf(part: number): number {
    const { bank } = this.services;
    if (part < 0) return bank.start;
    const { down, bankAt } = this;
    if (down[part] !== 0 || part === this.acting) return bankAt[part];
    const partner = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
    return partner >= 0 && down[partner] !== 0 ? bankAt[partner] : bank.start;
  }

  /** Whether a hand is on the motor of a part, as far as can be told: without touch sense it stays there for a while. */
  isOnMotor(part: number): boolean {
    const { down, hand, movedAt } = this;
    const touch = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
    if (touch >= 0) return down[touch] !== 0;
    const motor = this.tables.parts[part * PartColumn.Width + PartColumn.Motor];
    return hand[part] >= 0 && this.clock[0] < movedAt[part] + this.round.targets.motorWaits[motor];
  }
}
