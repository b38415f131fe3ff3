import { Register } from '../context.js';
import { ActionColumn, Op, SlotColumn } from '../plan/columns.js';
import { InputMode } from '../plan/part-plan.js';
import type { Tables } from '../plan/tables.js';
import { Know, type Beliefs } from '../return/beliefs.js';
import type { RoundContext } from '../round-context.js';
import type { LayerChanges } from './layer-changes.js';
import { Stop } from '../trace.js';
import type { Holds } from './holds.js';
import type { Matcher } from './matcher.js';
import type { Telling } from './telling.js';
import type { Touches } from './touches.js';
import type { Wants } from './wants.js';

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly wants: Wants;
  readonly telling: Telling;
  readonly holds: Holds;
  readonly touches: Touches;
  readonly layerChanges: LayerChanges;
  readonly hands: { readonly acting: number };
}

/**
 * Drives functions of hosts: finds which one is meant, what it is to be told, and tells it. Reads `Register.Heard`; writes
 * `Wanted` where no shape has a say.
 */
export class Driving {
  private readonly tables: Tables;
  private readonly matcher: Matcher;
  private readonly beliefs: Beliefs;
  private readonly wants: Wants;
  private readonly telling: Telling;
  private readonly holds: Holds;
  private readonly touches: Touches;
  private readonly register: Float64Array;
  private readonly pressSlot: Int32Array;

  constructor(private readonly round: Needs) {
    this.pressSlot = round.state.pressSlot;
    this.tables = round.tables;
    this.matcher = round.matcher;
    this.beliefs = round.beliefs;
    this.wants = round.wants;
    this.telling = round.telling;
    this.holds = round.holds;
    this.touches = round.touches;
    this.register = round.services.context.register;
  }

  /** Does an action on a function, with the value in the register; part −1 is for what no hand does. */
  drive(part: number, action: number, op: Op, moves: InputMode, bank: number): void {
    const { acts, slots } = this.tables;
    const at = action * ActionColumn.Width;
    // All that comes of a press is for what it meant, whatever was chosen since.
    const slot =
      part >= 0 && part === this.round.hands.acting
        ? this.pressSlot[action]
        : this.matcher.slotAt(
            acts[at + ActionColumn.Base],
            acts[at + ActionColumn.Offset],
            acts[at + ActionColumn.Strips],
            bank,
          );
    const row = slot * SlotColumn.Width;
    if (slot < 0 || slots[row + SlotColumn.Settable] === 0 || !this.isAvailable(slot)) {
      this.round.stop(part, Stop.NotAvailable);
      return;
    }
    const log = part >= 0 ? this.round.services.log : null;
    if (log) log.reached(part, slot, this.beliefs.value, slot);
    if (slots[row + SlotColumn.Taps] === 1 && this.tap(part, action, op, moves, slot)) return;
    if (!this.wants.want(part, action, op, moves, slot)) return;
    if (this.round.services.silent) {
      this.round.stop(part, Stop.HeldOff);
      return;
    }
    const toggleOnly = slots[row + SlotColumn.ToggleOnly] === 1;
    if (toggleOnly && this.beliefs.know[slot] === Know.Unknown && op !== Op.Toggle) {
      this.round.stop(part, Stop.StateUnknown);
      return;
    }
    this.touches.moved(part, slot);
    if (!this.telling.send(slot)) {
      this.round.stop(part, this.telling.isOpen(slot) ? Stop.Busy : Stop.HostClosed);
      return;
    }
    if (op === Op.Momentary && part >= 0) this.holds.take(action, slot);
    const r = this.register;
    if (acts[at + ActionColumn.Group] >= 0 && r[Register.Wanted] >= 0.5) this.exclude(action, slot);
    if (log) log.shaped[part] = r[Register.Wanted];
  }

  /**
   * Holds a key of a host down for as long as what drives it is pressed. What only sets or turns its state over taps
   * it.
   * @returns false where the key is to be tapped, if at all
   */
  private tap(part: number, action: number, op: Op, moves: InputMode, slot: number): boolean {
    const { holds, telling } = this;
    const isPress = moves === InputMode.Press || moves === InputMode.Touch;
    const isHold = op === Op.Momentary || (op === Op.Follow && isPress);
    if (!isHold && op !== Op.Follow) return false;
    if (this.round.services.silent) {
      this.round.stop(part, Stop.HeldOff);
      return true;
    }
    const down = isHold || this.register[Register.Heard] >= 0.5;
    const wasDown = holds.isDown(slot);
    if (moves === InputMode.Relative) return !down || wasDown;
    // Also where it holds another one, as before the bank was changed.
    if (!down) {
      holds.letGo(action);
      return true;
    }
    if (holds.isHeld(action, slot)) return true;
    if (!wasDown && !telling.event(slot, 1)) {
      this.round.stop(part, telling.isOpen(slot) ? Stop.Busy : Stop.HostClosed);
      return true;
    }
    if (!wasDown) this.round.turnedBack.pressed(slot);
    holds.take(action, slot);
    const { log } = this.round.services;
    if (log && part >= 0) log.shaped[part] = 1;
    // A host's change has nobody to let go of it.
    if (part < 0) holds.letGo(action);
    return true;
  }

  /** Whether the host has the function now, as far as it has told. */
  private isAvailable(slot: number): boolean {
    const needs = this.tables.slots[slot * SlotColumn.Width + SlotColumn.Needs];
    return (
      needs < 0 || this.beliefs.know[needs] === Know.Unknown || this.beliefs.value[needs] >= 0.5
    );
  }

  /** The others of an exclusive group let go. */
  exclude(action: number, slot: number): void {
    const group = this.tables.acts[action * ActionColumn.Width + ActionColumn.Group];
    if (group < 0) return;
    const { plan } = this.round;
    const wanted = this.register[Register.Wanted];
    for (const other of plan.groups[group]) {
      if (other === slot || this.beliefs.value[other] < 0.5) continue;
      if (plan.slots[other].link < 0) this.round.layerChanges.setOwn(other, false);
      else if (this.beliefs.know[other] !== Know.Unknown && this.isAvailable(other)) {
        this.register[Register.Wanted] = 0;
        this.telling.send(other);
      }
    }
    this.register[Register.Wanted] = wanted;
  }
}
