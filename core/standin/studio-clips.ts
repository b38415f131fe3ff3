import { CLIP_STATES, SCENES, STUDIO, choiceAt, valueOfChoice } from '@rondo/core/host';

const TRACKS = 16;

export interface Clip {
  readonly name: string;
  /** Length in bars. */
  length: number;
  /** Share of its notes that stand on the grid, 0…1. */
  quantised: number;
  /** Notes that were entered step by step, −1 for a rest. */
  readonly steps: number[];
}

const enum ClipState {
  Empty,
  Stopped,
  Waiting,
  Playing,
  Recording,
}

/** What clips need of the session that they belong to. */
export interface ClipSession {
  readonly values: Float64Array;
  readonly isPlaying: boolean;
  start(): void;
  /** First slot of a function. */
  at(functionId: string): number;
  change(slot: number, value: number): void;
  putText(slot: number, text: string): void;
}

/** The grid of clips: launched on the bar, recorded, edited in the chosen cell. */
export class StudioClips {
  /** Clips by track and scene; null where a cell is empty. */
  readonly clips: (Clip | null)[][] = Array.from({ length: TRACKS }, () =>
    new Array<Clip | null>(SCENES).fill(null),
  );
  private readonly cells: readonly number[];
  private readonly arm: number;
  private readonly cellTrack: number;
  private readonly cellScene: number;
  private readonly cellName: number;
  private readonly unsaved: number;
  private copied: Clip | null = null;
  private made = 0;

  constructor(private readonly session: ClipSession) {
    this.cells = Array.from({ length: SCENES }, (_, scene) => session.at(`clip${scene + 1}`));
    this.arm = session.at('arm');
    this.cellTrack = session.at('cellTrack');
    this.cellScene = session.at('cellScene');
    this.cellName = session.at('cellName');
    this.unsaved = session.at('unsaved');
    for (let track = 0; track < TRACKS; track++)
      for (let scene = 0; scene < SCENES; scene++)
        // An invented session: some cells are filled, more in the upper scenes.
        if ((track * 5 + scene * 3) % 7 < 4 - Math.floor(scene / 2)) {
          this.clips[track][scene] = this.newClip(STUDIO.strips[track].name);
          session.values[this.cells[scene] + track] = clipValue(ClipState.Stopped);
        }
  }

  newClip(stem: string): Clip {
    this.made++;
    return { name: `${stem} ${this.made}`, length: 4, quantised: 0.5, steps: [] };
  }

  private clipState(track: number, scene: number): ClipState {
    return choiceAt(CLIP_STATES.length, this.session.values[this.cells[scene] + track]);
  }

  private setClip(track: number, scene: number, state: ClipState): void {
    this.session.change(this.cells[scene] + track, clipValue(state));
    this.tellCell();
  }

  /** A clip waits for the next bar line and plays from there; an armed track records into an empty cell. */
  launch(track: number, scene: number, on: boolean): void {
    const state = this.clipState(track, scene);
    if (!on) {
      if (state > ClipState.Stopped) this.stopClips(track);
      return;
    }
    const armed = this.session.values[this.arm + track] === 1;
    if (state === ClipState.Empty && !armed) return this.stopClips(track);
    this.stopClips(track);
    if (state === ClipState.Empty) this.clips[track][scene] = this.newClip('Take');
    this.setClip(track, scene, state === ClipState.Empty ? ClipState.Recording : ClipState.Waiting);
    if (!this.session.isPlaying) this.session.start();
  }

  launchScene(scene: number): void {
    for (let track = 0; track < TRACKS; track++) {
      if (this.clips[track][scene]) this.launch(track, scene, true);
      else this.stopClips(track);
    }
  }

  stopClips(track: number): void {
    for (let scene = 0; scene < SCENES; scene++)
      if (this.clipState(track, scene) > ClipState.Stopped)
        this.setClip(track, scene, ClipState.Stopped);
  }

  editClip(id: string): void {
    const track = choiceAt(TRACKS, this.session.values[this.cellTrack]);
    const scene = choiceAt(SCENES, this.session.values[this.cellScene]);
    const column = this.clips[track];
    const clip = column[scene];
    const fill = (at: number, next: Clip | null) => {
      column[at] = next;
      this.setClip(track, at, next ? ClipState.Stopped : ClipState.Empty);
    };
    const free = column.findIndex((other, at) => at > scene && other === null);
    if (id === 'clipInsert' && !clip) fill(scene, this.newClip(STUDIO.strips[track].name));
    else if (id === 'clipPaste' && this.copied) fill(scene, twin(this.copied));
    else if (!clip) return;
    else if (id === 'clipCopy') this.copied = twin(clip);
    else if (id === 'clipDelete') fill(scene, null);
    else if (id === 'clipQuantise') clip.quantised = 1;
    else if (id === 'clipDuplicate' && free >= 0) fill(free, twin(clip));
    else if (id === 'clipSplit' && free >= 0 && clip.length > 1) {
      clip.length /= 2;
      fill(free, { ...twin(clip), name: `${clip.name} b` });
    }
    this.session.change(this.unsaved, 1);
    this.tellCell();
  }

  /** Writes the next step of the chosen cell's clip; nothing where the cell is empty. */
  enter(note: number): void {
    const track = choiceAt(TRACKS, this.session.values[this.cellTrack]);
    const clip = this.clips[track][choiceAt(SCENES, this.session.values[this.cellScene])];
    if (!clip) return;
    clip.steps.push(note);
    this.session.change(this.unsaved, 1);
    this.tellCell();
  }

  tellCell(): void {
    const track = choiceAt(TRACKS, this.session.values[this.cellTrack]);
    const scene = choiceAt(SCENES, this.session.values[this.cellScene]);
    const clip = this.clips[track][scene];
    this.session.putText(
      this.cellName,
      clip
        ? `${clip.name}, ${clip.length} bars${clip.quantised === 1 ? ', quantised' : ''}${stepsText(clip)}`
        : 'Empty',
    );
  }

  startWaiting(): void {
    for (let track = 0; track < TRACKS; track++)
      for (let scene = 0; scene < SCENES; scene++)
        if (this.clipState(track, scene) === ClipState.Waiting)
          this.setClip(track, scene, ClipState.Playing);
  }

  playsClip(strip: number): boolean {
    for (let scene = 0; scene < SCENES; scene++)
      if (this.clipState(strip, scene) >= ClipState.Playing) return true;
    return false;
  }
}

const twin = (clip: Clip): Clip => ({ ...clip, steps: [...clip.steps] });

const stepsText = ({ steps }: Clip): string =>
  steps.length > 0 ? `, ${steps.length} ${steps.length === 1 ? 'step' : 'steps'}` : '';

const clipValue = (state: ClipState): number => valueOfChoice(CLIP_STATES.length, state);
