import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { SetUps } from '../../state/set-ups';

/** The set-ups: gone over to with one click; of a profile that is open, kept as it is played now. */
@Component({
  selector: 'rondo-set-up-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (setUps.message(); as text) {
      <p role="alert">{{ text }}</p>
    }
    @if (profile(); as id) {
      <form (submit)="keep($event, id, name)">
        <label>
          Keep how it is played now as
          <input #name type="text" maxlength="60" placeholder="Saturday, small stage" />
        </label>
        <button type="submit">Keep it</button>
      </form>
    }
    <ul>
      @for (one of setUps.all() ?? []; track one.id) {
        <li>
          <button
            type="button"
            class="go"
            [attr.aria-pressed]="one.id === setUps.last()"
            (click)="setUps.goTo(one.id)"
          >
            {{ one.name }}
          </button>
          <span>{{ one.profile === profile() ? '' : nameOf()(one.profile) }}</span>
          @if (one.profile === profile()) {
            <button type="button" (click)="setUps.renew(one)">Take it as it is now</button>
          }
          @if (asked() === one.id) {
            <button type="button" (click)="remove(one.id)">Delete: sure?</button>
          } @else {
            <button
              type="button"
              [attr.aria-label]="'Delete ' + one.name"
              (click)="asked.set(one.id)"
            >
              Delete
            </button>
          }
        </li>
      } @empty {
        @if (setUps.all()) {
          <li class="none">
            No set-up yet. One keeps ports, layers, flags and bank of a profile for an occasion. A
            key can go over to it, too: bind it like any function.
          </li>
        }
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    form,
    label {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
    }
    input {
      width: 200px;
      min-height: 28px;
      padding: 2px 8px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--sheet);
      color: inherit;
      font: inherit;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      min-height: 38px;
      border-top: 1px solid var(--line);
    }
    span,
    .none {
      flex: 1;
      color: var(--ink-soft);
    }
    button {
      min-height: 28px;
      padding: 1px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      cursor: pointer;
    }
    .go {
      font-weight: 600;
    }
    .go[aria-pressed='true'] {
      border-color: var(--forward);
      background: var(--forward);
      color: var(--raised);
    }
    p {
      padding-left: 10px;
      border-left: 4px solid var(--stop);
    }
  `,
})
export class SetUpList {
  /** The profile that is open; none where set-ups are only gone over to. */
  readonly profile = input<string>();
  /** What a profile is called. */
  readonly nameOf = input.required<(id: string) => string>();
  protected readonly setUps = inject(SetUps);
  protected readonly asked = signal<string | null>(null);

  constructor() {
    void this.setUps.load();
  }

  protected async keep(event: Event, profile: string, field: HTMLInputElement): Promise<void> {
    event.preventDefault();
    const name = field.value.trim();
    if (name === '') return field.focus();
    await this.setUps.keep(profile, name);
    field.value = '';
  }

  protected async remove(id: string): Promise<void> {
    this.asked.set(null);
    await this.setUps.remove(id);
  }
}
