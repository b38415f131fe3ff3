import { CONTROL_CHANGE } from '@rondo/core/wire';
import { Capture } from './capture.js';
import { THIN } from './guess.js';
import { infer, type Finding } from './infer.js';
import { crosses, nameOf } from './looks.js';
import { isDone, movement } from './movement.js';
import { PRESSED, settle, type Heard, type Lore } from './settle.js';
import { askFor, type Step } from './steps.js';
import { Senders, Stroke } from './stroke.js';

/** A control lies still for this long, ms, before it is judged without another being touched. */
export const REST_MS = 650;
/** A controller that was trembling has been moved by a hand once it has gone so far. */
const MOVED_STEPS = 12;
/** Something taken for a step: anew, or better known than before. */
export interface Taken {
  readonly step: number;
  readonly lore: Lore;
}

/** Where a lesson stands. */
export interface LessonView {
  /** Index of the step that is waited for; as many as there are steps when it is over. */
  readonly at: number;
  readonly phase: 'waiting' | 'moving' | 'unsure' | 'over';
  /** What to do now, or why it cannot tell yet. */
  readonly says: string;
  /** What the last step was found to be. */
  readonly last: Taken | null;
  /** The unsure finding, which may be taken all the same. */
  readonly offer: Lore | null;
}

const address = ({ sends }: Finding): string =>
  `${sends.type} ${sends.channel} ${sends.number ?? ''}`;

/** What a stroke says, seen as a step. */
interface Verdict {
  readonly key: string;
  readonly lore: Lore;
  /** It may be taken without being asked about. */
  readonly isSure: boolean;
  /** A hand did this, and not in passing. */
  readonly counts: boolean;
  /** What is to be said where it is not sure. */
  readonly says: string;
  readonly others: readonly Finding[];
}

interface Known {
  readonly key: string;
  readonly lore: Lore;
  readonly stroke: Stroke;
}

/**
 * A pass through the controls of a surface: it waits for one after the other and takes what its movement tells. A hand need
 * not wait: what it does next is cut off from what it did before, by who sends it. What is not sure asks for one more move;
 * a hand that goes on all the same leaves it taken, and known to be doubtful. What is brushed in passing is let go; what is
 * done once more tells more of what it was. Time is passed in, in ms; nothing is sent anywhere.
 */
export class Lesson {
  private at = 0;
  private says = '';
  private phase: LessonView['phase'] = 'waiting';
  private offer: Lore | null = null;
  private last: Taken | null = null;
  private senders = new Senders();
  private stroke = new Stroke();
  /** What was done before it and is not taken yet, since it was not sure. */
  private before: Stroke | null = null;
  /** Messages that only choose what the next one is about. */
  private leads: Heard[] = [];
  private readonly ready: Taken[] = [];
  /** What has been taken, by step. */
  private readonly known = new Map<number, Known>();
  /** Senders that move by themselves, and how far since that was found. */
  private readonly noise = new Map<string, { low: number; high: number }>();
  private readonly beside = new Map<string, number>();

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

  /** Goes to a step: back, on, or anywhere. What was heard for another is forgotten. */
  goTo(step: number): void {
    this.at = Math.max(0, Math.min(this.steps.length, step));
    this.begin();
  }

  /**
   * Forgets everything of a control and waits for it anew: of the one that is waited for; where nothing has been done for
   * that yet, of the one before.
   */
  redo(): void {
    const isUntouched = this.stroke.isEmpty && this.before === null && !this.known.has(this.at);
    const step = isUntouched && this.at > 0 ? this.at - 1 : this.at;
    this.forget(step);
    this.goTo(step);
  }

  /** What was taken for a step is not so any more, as after an undo. */
  forget(step: number): void {
    this.known.delete(step);
    this.noise.clear();
    this.beside.clear();
    if (this.last?.step === step) this.last = null;
  }

