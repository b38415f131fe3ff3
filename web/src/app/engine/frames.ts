import type { PlainPlan } from '@rondo/core/round';
import { Frame, Head, frameLength, stillFrame, type Still } from './frame';

type Painter = (frame: Frame) => void;

/** When something is painted: once in `every` frames, `turn` frames after the others that share this rhythm. */
export interface Rhythm {
  readonly every: number;
  readonly turn: number;
}
const EACH_FRAME: Rhythm = { every: 1, turn: 0 };

/** The moments of the engine that the page paints. Two buffers take turns: one is on the page, the other under way. */
export class Frames {
  /** Newest frame, kept until the next one. */
  now: Frame | null = null;
  displays: readonly string[] = [];
  slotTexts: readonly string[] = [];
  private readonly painters = new Map<Painter, Rhythm>();
  private painted = 0;
  private waiting: ArrayBuffer | null = null;
  private asked = false;

  /**
   * @param ask has a buffer filled with a frame
   * @param begun is called as another painter begins, who waits for its first frame
   */
  constructor(
    private readonly ask: (buffer: ArrayBuffer) => void,
    private readonly begun: () => void,
  ) {}

  /** Another worker answers from now on. */
  anew(): void {
    this.asked = false;
    this.waiting = null;
    this.now = null;
  }

  /** The engine has filled a buffer. */
  take(buffer: ArrayBuffer): void {
    this.waiting = buffer;
    this.asked = false;
  }

  /**
   * Paints what the engine has told, and asks for the next.
   * @param plan of the profile as it stands; null while that is being compiled
   * @param version of that plan: nothing is read against another one's
   * @returns the frame that was painted
   */
  draw(plan: PlainPlan | null, version: number): Frame | null {
    let spare = this.waiting;
    this.waiting = null;
    const bytes = plan ? bytesOf(plan) : 0;
    let painted: Frame | null = null;
    if (plan && spare?.byteLength === bytes) {
      const frame = new Frame(plan, spare);
      if (frame.head(Head.Version) === version) {
        spare = this.now?.numbers.buffer ?? null;
        painted = this.now = frame;
        this.painted++;
        for (const [paint, { every, turn }] of this.painters)
          if (this.painted % every === turn) paint(frame);
      }
    }
    if (plan && !this.asked) {
      this.asked = true;
      this.ask(spare?.byteLength === bytes ? spare : new ArrayBuffer(bytes));
    }
    return painted;
  }

  /** Where another window plays, what can be edited is shown as if nothing moved, with its layers and bank. */
  showStill(plan: PlainPlan, standing: Still): void {
    const frame = stillFrame(plan, standing);
    this.now = frame;
    // When what paints is there, as in every frame that the engine tells.
    requestAnimationFrame(() => {
      if (this.now === frame) for (const paint of this.painters.keys()) paint(frame);
    });
  }

  /** Calls `painter` once a frame, or in a slower rhythm, until the returned function is called. */
  paint(painter: Painter, rhythm = EACH_FRAME): () => void {
    this.painters.set(painter, rhythm);
    this.begun();
    return () => this.painters.delete(painter);
  }
}

const bytesOf = (plan: PlainPlan): number => frameLength(plan) * Float64Array.BYTES_PER_ELEMENT;
