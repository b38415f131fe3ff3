import { signal } from '@angular/core';
import type { FromWorker, ToWorker } from './protocol';

export type EngineHome = 'starting' | 'here' | 'elsewhere';

const ENGINE_LOCK = 'rondo-engine';
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

  constructor(private readonly owner: WorkersOwner) {}

  get isPlaying(): boolean {
    return this.player !== null;
  }

  /** Whether any window of this browser plays. */
  async isPlayedAnywhere(): Promise<boolean> {
    if (this.isPlaying) return true;
    const { locks } = navigator as { readonly locks?: LockManager };
    const { held = [] } = (await locks?.query()) ?? {};
    return held.some(({ name }) => name === ENGINE_LOCK);
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

  /** To the worker that plays; to nobody where another window has it. */
  post(message: ToWorker, transfer: Transferable[] = []): void {
    this.player?.postMessage(message, transfer);
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
