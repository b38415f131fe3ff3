import { ActionColumn, BindingColumn, PartColumn, SlotColumn } from '../plan/columns.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { Telling } from './telling.js';
import { Fingers } from './fingers.js';

const NONE = -1;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly telling: Telling;
  readonly hands: { bankOf(part: number): number };
}

/** Tells programs that know a touch of the fingers on what moves their functions. */
export class Touches {
  readonly fingers: Fingers;
  private readonly tables: Tables;
  /** Slot that the finger on each part is told of; −1 for none. */
  private readonly fingerAt: Int32Array;

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.fingerAt = round.state.fingerAt;
    this.fingers = new Fingers(
      round.state,
      round.services.clock,
      round.services.agenda,
      (slot, on) => {
        round.telling.event(slot, on ? 1 : 0);
        round.services.heldVersion++;
      },
    );
  }

  /** A finger has come to a fader, whose binding is given, or has gone; true where a host is told that it has come. */
  finger(part: number, binding: number, on: boolean): boolean {
    const was = this.fingerAt[part];
    this.fingerAt[part] = NONE;
    // Another finger may lie on the same function.
    if (was >= 0 && !this.fingerAt.includes(was)) this.fingers.lift(was);
    if (!on || binding < 0 || this.round.services.silent) return false;
    const { acts, bindings, slots } = this.tables;
    const action = bindings[binding * BindingColumn.Width + BindingColumn.Shown];
    if (action < 0) return false;
    const at = action * ActionColumn.Width;
    const slot = this.round.matcher.slotAt(
      acts[at + ActionColumn.Base],
      acts[at + ActionColumn.Offset],
      acts[at + ActionColumn.Strips],
      this.round.hands.bankOf(part),
    );
    const touch = slot < 0 ? NONE : slots[slot * SlotColumn.Width + SlotColumn.Touch];
    if (touch < 0) return false;
    this.fingerAt[part] = touch;
    this.fingers.press(touch);
    return true;
  }

  /** What moves a function is touched while it moves, where a host wants to know and no finger is felt. */
  moved(part: number, slot: number): void {
    const touch = this.tables.slots[slot * SlotColumn.Width + SlotColumn.Touch];
    if (touch < 0 || part < 0) return;
    if (this.tables.parts[part * PartColumn.Width + PartColumn.Partner] >= 0) return;
    this.fingers.moved(touch);
  }

  /** All fingers are taken to be gone. */
  liftAll(): void {
    this.fingers.liftAll();
    this.fingerAt.fill(NONE);
  }
}
