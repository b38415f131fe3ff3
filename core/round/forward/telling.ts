import { MAX_VALUE_BYTES, type Sender } from '@rondo/core/surface';
import type { Causes } from '../cables/causes.js';
import type { TurnedBack } from '../cables/turned-back.js';
import { Register } from '../context.js';
import { SlotColumn } from '../plan/columns.js';
import { Know, type Beliefs } from '../return/beliefs.js';
import type { Outbox } from '../return/outbox.js';
import type { RoundContext } from '../round-context.js';

const NONE = new Int32Array(0);

/** Tells hosts the values of their functions, and remembers what was told. Reads `Register.Wanted`. */
export class Telling {
  private readonly slots: Int32Array;
  private readonly senders: readonly Sender[];
  private readonly outboxes: readonly Outbox[];
  private readonly beliefs: Beliefs;
  private readonly causes: Causes;
  private readonly turnedBack: TurnedBack;
  private readonly register: Float64Array;
  private readonly scratch = new Uint8Array(MAX_VALUE_BYTES);
  /** Where the functions of each link stand, side by side. */
  private readonly beside: readonly Int32Array[];

  constructor(private readonly round: RoundContext) {
    this.slots = round.tables.slots;
    this.senders = round.senders;
    this.outboxes = round.outboxes;
    this.beliefs = round.beliefs;
    this.causes = round.causes;
    this.turnedBack = round.turnedBack;
    this.register = round.services.context.register;
    this.beside = round.plan.links.map(({ kind, first, count }) =>
      kind === 'host' ? this.beliefs.standsWire.subarray(first, first + count) : NONE,
    );
  }

  /** Whether the output to a slot's host is open. */
  isOpen(slot: number): boolean {
    return this.outboxes[this.slots[slot * SlotColumn.Width + SlotColumn.Link]].open;
  }

  /** Tells a host a value of a slot as an event, which is never left out; false where it cannot go. */
  event(slot: number, value: number): boolean {
    const at = slot * SlotColumn.Width;
    const link = this.slots[at + SlotColumn.Link];
    const local = this.slots[at + SlotColumn.Local];
    const box = this.outboxes[link];
    if (!box.open) return false;
    const sender = this.senders[link];
    const length = this.write(link, local, sender.wire(local, value), this.scratch, 0);
    return length === 0 || box.pushEvent(this.scratch, 0, length);
  }

  /**
   * Tells a host the value in the register; false where its port is closed, or events pile up. A host that only knows
   * how to turn a function over is told nothing where it has the value already.
   */
  send(slot: number): boolean {
    const { slots, register } = this;
    const at = slot * SlotColumn.Width;
    const link = slots[at + SlotColumn.Link];
    const local = slots[at + SlotColumn.Local];
    const box = this.outboxes[link];
    if (!box.open) return false;
    const value = register[Register.Wanted];
    const sender = this.senders[link];
    let wire = sender.wireAt(local, register, Register.Wanted);
    const { know, value: believed } = this.beliefs;
    const toggleOnly = slots[at + SlotColumn.ToggleOnly] === 1;
    if (toggleOnly) {
      if (know[slot] !== Know.Unknown && value >= 0.5 === believed[slot] >= 0.5) return true;
      // What it does is for its lamp to tell.
      if (slots[at + SlotColumn.Taps] === 1) {
        this.turnedBack.pressed(slot);
        return this.event(slot, 1) && this.event(slot, 0);
      }
      wire = sender.wire(local, 1);
    }
    if (slots[at + SlotColumn.Continuous] !== 0) box.mark(local, 0);
    else {
      const length = this.write(link, local, wire, this.scratch, 0);
      if (!box.pushEvent(this.scratch, 0, length)) return false;
    }
    this.beliefs.sentWire[slot] = wire;
    this.beliefs.standsWire[slot] = wire;
    if (this.causes.running !== 0) this.causes.told(slot, register, Register.Wanted);
    // What turns tells by its ring where it stands, and ticks are no place.
    if (slots[at + SlotColumn.Nudge] === 1) return true;
    // A trigger leaves no state behind; what was turned over blindly is as unknown as before.
    if (slots[at + SlotColumn.Reports] === 0 && !(toggleOnly && know[slot] !== Know.Unknown))
      return true;
    if (toggleOnly && know[slot] === Know.Unknown) return true;
    this.beliefs.assume(slot, register, Register.Wanted);
    this.round.changed(slot);
    return true;
  }

  /** Writes what a host is due of a slot; returns its bytes. */
  render(slot: number, buffer: Uint8Array, at: number): number {
    const { slots } = this;
    return this.write(
      slots[slot * SlotColumn.Width + SlotColumn.Link],
      slots[slot * SlotColumn.Width + SlotColumn.Local],
      this.beliefs.sentWire[slot],
      buffer,
      at,
    );
  }

  private write(link: number, local: number, wire: number, buffer: Uint8Array, at: number): number {
    return this.senders[link].write(local, wire, buffer, at, this.beside[link]);
  }

  /** Writes a value of a slot at the end of a list of bytes. */
  append(slot: number, value: number, bytes: number[]): void {
    const link = this.slots[slot * SlotColumn.Width + SlotColumn.Link];
    const local = this.slots[slot * SlotColumn.Width + SlotColumn.Local];
    const wire = this.senders[link].wire(local, value);
    const length = this.write(link, local, wire, this.scratch, 0);
    bytes.push(...this.scratch.subarray(0, length));
  }
}
