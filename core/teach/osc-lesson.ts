import { readOscMessage } from '@rondo/core/wire';
import { REST_MS, type LessonView, type Taken } from './lesson.js';
import { oscLore, type OscHeardAt } from './osc-movement.js';
import type { Lore } from './settle.js';
import { askFor, type Step } from './steps.js';
import { HAND_MS } from './stroke.js';

/** Below this it is asked for once more. */
const THIN_OSC = 0.6;
const MOST_LINES = 4_000;

/**
 * A pass through the controls of a surface that speaks OSC: as {@link Lesson}, but the address says who sends, so that
 * what another hand does meanwhile is never mixed in.
 */
export class OscLesson {
  private at = 0;
  private says = '';
  private phase: LessonView['phase'] = 'waiting';
  private offer: Lore | null = null;
  private last: Taken | null = null;
  private lines: OscHeardAt[] = [];
  private lastAt = -Infinity;
  private readonly ready: Taken[] = [];
  /** Address of what has been taken, by step. */
  private readonly known = new Map<number, string>();

  constructor(
    private steps: readonly Step[],
    from = 0,
  ) {
    this.goTo(from);
  }

  get view(): LessonView {
    const { at, phase, says, last, offer } = this;
    return { at, phase, says, last, offer };
  }

  /** The same steps, as they are described now. */
  describe(steps: readonly Step[]): void {
    this.steps = steps;
    if (this.phase === 'waiting') this.says = askFor(steps[this.at]);
  }

  goTo(step: number): void {
    this.at = Math.max(0, Math.min(this.steps.length, step));
    this.lines = [];
    this.lastAt = -Infinity;
    this.offer = null;
    const over = this.at >= this.steps.length;
    this.phase = over ? 'over' : 'waiting';
    this.says = over ? 'All controls are through.' : askFor(this.steps[this.at]);
  }

  redo(): void {
    const isUntouched = this.lines.length === 0 && !this.known.has(this.at);
    const step = isUntouched && this.at > 0 ? this.at - 1 : this.at;
    this.forget(step);
    this.goTo(step);
  }

  forget(step: number): void {
    this.known.delete(step);
    if (this.last?.step === step) this.last = null;
  }

  /** An OSC message from the surface, and when it came, ms. */
  feed(t: number, bytes: Uint8Array): void {
    const message = readOscMessage(bytes);
    if (this.phase === 'over' || !message) return;
    const isOther = this.lines.length > 0 && this.lines[0].message.address !== message.address;
    if (isOther) {
      // What comes in the same moment is of the same hand: a touch sense, or another axis.
      if (t - this.lastAt < HAND_MS) return;
      this.close();
      if (this.isOver()) return;
      if (this.phase === 'unsure') this.goTo(this.at);
    }
    this.lines.push({ t, message });
    if (this.lines.length > MOST_LINES) this.lines.splice(1, MOST_LINES / 2);
    this.lastAt = t;
    this.phase = 'moving';
    this.offer = null;
  }

  private isOver(): boolean {
    return this.phase === 'over';
  }

  /** Judges what was heard once the hand rests; as {@link Lesson.tick}. */
  tick(t: number): Taken | null {
    if (this.phase === 'moving' && t - this.lastAt >= REST_MS) this.close();
    return this.ready.shift() ?? null;
  }

  private close(): void {
    const { control, part } = this.steps[this.at];
    const { address } = this.lines[0].message;
    const lore = oscLore(control, part, this.lines);
    const other = [...this.known].find(([step, one]) => step !== this.at && one === address);
    if (other && lore.sends[part]) {
      const { label } = this.steps[other[0]].control;
      this.ask(
        lore,
        `That is what ${label} sends. Move ${control.label}, or take it all the same.`,
      );
    } else if (lore.confidence < THIN_OSC)
      this.ask(lore, `${lore.why} Do it once more, or take it all the same.`);
    else this.take(lore, address);
  }

  private ask(lore: Lore, says: string): void {
    this.phase = 'unsure';
    this.offer = lore;
    this.says = says;
  }

  takeOffer(): Taken | null {
    const [line] = this.lines;
    if (!this.offer || !line) return null;
    this.take(this.offer, line.message.address);
    return this.ready.pop() ?? null;
  }

  private take(lore: Lore, address: string): void {
    const taken = { step: this.at, lore };
    this.known.set(this.at, address);
    this.last = taken;
    this.ready.push(taken);
    this.goTo(this.at + 1);
  }
}
