import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { Action } from '@rondo/core/profile';
import { SCOPES, choiceKey, type Choice, type ScopeChoice } from './choice';
import { searchWithValues } from './choice-search';
import { recentChoices, rememberChoice } from './recent';
import { Shortcuts } from '../../../shared/ui/shortcuts';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';

const MOST_SHOWN = 60;

const SCOPE_WORDS: Readonly<Record<ScopeChoice, string>> = {
  any: 'Any',
  window: 'Strip of the bank',
  selected: 'What is selected',
  fixed: 'Always the same one',
  focus: 'What has focus',
};

/** Finds a function by words. Opens inside the Function station. */
@Component({
  selector: 'rondo-finder',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #field
      type="text"
      role="combobox"
      aria-label="Find a function"
      aria-controls="finder-list"
      aria-expanded="true"
      [attr.aria-activedescendant]="found().length ? 'finder-' + active() : null"
      placeholder="volume narrator, mute, play …"
      autocomplete="off"
      spellcheck="false"
      (input)="type(field.value)"
      (keydown)="onKey($event)"
    />
    <div class="scopes" role="radiogroup" aria-label="Which one">
      @for (entry of scopes(); track entry.scope) {
        <button
          type="button"
          role="radio"
          tabindex="-1"
          [attr.aria-checked]="entry.scope === scope()"
          [class.on]="entry.scope === scope()"
          (pointerdown)="$event.preventDefault()"
          (click)="choose(entry.scope)"
        >
          {{ entry.label }}
        </button>
      }
      <kbd>Ctrl ←→</kbd>
    </div>
    <ul id="finder-list" role="listbox" aria-label="Functions">
      @for (choice of shown(); track choice.label + choice.category + choice.host; let i = $index) {
        <li
          role="option"
          [id]="'finder-' + i"
          [class.active]="i === active()"
          [attr.aria-selected]="i === active()"
          (pointerdown)="$event.preventDefault()"
          tabindex="-1"
          (click)="take(choice)"
          (keydown.enter)="take(choice)"
        >
          <span>{{ choice.label }}</span>
          <small
            >{{ choice.host ? choice.host + ': ' : ''
            }}{{ choice.boundTo ? 'on ' + choice.boundTo : choice.category }}</small
          >
        </li>
      } @empty {
        <li class="none">No function has these words. Try fewer, or another word for it.</li>
      }
    </ul>
    <p>
      @if (found().length > shown().length) {
        {{ found().length }} found; type on.
      } @else {
        {{ found().length }} found.
      }
      @if (layer(); as name) {
        <b>Binds on {{ name }}.</b>
      }
      @if (bench && !next?.pointed()) {
        <button
          type="button"
          class="usual"
          title="One deck or track for what is bound from now on"
          (pointerdown)="$event.preventDefault()"
          (click)="openUsual()"
        >
          {{ bench.usualWords() ? 'Goes to ' + bench.usualWords() : 'Goes to what suits it' }} ▸
        </button>
      }
      <kbd>↑</kbd> <kbd>↓</kbd> <kbd>Enter</kbd> <kbd>Esc</kbd>
      @if (adds()) {
        <span><kbd>Shift Enter</kbd> beside what is bound</span>
      }
    </p>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto auto 1fr auto;
      gap: 6px;
      padding: 10px;
      background: var(--raised);
      border: 2px solid var(--forward);
      border-radius: 8px;
      box-shadow: var(--raise);
    }
    input {
      width: 100%;
      padding: 8px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 5px;
      background: var(--sheet);
      font-size: 15px;
    }
    .scopes {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px;
    }
    .scopes button {
      min-height: 26px;
      padding: 1px 9px;
      border: 1px solid var(--line-strong);
      border-radius: 13px;
      background: var(--sheet);
      font-size: 13px;
      cursor: pointer;
    }
    .scopes .on {
      background: var(--forward);
      border-color: var(--forward);
      color: var(--raised);
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      overflow: auto;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 12px;
      padding: 6px 8px;
      border-radius: 4px;
      cursor: pointer;
    }
    li:hover {
      background: var(--paper);
    }
    li.active {
      background: var(--forward-soft);
    }
    li.none {
      color: var(--ink-soft);
      cursor: default;
    }
    small,
    p {
      color: var(--ink-soft);
      font-size: 12px;
    }
    small {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    li > span {
      flex: none;
      max-width: 100%;
    }
    p {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 3px 8px;
    }
    .usual {
      padding: 0;
      border: 0;
      background: none;
      color: var(--ink);
      font-size: 12px;
      text-decoration: underline;
      cursor: pointer;
    }
  `,
})
export class Finder {
  readonly choices = input.required<readonly Choice[]>();
  readonly chosen = output<Action>();
  /** It is to stand beside what is bound already. */
  readonly added = output<Action>();
  readonly closed = output();

  protected readonly typed = signal('');
  protected readonly active = signal(0);
  protected readonly scope = signal<ScopeChoice>('any');
  /** The scopes that there is something in. */
  protected readonly scopes = computed(() => {
    const there = new Set(this.choices().map(({ scope }) => scope));
    return SCOPES.filter((scope) => scope === 'any' || there.has(scope)).map((scope) => ({
      scope,
      label: SCOPE_WORDS[scope],
    }));
  });
  protected readonly bench = inject(Workbench, { optional: true });
  protected readonly next = inject(NextTouch, { optional: true });
  /** The layer that an edit goes to; not said of the only one. */
  protected readonly layer = computed(() =>
    (this.bench?.profile()?.layerOrder.length ?? 0) > 1 ? this.bench?.layerLabel() : '',
  );
  /** Something is bound to what is in hand, beside which another can stand. */
  readonly adds = input(false);
  private readonly recent = recentChoices();
  protected readonly found = computed(() =>
    searchWithValues(this.choices(), this.typed(), this.scope(), this.recent),
  );
  protected readonly shown = computed(() => this.found().slice(0, MOST_SHOWN));
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  private readonly root: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  constructor() {
    afterNextRender(() => this.field().nativeElement.focus());
    // A hand that has gone to the drawing meanwhile comes back by the same key.
    inject(Shortcuts).add('Finder', [
      {
        keys: ['/', 'Shift+/'],
        shown: '/',
        does: 'Back to the words of the finder',
        run: () => {
          const { nativeElement } = this.field();
          nativeElement.focus();
          nativeElement.select();
        },
      },
    ]);
    // Hands on the surface only show what they touch until something is chosen.
    this.next?.choosing.update((count) => count + 1);
    inject(DestroyRef).onDestroy(() => this.next?.choosing.update((count) => count - 1));
  }

  protected openUsual(): void {
    this.bench?.panel.set('usual');
    this.closed.emit();
  }

  protected type(text: string): void {
    this.typed.set(text);
    this.active.set(0);
  }

  protected choose(scope: ScopeChoice): void {
    this.scope.set(scope);
    this.active.set(0);
  }

  protected take(choice: Choice): void {
    rememberChoice(choiceKey(choice));
    this.chosen.emit(choice.action);
  }

  protected onKey(event: KeyboardEvent): void {
    // While an input method composes, keys are for it: Enter takes its word, Escape leaves that (W3C UI Events, isComposing).
    if (event.isComposing) return;
    const count = this.shown().length;
    if (event.key === 'Escape') {
      event.preventDefault();
      this.closed.emit();
    } else if (event.key === 'Enter' && count > 0) {
      event.preventDefault();
      const choice = this.shown()[this.active()];
      if (!event.shiftKey || !this.adds()) return this.take(choice);
      rememberChoice(choiceKey(choice));
      this.added.emit(choice.action);
    } else if (event.ctrlKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      event.preventDefault();
      const list = this.scopes();
      const at = list.findIndex(({ scope }) => scope === this.scope());
      const by = event.key === 'ArrowRight' ? 1 : list.length - 1;
      this.choose(list[(at + by) % list.length].scope);
    } else if ((event.key === 'ArrowDown' || event.key === 'ArrowUp') && count > 0) {
      event.preventDefault();
      this.active.update((at) => (at + (event.key === 'ArrowDown' ? 1 : count - 1)) % count);
      this.root.querySelector(`#finder-${this.active()}`)?.scrollIntoView({ block: 'nearest' });
    }
  }
}