  private begin(): void {
    this.stroke = new Stroke();
    this.before = null;
    this.offer = null;
    this.leads = [];
    const over = this.at >= this.steps.length;
    this.phase = over ? 'over' : 'waiting';
    this.says = over ? 'All controls are through.' : askFor(this.steps[this.at]);
  }

  /** Messages from the surface. Clock and active sensing are passed over. */
  feed(t: number, bytes: Uint8Array): void {
    if (this.phase === 'over' || bytes.length === 0 || bytes[0] >= 0xf0) return;
    const address = this.senders.of(bytes);
    if (address === null && (bytes[0] & 0xf0) === CONTROL_CHANGE) {
      this.leads.push({ t, bytes: bytes.slice() });
      return;
    }
    if (address !== null && this.isNoise(address, bytes)) {
      this.stroke.lines.push({ t, bytes: bytes.slice() });
      return;
    }
    if (this.stroke.isOther(t, address, this.canBeTouch())) {
      this.close(true);
      if (this.over()) return;
    }
    // Once something moves, nobody else's message is offered any more.
    if (this.phase === 'unsure') this.offer = null;
    for (const lead of this.leads) this.stroke.lines.push(lead);
    this.leads = [];
    this.stroke.add(t, bytes, address);
    if (!this.stroke.isEmpty) this.phase = 'moving';
  }

  /** Whether what is held now may be the touch sense of what moves: not where a key is asked for, nor where it is known. */
  private canBeTouch(): boolean {
    const { control, part } = this.steps[this.at];
    const isKey = part === 'push' || PRESSED.has(control.kind);
    return !isKey && ![...this.known.values()].some(({ stroke }) => stroke.isLike(this.stroke));
  }

  private over(): boolean {
    return this.phase === 'over';
  }

  /** What was found to move by itself, until a hand moves it. */
  private isNoise(address: string, bytes: Uint8Array): boolean {
    const reach = this.noise.get(address);
    if (!reach) return false;
    reach.low = Math.min(reach.low, bytes[2] ?? 0);
    reach.high = Math.max(reach.high, bytes[2] ?? 0);
    if (reach.high - reach.low < MOVED_STEPS) return true;
    this.noise.delete(address);
    return false;
  }

  /**
   * Judges what was heard once the hand rests, or has gone on.
   * @returns what was taken, with its step, or null while there is nothing to take; ask again until then
   */
  tick(t: number): Taken | null {
    if (this.phase !== 'over' && !this.stroke.isEmpty && t - this.stroke.lastAt >= REST_MS)
      this.close(false);
    return this.ready.shift() ?? null;
  }

  /** The hand has left what it did: it is taken, kept to be joined by more of it, or let go. */
  private close(goesOn: boolean): void {
    let { stroke } = this;
    this.stroke = new Stroke();
    const earlier = this.before;
    if (earlier?.isLike(stroke)) {
      earlier.join(stroke);
      stroke = earlier;
      this.before = null;
    }
    const verdict = this.judge(this.at, stroke);
    if (!verdict) {
      if (this.phase === 'moving') this.phase = 'waiting';
      return;
    }
    if (this.before && this.leave(this.before, stroke)) {
      // The hand has gone on from what was not sure: this is the next.
      this.conclude(this.judge(this.at, stroke), stroke, goesOn);
      return;
    }
    this.conclude(verdict, stroke, goesOn);
  }

  private conclude(verdict: Verdict | null, stroke: Stroke, goesOn: boolean): void {
    if (!verdict) return;
    this.before = null;
    if (verdict.isSure) {
      this.take(verdict, stroke);
      return;
    }
    this.again(verdict, stroke);
    // In passing: said only where nothing comes after it.
    if (goesOn && !verdict.counts) return;
    this.before = stroke;
    this.phase = 'unsure';
    this.offer = verdict.lore;
    this.says = verdict.says;
  }

