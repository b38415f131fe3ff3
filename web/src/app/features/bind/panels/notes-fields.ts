import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import type { Action } from '@rondo/core/profile';
import { noteName, noteOf } from '@rondo/core/wire';
import { InputText } from 'primeng/inputtext';
import { EngineService } from '../../../engine/engine.service';
import { Head, type Frame } from '../../../engine/frame';
import { NumberField, TextField } from '../../../shared/ui/form';
import { NextTouch } from '../next-touch';
import { ChordCatcher } from './chord-catcher';

type Notes = Extract<Action, { do: 'notes' }>;

/** Which notes an action plays: typed by name, or played in on any device or on the drawing. */
@Component({
  selector: 'rondo-notes-fields',
  imports: [InputText, NumberField, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <label>
        Notes
        <input
          pInputText
          pSize="small"
          #notes
          type="text"
          aria-label="Notes"
          [rondoText]="written()"
          (change)="type(notes)"
        />
      </label>
      <button type="button" class="small" [attr.aria-pressed]="catching()" (click)="turn()">
        {{ catching() ? 'Done' : 'Play it in' }}
      </button>
      <span class="pair">
        channel
        <rondo-number
          label="Channel"
          [min]="1"
          [max]="16"
          [value]="action().channel"
          (changed)="changed.emit({ channel: $event ?? 1 })"
        />
      </span>
      <span class="pair">
        velocity
        <rondo-number
          label="Velocity, 0 for as played"
          [min]="0"
          [max]="127"
          [value]="action().velocity ?? 0"
          (changed)="changed.emit({ velocity: $event ? $event : undefined })"
        />
      </span>
      @if (catching()) {
        <small role="status">Play the chord on a device, or press its keys on the drawing.</small>
      } @else {
        <small>{{ action().velocity ? '' : 'as hard as it is played' }}</small>
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      display: grid;
      grid-template-rows: none;
      padding: 0;
      border: 0;
      background: none;
    }
  `,
})
export class NotesFields {
  readonly action = input.required<Notes>();
  /** What is to change; `velocity` undefined is as it is played. */
  readonly changed = output<Partial<Pick<Notes, 'notes' | 'channel' | 'velocity'>>>();
  private readonly engine = inject(EngineService);
  private readonly next = inject(NextTouch);
  protected readonly written = computed(() =>
    this.action()
      .notes.map((note) => noteName(note))
      .join(' '),
  );
  protected readonly catching = signal(false);
  private stop: () => void = () => undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected type(field: HTMLInputElement): void {
    const notes = field.value
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(noteOf);
    if (notes.length > 0 && notes.length <= 16 && notes.every((note) => note !== null))
      this.changed.emit({ notes });
    else field.value = this.written();
  }

  protected turn(): void {
    if (this.catching()) this.stop();
    else this.catch();
  }

  private catch(): void {
    const catcher = new ChordCatcher();
    const tell = (isNew: boolean) => {
      if (isNew) this.changed.emit({ notes: [...catcher.notes] });
    };
    let seen = -1;
    const look = (frame: Frame) => {
      const at = frame.head(Head.InHandAt);
      if (seen >= 0 && at !== seen) {
        const sends = frame.plan.parts[frame.head(Head.InHand)].control.sends;
        const pattern = sends.push ?? sends.value;
        if (pattern?.type === 'note') tell(catcher.join(pattern.number));
      }
      seen = at;
    };
    // Meanwhile touches show and do not act, and another control is not taken in hand.
    this.next.choosing.update((count) => count + 1);
    const ends = [
      this.engine.ports.watchAll(),
      this.engine.midi.watch((_, bytes) => tell(catcher.take(bytes))),
      this.engine.frames.paint(look),
    ];
    this.catching.set(true);
    this.stop = () => {
      for (const end of ends) end();
      this.next.choosing.update((count) => count - 1);
      this.catching.set(false);
      this.stop = () => undefined;
    };
  }
}
