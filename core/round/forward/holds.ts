import { Register } from '../context.js';
import { ActionColumn, Op, SlotColumn } from '../plan/columns.js';
import type { Run } from '../plan/binding-plan.js';
import type { Tables } from '../plan/tables.js';
import { Know } from '../return/beliefs.js';
import type { RoundContext } from '../round-context.js';
import type { LayerChanges } from './layer-changes.js';
import type { MessagesOut } from './messages-out.js';
import type { Notes } from './notes.js';
import type { Telling } from './telling.js';
import type { Touches } from './touches.js';

/** What an action may hold besides a slot. */
export const enum Held {
  Nothing = -1,
  /** Sounding notes, that no slot stands for. */
  Notes = -2,
}

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly layerChanges: LayerChanges;
  readonly messages: MessagesOut;
  readonly notes: Notes;
  readonly telling: Telling;
  readonly touches: Touches;
}

/** What actions hold down until they are let go of, each once. Writes `Register.Wanted` for what is let go. */
export class Holds {
  private readonly tables: Tables;
  /** Slot that an action holds down, or one of {@link Held}. */
  private readonly held: Int32Array;
  /** How many actions hold each slot. */
  private readonly slotHolds: Uint8Array;
  private readonly register: Float64Array;

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.held = round.state.actionHolds;
    this.slotHolds = round.state.slotHolds;
    this.register = round.services.context.register;
  }

  /** Whether an action of a run holds something. */
  holds({ first, count }: Run): boolean {
    for (let action = first; action < first + count; action++)
      if (this.held[action] !== Held.Nothing) return true;
    return false;
  }

  /** Whether an action holds a slot, or its notes. */
  isHeld(action: number, what: number): boolean {
    return this.held[action] === what;
  }

  /** Whether anything holds a slot. */
  isDown(slot: number): boolean {
    return this.slotHolds[slot] > 0;
  }

  /** An action holds a slot from now on. */
  take(action: number, slot: number): void {
    if (this.held[action] === slot) return;
    // What it held until now nobody else remembers.
    this.letGo(action);
    this.held[action] = slot;
    this.slotHolds[slot]++;
    this.round.services.heldVersion++;
  }

  /** An action holds its notes from now on. */
  takeNotes(action: number): void {
    this.held[action] = Held.Notes;
    this.round.services.heldVersion++;
  }

  /** Releases what a run of actions holds. */
  letGoOf({ first, count }: Run): void {
    for (let action = first; action < first + count; action++) this.letGo(action);
  }

  /** A press of a run of actions ends. */
  endPress(part: number, run: Run): void {
    const { acts } = this.tables;
    this.letGoOf(run);
    // What is sent on as it came in has an end of its own.
    for (let action = run.first; action < run.first + run.count; action++) {
      const at = action * ActionColumn.Width;
      if (acts[at + ActionColumn.Op] === Op.Send && acts[at + ActionColumn.By] === 1)
        this.round.messages.sendEnd(part, action);
    }
  }

  /** Releases all that is held. */
  letGoOfAll(): void {
    this.round.touches.liftAll();
    this.letGoOf({ first: 0, count: this.held.length });
  }

  /** Releases what an action holds. */
  letGo(action: number): void {
    const held = this.held[action];
    if (held === Held.Nothing) return;
    this.held[action] = Held.Nothing;
    this.round.services.heldVersion++;
    if (held === Held.Notes) {
      this.round.messages.silence(action);
      return;
    }
    if (this.slotHolds[held] > 0) this.slotHolds[held]--;
    const { acts, shapers, slots } = this.tables;
    const op = acts[action * ActionColumn.Width + ActionColumn.Op] as Op;
    if (op === Op.LayerHold) {
      this.round.layers.release(acts[action * ActionColumn.Width + ActionColumn.By]);
      return;
    }
    // Another control still holds the same.
    if (this.slotHolds[held] > 0) return;
    const { telling } = this.round;
    const at = held * SlotColumn.Width;
    if (slots[at + SlotColumn.Taps] === 1) {
      this.round.turnedBack.released(held);
      telling.event(held, 0);
    } else if (op === Op.FlagHold) this.round.layerChanges.setOwn(held, false);
    else {
      this.register[Register.Wanted] = shapers[action].low;
      const unknown = this.round.beliefs.know[held] === Know.Unknown;
      if (slots[at + SlotColumn.ToggleOnly] === 0 || !unknown) telling.send(held);
    }
  }

  /** The bytes that would release what is held on a host link, should Rondo vanish. */
  releaseBytes(link: number): Uint8Array {
    const { slots, shapers } = this.tables;
    const bytes: number[] = [];
    const isThere = (slot: number) => slots[slot * SlotColumn.Width + SlotColumn.Link] === link;
    this.held.forEach((slot, action) => {
      if (slot >= 0 && isThere(slot)) this.round.telling.append(slot, shapers[action].low, bytes);
    });
    for (const slot of this.round.touches.fingers.touched())
      if (isThere(slot)) this.round.telling.append(slot, 0, bytes);
    return Uint8Array.from([...bytes, ...this.round.notes.silence(link)]);
  }
}
