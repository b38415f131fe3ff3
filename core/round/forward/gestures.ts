import type { IndexList } from '../live/columns.js';
import type { State } from '../live/state.js';
import { GestureAt } from '../plan/part-plan.js';

const enum Phase {
  Idle,
  /** Pressed, and it may yet become a long press or a double tap. */
  Open,
  /** Released, and it may yet become a double tap. */
  Between,
  /** A press has been told and goes on until the release. */
  Down,
}

const NONE = -1;

/** What a part of gestures tells: a press of a binding begins, or the one that runs ends. */
export interface GestureSink {
  begin(part: number, binding: number): void;
  end(part: number, binding: number): void;
}

/**
 * Tells presses, long presses and double taps apart, by part. A plain press is told at once unless something longer
 * is bound to the same key; then it is told when that can no longer come. What a press means is settled when it begins.
 */
export class Gestures {
  /** Binding of each gesture, settled at the press. */
  readonly settled: Int32Array;
  private readonly phase: Uint8Array;
  private readonly due: Float64Array;
  private readonly pressedAt: Float64Array;
  /** Binding whose press goes on. */
  private readonly running: Int32Array;
  private readonly timed: IndexList;
  /** When something is to be told by itself, µs; Infinity where nothing is. {@link advance} is needed by then. */
  deadline = Infinity;

  /**
   * @param clock the time now, µs, in its first place
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   */
  constructor(
    state: State,
    private readonly sink: GestureSink,
    private readonly clock: Float64Array,
    private readonly agenda: Float64Array,
  ) {
    this.settled = state.settled;
    this.phase = state.phase;
    this.due = state.gestureDue;
    this.pressedAt = state.pressedAt;
    this.running = state.running;
    this.timed = state.timedParts;
    this.findDeadline();
  }

  /** Whether the next press is the second of a double tap, so that nothing is to be settled anew. */
  isBetween(part: number): boolean {
    return this.phase[part] === Phase.Between;
  }

  /** What a press meant is not asked for any more. */
  forget(part: number): void {
    const at = part * GestureAt.Count;
    this.settled.fill(NONE, at, at + GestureAt.Count);
  }

  private findDeadline(): void {
    this.deadline = Infinity;
    for (let i = 0; i < this.timed.count; i++) {
      const due = this.due[this.timed.items[i]];
      if (due < this.deadline) this.deadline = due;
    }
  }

  private wait(part: number, due: number): void {
    if (this.due[part] === Infinity) this.timed.add(part);
    this.due[part] = due;
    if (due < this.deadline) this.deadline = due;
    if (due < this.agenda[0]) this.agenda[0] = due;
  }

  private waitNoMore(part: number): void {
    if (this.due[part] === Infinity) return;
    this.due[part] = Infinity;
    this.timed.remove(part);
    this.findDeadline();
  }

  private begin(part: number, gesture: GestureAt): void {
    const binding = this.settled[part * GestureAt.Count + gesture];
    this.phase[part] = Phase.Down;
    if (binding < 0) return;
    this.running[part] = binding;
    this.sink.begin(part, binding);
  }

  private end(part: number): void {
    const binding = this.running[part];
    this.running[part] = NONE;
    this.phase[part] = Phase.Idle;
    if (binding >= 0) this.sink.end(part, binding);
  }

  /**
   * A key goes down; what its gestures mean stands in {@link settled}, unless it {@link isBetween}.
   * @param long how long a long press is, µs
   * @param double within what time two presses are a double tap, µs
   */
  press(part: number, long: number, double: number): void {
    const t = this.clock[0];
    if (this.phase[part] === Phase.Between) {
      this.waitNoMore(part);
      this.begin(part, GestureAt.Double);
      return;
    }
    if (this.phase[part] !== Phase.Idle) this.end(part);
    this.waitNoMore(part);
    this.pressedAt[part] = t;
    const hasLong = this.settled[part * GestureAt.Count + GestureAt.Long] >= 0;
    const hasDouble = this.settled[part * GestureAt.Count + GestureAt.Double] >= 0;
    if (!hasLong && !hasDouble) {
      this.begin(part, GestureAt.Press);
      return;
    }
    this.phase[part] = Phase.Open;
    this.wait(part, t + (hasLong ? long : double));
  }

  /**
   * A key comes up.
   * @param double within what time two presses are a double tap, µs
   */
  release(part: number, double: number): void {
    const t = this.clock[0];
    if (this.phase[part] === Phase.Down) this.end(part);
    else if (this.phase[part] === Phase.Open) {
      this.waitNoMore(part);
      const due = this.pressedAt[part] + double;
      if (this.settled[part * GestureAt.Count + GestureAt.Double] >= 0 && due > t) {
        this.phase[part] = Phase.Between;
        this.wait(part, due);
      } else {
        this.begin(part, GestureAt.Press);
        this.end(part);
      }
    }
  }

  /** Tells what time has decided by now. */
  advance(): void {
    while (this.deadline <= this.clock[0]) {
      const part = this.firstDue();
      if (part < 0) {
        this.deadline = Infinity;
        return;
      }
      this.waitNoMore(part);
      if (this.phase[part] === Phase.Between) {
        this.begin(part, GestureAt.Press);
        this.end(part);
        this.forget(part);
      } else {
        const isLong = this.settled[part * GestureAt.Count + GestureAt.Long] >= 0;
        this.begin(part, isLong ? GestureAt.Long : GestureAt.Press);
      }
    }
  }

  private firstDue(): number {
    const { items, count } = this.timed;
    let part = NONE;
    for (let i = 0; i < count; i++)
      if (part < 0 || this.due[items[i]] < this.due[part]) part = items[i];
    return part;
  }

  /** Ends what runs and forgets what might have come. */
  stop(part: number): void {
    this.waitNoMore(part);
    this.end(part);
    this.forget(part);
  }
}
