import { Register } from '../context.js';
import { ActionColumn, BindingColumn, Op } from '../plan/columns.js';
import { InputMode } from '../plan/part-plan.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { MessagesOut } from './messages-out.js';
import type { LayerChanges } from './layer-changes.js';
import { Stop } from '../trace.js';
import type { Driving } from './driving.js';
import { Held, type Holds } from './holds.js';
import type { Matcher } from './matcher.js';

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly driving: Driving;
  readonly holds: Holds;
  readonly messages: MessagesOut;
  readonly layerChanges: LayerChanges;
  readonly hands: { bankOf(part: number): number };
}

/** Does what bindings do when they count, action by action. Reads `Register.Heard`, the same for each action. */
export class Actions {
  private readonly tables: Tables;
  private readonly matcher: Matcher;
  private readonly driving: Driving;
  private readonly holds: Holds;
  private readonly register: Float64Array;

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.matcher = round.matcher;
    this.driving = round.driving;
    this.holds = round.holds;
    this.register = round.services.context.register;
  }

  /** Runs all actions of a binding, in order, with the value in the register; part −1 is for a host's change. */
  runBinding(part: number, binding: number, moves: InputMode): void {
    const { bindings } = this.tables;
    const row = binding * BindingColumn.Width;
    const first = bindings[row + BindingColumn.First];
    const end = first + bindings[row + BindingColumn.Count];
    const { register } = this;
    const value = register[Register.Heard];
    for (let action = first; action < end; action++) {
      register[Register.Heard] = value;
      this.act(part, action, moves);
    }
    register[Register.Heard] = value;
  }

  /** Does one action. What stops it stops no other. */
  act(part: number, action: number, moves: InputMode): void {
    const { acts } = this.tables;
    const at = action * ActionColumn.Width;
    const op = acts[at + ActionColumn.Op] as Op;
    const bank = this.round.hands.bankOf(part);
    if (acts[at + ActionColumn.WhenCount] > 0 && !this.matcher.allows(action, bank)) {
      this.round.stop(part, Stop.ConditionFalse);
      return;
    }
    if (op === Op.Broken) this.round.stop(part, Stop.Broken);
    else if (op <= Op.Step) this.driving.drive(part, action, op, moves, bank);
    else if (op === Op.Send) this.round.messages.send(part, action);
    else this.actWithin(part, action, op, moves);
  }

  /** Does what changes something of Rondo's own, or plays notes. */
  private actWithin(part: number, action: number, op: Op, moves: InputMode): void {
    const { acts } = this.tables;
    const { layers, layerChanges, services, beliefs } = this.round;
    const at = action * ActionColumn.Width;
    const by = acts[at + ActionColumn.By];
    const way = moves === InputMode.Relative && this.register[Register.Heard] < 0 ? -1 : 1;
    const slot = acts[at + ActionColumn.Base];
    const wrap = acts[at + ActionColumn.Wrap] === 1;
    switch (op) {
      case Op.Bank:
        if (services.bank.move(way * by)) this.round.resolveAnew();
        return;
      case Op.LayerHold:
        if (this.holds.isHeld(action, slot)) return;
        this.holds.take(action, slot);
        layers.hold(by);
        break;
      case Op.LayerToggle:
        layers.toggle(by);
        break;
      case Op.LayerOn:
        layers.on(by);
        break;
      case Op.LayerOff:
        layers.off(by);
        break;
      case Op.LayerStep:
        layers.step(this.round.plan.actions[action].layers, way * by, wrap);
        break;
      case Op.FlagHold:
        this.holds.take(action, slot);
        layerChanges.setOwn(slot, true);
        this.driving.exclude(action, slot);
        break;
      case Op.FlagToggle:
        layerChanges.setOwn(slot, beliefs.value[slot] < 0.5);
        if (beliefs.value[slot] >= 0.5) this.driving.exclude(action, slot);
        break;
      case Op.FlagOn:
        layerChanges.setOwn(slot, true);
        this.driving.exclude(action, slot);
        break;
      case Op.FlagOff:
        layerChanges.setOwn(slot, false);
        break;
      case Op.Notes:
        this.play(part, action);
        return;
      case Op.FocusPage:
        if (this.matcher.turnFocusPage(slot, way * by, wrap)) this.round.resolveAnew();
        return;
      case Op.Rondo:
        services.asked.push(by);
        return;
      default:
        return;
    }
    if (services.log && part >= 0) services.log.reached(part, slot, beliefs.value, slot);
  }

  private play(part: number, action: number): void {
    if (this.holds.isHeld(action, Held.Notes) || !this.round.messages.play(part, action)) return;
    this.holds.takeNotes(action);
    // What comes from a host's change has nobody to let go of it.
    if (part < 0) this.holds.letGo(action);
  }
}
