import { Injectable, inject, signal } from '@angular/core';
import { MIDDLE_C, writeMiddleC, type MiddleC } from '@rondo/core/wire';
import { EngineService } from '../../engine/engine.service';
import { keep, kept } from '../../state/kept';

const KEY = 'rondo.middleC';

/** How notes are called: makers write note 60 as C3, C4 or C5. Kept in this browser. */
@Injectable({ providedIn: 'root' })
export class NoteNames {
  private readonly engine = inject(EngineService);
  private readonly chosen = signal(chosenBefore());
  /** The octave of note 60. */
  readonly octave = this.chosen.asReadonly();

  constructor() {
    this.tell();
  }

  /** Notes are called so from now on, here and on displays. */
  choose(octave: MiddleC): void {
    this.chosen.set(octave);
    keep(KEY, String(octave));
    this.tell();
  }

  private tell(): void {
    writeMiddleC(this.chosen());
    this.engine.setMiddleC(this.chosen());
  }
}

function chosenBefore(): MiddleC {
  const octave = Number(kept(KEY));
  return MIDDLE_C.find((one) => one === octave) ?? 4;
}
