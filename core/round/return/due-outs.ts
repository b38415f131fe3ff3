import type { EngineServices } from '../engine-services.js';
import type { IndexList } from '../live/columns.js';
import { OutputColumn, PartColumn } from '../plan/columns.js';
import { Shows } from '../plan/out-plan.js';
import type { RoundContext } from '../round-context.js';
import type { Outbox } from './outbox.js';

/** Motors and what is in hand; lights; rings; texts; meters; lights that pulse. */
export const OUT_PRIORITIES = 6;
const LAST_PRIORITY = 5;

/** Order in which outputs go out: motors, lights, rings, text, meters. */
const PRIORITY: Readonly<Record<Shows, number>> = {
  [Shows.Motor]: 0,
  [Shows.Light]: 1,
  [Shows.Ring]: 2,
  [Shows.Text]: 3,
  [Shows.Meter]: 4,
};

/** A display field is written at most this often, µs: nobody reads faster. */
export const TEXT_EVERY = 40_000;
/** What belongs to a control that the hand was at this lately goes first, µs. */
const IN_HAND = 500_000;

/** Which outputs are due, in what order of urgency, and which wait for their time. */
export class DueOuts {
  private readonly outs: Int32Array;
  private readonly parts: Int32Array;
  private readonly down: Uint8Array;
  private readonly shownAt: Float64Array;
  private readonly textPick: Uint8Array;
  private readonly movedAt: Float64Array;
  private readonly services: EngineServices;
  private readonly outboxes: readonly Outbox[];
  private readonly waiting: IndexList;
  /** When an output that waits is due, µs. */
  private readonly dueAt: Float64Array;
  private readonly isWaiting: Uint8Array;
  /** When the first of what was put off is due, µs, in its first place; Infinity where nothing is. */
  private readonly firstDue = Float64Array.of(Infinity);

  constructor(round: RoundContext) {
    this.outs = round.tables.outs;
    this.parts = round.tables.parts;
    this.down = round.state.down;
    this.shownAt = round.state.shownAt;
    this.textPick = round.state.textPick;
    this.movedAt = round.state.movedAt;
    this.services = round.services;
    this.outboxes = round.outboxes;
    this.waiting = round.state.waitingOuts;
    this.dueAt = round.state.dueAt;
    this.isWaiting = round.state.isWaiting;
    for (let i = 0; i < this.waiting.count; i++) this.noteDue(this.dueAt[this.waiting.items[i]]);
  }

  /** When the first of what was put off is due, µs; {@link advance} is needed by then. */
  get deadline(): number {
    return this.firstDue[0];
  }

  private noteDue(due: number): void {
    if (due >= this.firstDue[0]) return;
    this.firstDue[0] = due;
    if (due < this.services.agenda[0]) this.services.agenda[0] = due;
  }

  /** What an output shows has changed. A motor with a finger on it is told of that when the finger is gone. */
  addChanged(out: number): void {
    const mover = this.outs[out * OutputColumn.Width + OutputColumn.Mover];
    const touch = mover < 0 ? -1 : this.parts[mover * PartColumn.Width + PartColumn.Partner];
    if (touch < 0 || this.down[touch] === 0) this.add(out);
  }

  /** An output is due. */
  add(out: number): void {
    const at = out * OutputColumn.Width;
    const box = this.outboxes[this.outs[at + OutputColumn.Link]];
    if (!box.open) return;
    const shows = this.outs[at + OutputColumn.Shows] as Shows;
    const next = this.shownAt[out] + TEXT_EVERY;
    if (shows === Shows.Text && this.services.clock[0] < next) {
      if (this.isWaiting[out] === 0) this.waitUntil(out, next);
    } else box.mark(this.outs[at + OutputColumn.Local], this.priorityOf(out, shows));
  }

  /** An output is due when all others have gone out. */
  addLast(out: number): void {
    const at = out * OutputColumn.Width;
    const box = this.outboxes[this.outs[at + OutputColumn.Link]];
    if (box.open) box.mark(this.outs[at + OutputColumn.Local], LAST_PRIORITY);
  }

  /** What the hand waits for goes before what it does not look at. */
  private priorityOf(out: number, shows: Shows): number {
    const usual = PRIORITY[shows];
    if (usual === 0 || shows === Shows.Meter) return usual;
    const { textPick, movedAt } = this;
    const source = textPick[out] === 1 ? OutputColumn.Part2 : OutputColumn.Part;
    const part = this.outs[out * OutputColumn.Width + source];
    const now = this.services.clock[0];
    return part >= 0 && movedAt[part] > 0 && now - movedAt[part] < IN_HAND ? 0 : usual;
  }

  /** Puts an output off: a text until its field may be written again, a motor until the hand is away. */
  waitUntil(out: number, due: number): void {
    this.dueAt[out] = due;
    this.noteDue(due);
    if (this.isWaiting[out] !== 0) return;
    this.isWaiting[out] = 1;
    this.waiting.add(out);
  }

  /** The same for one of several reasons: each is asked again when the first of them is due. */
  waitAtMost(out: number, due: number): void {
    if (this.isWaiting[out] === 0 || due < this.dueAt[out]) this.waitUntil(out, due);
  }

  /** Whether an output has been put off. */
  waits(out: number): boolean {
    return this.isWaiting[out] !== 0;
  }

  /** What was put off long enough is due. */
  advance(): void {
    const now = this.services.clock[0];
    if (now < this.firstDue[0]) return;
    const { items, count } = this.waiting;
    this.firstDue[0] = Infinity;
    let kept = 0;
    for (let i = 0; i < count; i++) {
      const out = items[i];
      if (this.dueAt[out] > now) {
        items[kept++] = out;
        this.noteDue(this.dueAt[out]);
      } else this.isWaiting[out] = 0;
      if (this.isWaiting[out] === 0) this.due.push(out);
    }
    this.waiting.count = kept;
    for (const out of this.due) this.add(out);
    this.due.length = 0;
  }

  /** Outputs whose time has come, while they are taken off the list. */
  private readonly due: number[] = [];
}
