import { signal } from '@angular/core';
import * as z from 'zod';
import type { FromWorker, ToWorker } from './protocol';

export type EngineHome = 'starting' | 'here' | 'elsewhere';

const ENGINE_LOCK = 'rondo-engine';
const BETWEEN_WINDOWS = 'rondo.engine';
/** What is done where the engine is, whichever window it is asked in: nobody looks for the right one to let go of a note. */
const handedOverSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['panic', 'repaint']) }),
  z.object({ kind: z.enum(['askAgain', 'checkCable', 'checkTwice']), link: z.string().max(200) }),
]);
/** A window asks the one that plays; which answers it, and no other, where it has no such link. */
const askedSchema = z.object({ asker: z.uuid(), message: handedOverSchema });
const notThereSchema = z.object({ notThere: z.uuid() });
/** Deaths of a worker within so many ms count as a row; after so many none is started by itself. */
const SOON_MS = 20_000;
const MOST_DEATHS = 3;

export interface WorkersOwner {
  hear(message: FromWorker): void;
  /** This window plays from now on. */
  here(): void;
  /** A worker that plays has begun, and knows nothing yet. */
  begun(): void;
  /** One that played has died: what it held is let go of. */
  died(): void;
  /** Has the profile compiled where nothing is played. */
  describe(): void;
  /** Whether what plays here has such a link. */
  hasLink(link: string): boolean;
  /** What was asked from here could not be: the window that plays has no such link. */
  notThere(): void;
}

/** One engine an origin: it plays in this window, or this one has what another plays compiled by a worker that does not. */
export class EngineWorkers {
  readonly home = signal<EngineHome>('starting');
  /** Counts restarts after the worker died. */
  readonly restarts = signal(0);
  /** It died so often in a row that it is left alone until something is changed. */
  readonly failed = signal(false);
  private deaths: number[] = [];
  private player: Worker | null = null;
  private describer: Worker | null = null;
  private readonly windows = new BroadcastChannel(BETWEEN_WINDOWS);
  /** By which this window is answered. */
  private readonly asker = crypto.randomUUID();

  constructor(private readonly owner: WorkersOwner) {
    this.windows.onmessage = ({ data }: MessageEvent<unknown>) =>
      this.player ? this.doFor(data) : this.hearAnswer(data);
  }

  /** Does what another window asks of the one that plays, or tells it that there is no such link. */
  private doFor(data: unknown): void {
    const asked = askedSchema.safeParse(data);
    if (!asked.success) return;
    const { asker, message } = asked.data;
    if ('link' in message && !this.owner.hasLink(message.link))
      this.windows.postMessage({ notThere: asker });
    else this.post(message);
  }

  private hearAnswer(data: unknown): void {
    const answer = notThereSchema.safeParse(data);
    if (answer.success && answer.data.notThere === this.asker) this.owner.notThere();
  }

  get isPlaying(): boolean {
    return this.player !== null;
  }

  /** Takes the engine's place in this browser, now or as soon as the other window closes. */
  start(): void {
    if (this.home() !== 'starting') return;
    if (!navigator.locks) return this.play();
    const hold = () => new Promise<void>(() => this.play());
    void navigator.locks.request(ENGINE_LOCK, { ifAvailable: true }, (lock) => {
      if (lock) return hold();
      this.home.set('elsewhere');
      this.owner.describe();
      void navigator.locks.request(ENGINE_LOCK, hold);
      return undefined;
    });
  }

  /** To the worker that plays; where another window has it, only what is to be done whichever window it is asked in. */
  post(message: ToWorker, transfer: Transferable[] = []): void {
    if (this.player) this.player.postMessage(message, transfer);
    else if (this.home() === 'elsewhere' && handedOverSchema.safeParse(message).success)
      this.windows.postMessage({ asker: this.asker, message });
  }

  /** To the worker that only compiles, where another window plays. */
  postToDescriber(message: ToWorker): void {
    if (this.home() !== 'elsewhere' || this.failed()) return;
    this.describer ??= this.make(() => {
      this.describer = null;
      if (this.mayGoOn()) this.owner.describe();
    });
    this.describer.postMessage(message);
  }

  /** The one that plays is of no use any more: another one takes its place. */
  replace(): void {
    if (this.failed() || !this.player) return;
    this.owner.died();
    this.player.terminate();
    this.player = null;
    if (!this.mayGoOn()) return;
    this.restarts.update((count) => count + 1);
    this.begin();
  }

  /** Starts again what was left alone. */
  startAgain(): void {
    if (!this.failed()) return;
    this.failed.set(false);
    this.deaths = [];
    if (this.home() === 'elsewhere') this.owner.describe();
    else this.begin();
  }

  private play(): void {
    this.describer?.terminate();
    this.describer = null;
    this.failed.set(false);
    this.home.set('here');
    this.begin();
    this.owner.here();
  }

  private begin(): void {
    this.player = this.make(() => this.replace());
    this.owner.begun();
  }

  private make(died: () => void): Worker {
    const worker = new Worker(new URL('./engine.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.owner.hear(data);
    worker.onerror = (event) => {
      event.preventDefault();
      worker.terminate();
      died();
    };
    return worker;
  }

  /** Counts a death; false once there were too many in a row. */
  private mayGoOn(): boolean {
    const now = Date.now();
    this.deaths = [...this.deaths.filter((at) => now - at < SOON_MS), now];
    this.failed.set(this.deaths.length > MOST_DEATHS);
    return !this.failed();
  }
}
