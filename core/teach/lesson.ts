import {
  mainPart,
  type Control,
  type ControlKind,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import { Capture } from './capture.js';
import { THIN } from './classify.js';
import { TICK_VALUES, TREMBLE, infer, type Finding } from './infer.js';
import { CONTROL_CHANGE } from '@rondo/core/wire';
import { settle, type Heard, type Lore } from './settle.js';

/** A control lies still for this long, ms, before it is judged. */
export const REST_MS = 650;
/** Messages kept of one movement; older ones go. */
const MOST_HEARD = 4_000;

export interface Step {
  readonly control: Control;
  readonly part: InputPart;
}

/** Where a lesson stands. */
export interface LessonView {
  /** Index of the step that is waited for; as many as there are steps when it is over. */
  readonly at: number;
  readonly phase: 'waiting' | 'moving' | 'unsure' | 'over';
  /** What to do now, or why it cannot tell yet. */
  readonly says: string;
  /** What the last step was found to be. */
  readonly last: { readonly step: number; readonly lore: Lore } | null;
  /** The unsure finding, which may be taken all the same. */
  readonly offer: Lore | null;
}

const HOW: Readonly<Record<ControlKind, string>> = {
  fader: 'Move it from end to end and back.',
  knob: 'Turn it from end to end and back.',
  encoder: 'Turn it clockwise first, then back.',
  button: 'Press it shortly, twice.',
  pad: 'Strike it twice and press on.',
  key: 'Strike it softly, then hard.',
  pedal: 'Step on it shortly, twice.',
  expression: 'Move it from heel to toe and back.',
  switch: 'Go through all its positions and back.',
  wheel: 'Move it and let go, twice.',
  touchStrip: 'Slide a finger from end to end.',
  jog: 'Turn it clockwise first, then back.',
  display: '',
};

const PART_HOW: Partial<Record<InputPart, string>> = {
  push: 'Press it shortly, twice, without turning.',
  touch: 'Touch it without moving it, twice.',
  pressure: 'Hold it down and press on.',
};

/** What a step asks the hand to do. */
export function askFor({ control, part }: Step): string {
  return part === mainPart(control.kind) ? HOW[control.kind] : (PART_HOW[part] ?? '');
}

/** Controls whose middles lie this close, in millimetres, stand in one row. */
const ROW = 12;

/** The steps of a whole pass over a surface, row by row as the eye reads. */
export function stepsOf({ controls }: Surface): Step[] {
  const middle = (control: Control) => control.y + control.height / 2;
  const rows: Control[][] = [];
  for (const control of [...controls].sort((a, b) => middle(a) - middle(b))) {
    const row = rows.at(-1);
    if (row && middle(control) - middle(row[0]) < ROW) row.push(control);
    else rows.push([control]);
  }
  return rows
    .flatMap((row) => row.sort((a, b) => a.x - b.x))
    .filter((control) => !control.silent)
    .flatMap((control): Step[] => {
      const main = mainPart(control.kind);
      if (!main) return [];
      const push =
        main === 'value' && control.sends.push ? [{ control, part: 'push' as const }] : [];
      return [{ control, part: main }, ...push];
    });
}

const address = ({ sends }: Finding): string =>
  `${sends.type} ${sends.channel} ${sends.number ?? ''}`;

/** How far something moved, as a share of what its message can carry, and how often. */
function movement(finding: Finding, lines: readonly Heard[]): number {
  const relative = finding.sends.encoding !== undefined && finding.sends.encoding !== 'absolute';
  const own = lines.filter(({ bytes }) => {
    const channel = (bytes[0] & 0x0f) + 1;
    const hasNumber = finding.sends.number !== undefined && finding.sends.type !== 'nrpn';
    return channel === finding.sends.channel && (!hasNumber || bytes[1] === finding.sends.number);
  });
  const values = own.map(({ bytes }) => bytes[2] ?? bytes[1]);
  const reach = Math.max(0, ...values) - Math.min(127, ...values);
  return (relative ? 64 : Math.max(reach, finding.kind === 'unknown' ? 0 : 1)) + own.length / 1_000;
}

/**
 * A pass through the controls of a surface: it waits for one after the other, takes what its movement tells, and goes
 * on when that is sure. Unsure findings ask for one more move. Time is passed in, in ms; nothing is sent anywhere.
 */
export class Lesson {
  private at = 0;
  private lines: Heard[] = [];
  private lastAt = -Infinity;
  private judgedAt = -Infinity;
  private readonly reach = new Map<number, { low: number; high: number }>();
  private says: string;
  private phase: LessonView['phase'] = 'waiting';
  private offer: Lore | null = null;
  private last: LessonView['last'] = null;
  /** Addresses that moved while another control was taught: noise until proven otherwise. */
  private readonly noise = new Set<string>();
  /** Addresses taken, by step. */
  private readonly taken = new Map<number, string>();

  constructor(
    private readonly steps: readonly Step[],
    from = 0,
  ) {
    this.says = '';
    this.goTo(from);
  }

  get view(): LessonView {
    return {
      at: this.at,
      phase: this.phase,
      says: this.says,
      last: this.last,
      offer: this.offer,
    };
  }

  /** Goes to a step: back, on, or anywhere. What was heard for another is forgotten. */
  goTo(step: number): void {
    this.at = Math.max(0, Math.min(this.steps.length, step));
    this.begin();
  }

  /** Forgets what was heard for this step and waits for it anew. */
  redo(): void {
    this.taken.delete(this.at);
    this.begin();
  }

  private begin(): void {
    this.lines = [];
    this.judgedAt = -Infinity;
    this.reach.clear();
    this.lastAt = -Infinity;
    this.offer = null;
    const over = this.at >= this.steps.length;
    this.phase = over ? 'over' : 'waiting';
    this.says = over ? 'All controls are through.' : askFor(this.steps[this.at]);
  }

  /** Messages from the surface. Clock and active sensing are passed over. */
  feed(t: number, bytes: Uint8Array): void {
    if (this.phase === 'over' || bytes.length === 0 || bytes[0] >= 0xf0) return;
    this.lines.push({ t, bytes: bytes.slice() });
    if (this.lines.length > MOST_HEARD) this.lines.splice(0, MOST_HEARD / 2);
    if (this.isNoise(bytes) || this.trembles(bytes)) return;
    this.lastAt = t;
    if (this.phase === 'waiting') this.phase = 'moving';
  }

  /** A controller that goes to and fro by a step or two is not moved by a hand. */
  private trembles(bytes: Uint8Array): boolean {
    if ((bytes[0] & 0xf0) !== CONTROL_CHANGE || TICK_VALUES.has(bytes[2])) return false;
    const key = bytes[0] * 128 + bytes[1];
    const reach = this.reach.get(key);
    if (!reach) {
      this.reach.set(key, { low: bytes[2], high: bytes[2] });
      return false;
    }
    reach.low = Math.min(reach.low, bytes[2]);
    reach.high = Math.max(reach.high, bytes[2]);
    return reach.high > reach.low && reach.high - reach.low <= TREMBLE;
  }

  private isNoise(bytes: Uint8Array): boolean {
    const channel = (bytes[0] & 0x0f) + 1;
    const type = (bytes[0] & 0xf0) === CONTROL_CHANGE ? 'controlChange' : '';
    return type !== '' && this.noise.has(`${type} ${channel} ${bytes[1]}`);
  }

  /**
   * Judges what was heard once the hand rests.
   * @returns what was taken, with its step, or null while there is nothing to take
   */
  tick(t: number): { readonly step: number; readonly lore: Lore } | null {
    const resting = t - this.lastAt >= REST_MS;
    if (this.phase === 'over' || !resting || this.lastAt <= this.judgedAt) return null;
    this.judgedAt = this.lastAt;
    const step = this.steps[this.at];
    const capture = new Capture();
    for (const { t: at, bytes } of this.lines) capture.feed(at, bytes);
    const found = infer(capture);
    const main = this.pick(found, step);
    if (!main) return null;
    const lore = settle(step.control, step.part, found, main, this.lines);
    const other = [...this.taken].find(([n, key]) => n !== this.at && key === address(main));
    if (other) {
      const label = this.steps[other[0]].control.label;
      return this.ask(
        lore,
        `That is what ${label} sends. Move ${step.control.label}, or take it all the same.`,
      );
    }
    if (lore.confidence < THIN || main.kind === 'unknown') return this.ask(lore, lore.why);
    for (const finding of found)
      if (finding !== main && finding.kind !== 'touch') this.noise.add(address(finding));
    this.noise.delete(address(main));
    return this.take(lore, address(main));
  }

  private ask(lore: Lore, says: string): null {
    this.phase = 'unsure';
    this.offer = lore;
    this.says = says;
    return null;
  }

  /** Takes the unsure finding because the user says so. */
  takeOffer(): { readonly step: number; readonly lore: Lore } | null {
    return this.offer ? this.take(this.offer, '') : null;
  }

  private take(lore: Lore, key: string): { readonly step: number; readonly lore: Lore } {
    const step = this.at;
    if (key !== '') this.taken.set(step, key);
    this.last = { step, lore };
    this.at++;
    this.begin();
    return { step, lore };
  }

  /** The finding that the hand meant: what moved most, touch sense and known noise last. */
  private pick(found: readonly Finding[], step: Step): Finding | undefined {
    const wantsTouch = step.part === 'touch';
    const score = (finding: Finding) =>
      (this.noise.has(address(finding)) ? -10_000 : 0) +
      (finding.kind === 'touch' && !wantsTouch ? -1_000 : 0) +
      movement(finding, this.lines);
    const best = [...found].sort((a, b) => score(b) - score(a))[0] as Finding | undefined;
    return best && score(best) > -10_000 ? best : undefined;
  }
}
