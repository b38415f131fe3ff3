import { GestureAt } from '../plan/plan.js';

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
  private readonly phase: Uint8Array;
  private readonly due: Float64Array;
  private readonly pressedAt: Float64Array;
  /** Binding of each gesture, settled at the press. */
  readonly settled: Int32Array;
  /** Binding whose press goes on. */
  readonly running: Int32Array;
  private readonly timed: Int32Array;
  private timedCount = 0;
  /** When something is to be told by itself, µs; Infinity where nothing is. */
  deadline = Infinity;

  constructor(
    parts: number,
    private readonly sink: GestureSink,
    /** The time now, µs, in its first place. */
    private readonly clock: Float64Array,
  ) {
    this.phase = new Uint8Array(parts);
    this.due = new Float64Array(parts).fill(Infinity);
    this.pressedAt = new Float64Array(parts);
    this.settled = new Int32Array(parts * GestureAt.Count).fill(NONE);
    this.running = new Int32Array(parts).fill(NONE);
    this.timed = new Int32Array(parts);
  }

  /** Whether the next press is the second of a double tap, so that nothing is to be settled anew. */
  isBetween(part: number): boolean {
    return this.phase[part] === Phase.Between;
  }

  /** Takes over a part's state; `bindingOf` gives the binding's index in the new plan, −1 where it is gone. */
  carry(
    part: number,
    from: Gestures,
    fromPart: number,
    bindingOf: (binding: number) => number,
  ): void {
    this.phase[part] = from.phase[fromPart];
    this.pressedAt[part] = from.pressedAt[fromPart];
    for (let g = 0; g < GestureAt.Count; g++) {
      const was = from.settled[fromPart * GestureAt.Count + g];
      this.settled[part * GestureAt.Count + g] = was < 0 ? NONE : bindingOf(was);
    }
    const ran = from.running[fromPart];
    this.running[part] = ran < 0 ? NONE : bindingOf(ran);
    if (from.due[fromPart] < Infinity) this.wait(part, from.due[fromPart]);
  }

  private wait(part: number, due: number): void {
    if (this.due[part] === Infinity) this.timed[this.timedCount++] = part;
    this.due[part] = due;
    if (due < this.deadline) this.deadline = due;
  }

  private waitNoMore(part: number): void {
    if (this.due[part] === Infinity) return;
    this.due[part] = Infinity;
    let kept = 0;
    this.deadline = Infinity;
    for (let i = 0; i < this.timedCount; i++) {
      const other = this.timed[i];
      if (other === part) continue;
      this.timed[kept++] = other;
      if (this.due[other] < this.deadline) this.deadline = this.due[other];
    }
    this.timedCount = kept;
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

  /** A key comes up. */
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

  /** Tells what time has decided by `t`, µs. */
  advance(t: number): void {
    while (this.deadline <= t) {
      let part = -1;
      for (let i = 0; i < this.timedCount; i++)
        if (part < 0 || this.due[this.timed[i]] < this.due[part]) part = this.timed[i];
      if (part < 0) {
        this.deadline = Infinity;
        return;
      }
      this.waitNoMore(part);
      if (this.phase[part] === Phase.Between) {
        this.begin(part, GestureAt.Press);
        this.end(part);
      } else
        this.begin(
          part,
          this.settled[part * GestureAt.Count + GestureAt.Long] >= 0
            ? GestureAt.Long
            : GestureAt.Press,
        );
    }
  }

  /** Ends what runs and forgets what might have come. */
  stop(part: number): void {
    this.waitNoMore(part);
    this.end(part);
  }
}