  /**
   * The hand has left something unsure and done something else. Where both count, the first is taken as it is; else it was
   * nothing, and the second is what was meant.
   * @returns whether the first was taken
   */
  private leave(first: Stroke, second: Stroke): boolean {
    if (this.at + 1 >= this.steps.length) return false;
    const left = this.judge(this.at, first);
    const next = this.judge(this.at + 1, second);
    const isNext = next !== null && next.counts && next.key !== left?.key;
    if (!left?.counts || !isNext) return false;
    this.take(left, first);
    return true;
  }

  /** What is done once more tells more of what it was. */
  private again({ key }: Verdict, stroke: Stroke): void {
    for (const [step, known] of this.known) {
      if (step === this.at || known.key !== key) continue;
      known.stroke.join(stroke);
      const better = this.judge(step, known.stroke);
      if (!better || better.lore.confidence <= known.lore.confidence) return;
      this.known.set(step, { ...known, lore: better.lore });
      this.ready.push({ step, lore: better.lore });
      return;
    }
  }

  private judge(at: number, stroke: Stroke): Verdict | null {
    const step = this.steps[at];
    const capture = new Capture();
    for (const { t, bytes } of stroke.lines) capture.feed(t, bytes);
    const found = infer(capture);
    const main = this.pick(found, step, stroke.lines);
    if (!main) return null;
    const lore = settle(step, found, main, stroke.lines);
    const others = found.filter((finding) => finding !== main && finding.kind !== 'touch');
    const key = address(main);
    const verdict = { key, lore, others, counts: isDone(main, stroke.lines) };
    const { label } = step.control;
    const other = [...this.known].find(([n, known]) => n !== at && known.key === key);
    if (other) {
      const says = `That is what ${this.steps[other[0]].control.label} sends. Move ${label}, or take it all the same.`;
      return { ...verdict, isSure: false, counts: false, says };
    }
    const looks = crosses(step, main);
    if (looks) {
      const says = `What moved is a ${looks}, and ${label} is drawn as a ${nameOf(step.control.kind)}. Touch ${label}, or take it all the same.`;
      return { ...verdict, isSure: false, counts: false, says };
    }
    const isSure = lore.confidence >= THIN && main.kind !== 'unknown';
    return { ...verdict, isSure, says: lore.why };
  }

  /** Takes the unsure finding because the user says so. */
  takeOffer(): Taken | null {
    const { offer, before } = this;
    if (!offer || !before) return null;
    const verdict = this.judge(this.at, before);
    if (!verdict) return null;
    this.take({ ...verdict, key: verdict.counts ? verdict.key : '' }, before);
    return this.ready.pop() ?? null;
  }

  private take({ key, lore, others }: Verdict, stroke: Stroke): void {
    const taken = { step: this.at, lore };
    for (const finding of others) this.hearBeside(finding);
    if (key !== '') this.known.set(this.at, { key, lore, stroke });
    this.last = taken;
    this.ready.push(taken);
    this.at++;
    const { stroke: going } = this;
    this.begin();
    this.stroke = going;
  }

  /** What moved beside a control: by itself, if it trembles or does so again. */
  private hearBeside(finding: Finding): void {
    const { type, channel, number } = finding.sends;
    if (type !== 'controlChange') return;
    const sender = `controller ${channel - 1} ${number ?? 0}`;
    const times = (this.beside.get(sender) ?? 0) + 1;
    this.beside.set(sender, times);
    if (finding.kind === 'unknown' || times >= 2) this.noise.set(sender, { low: 127, high: 0 });
  }

  /** The finding that the hand meant: what moved most, touch sense last. */
  private pick(
    found: readonly Finding[],
    step: Step,
    lines: readonly Heard[],
  ): Finding | undefined {
    const wantsTouch = step.part === 'touch';
    const isByItself = ({ sends }: Finding) =>
      sends.type === 'controlChange' &&
      this.noise.has(`controller ${sends.channel - 1} ${sends.number ?? 0}`);
    const score = (finding: Finding) =>
      (finding.kind === 'touch' && !wantsTouch ? -1_000 : 0) + movement(finding, lines);
    return found
      .filter((finding) => !isByItself(finding))
      .sort((a, b) => score(b) - score(a))
      .at(0);
  }
}
