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
import { chordOf, strokeText, type Chord } from '@rondo/core/wire';

/** Takes keys as they are pressed, one combination after the other, until one says that it is done. */
@Component({
  selector: 'rondo-key-catcher',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (chords(); as list) {
      <span role="status">{{ text() || 'Press keys …' }}</span>
      <button type="button" [disabled]="list.length === 0" (click)="finish()">Take them</button>
      <button type="button" (click)="stop()">Cancel</button>
    } @else {
      <button
        type="button"
        title="Press keys to send instead of writing them"
        [attr.aria-label]="'Press keys for ' + name()"
        (click)="start()"
      >
        Press keys
      </button>
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px;
    }
    button {
      min-height: 24px;
      padding: 1px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 12px;
      cursor: pointer;
    }
  `,
})
export class KeyCatcher {
  /** Of what the keys are for. */
  readonly name = input.required<string>();
  /** The strokes as a chart writes them. */
  readonly caught = output<string>();
  /** Combinations so far; null while it takes none. */
  protected readonly chords = signal<readonly Chord[] | null>(null);
  protected readonly text = computed(() =>
    strokeText({ way: 'press', chords: this.chords() ?? [] }),
  );
  private readonly hear = (event: KeyboardEvent) => this.take(event);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected start(): void {
    this.chords.set([]);
    // Before anything else on the page has them: no key acts while keys are being taken.
    addEventListener('keydown', this.hear, true);
  }

  protected stop(): void {
    this.chords.set(null);
    removeEventListener('keydown', this.hear, true);
  }

  private take(event: KeyboardEvent): void {
    event.preventDefault();
    event.stopImmediatePropagation();
    const chord = event.repeat ? null : chordOf(event);
    if (chord) this.chords.update((list) => [...(list ?? []), chord].slice(-8));
  }

  protected finish(): void {
    const text = this.text();
    this.stop();
    this.caught.emit(`keys ${text}`);
  }
}
