import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { documentActions, listActions } from '../../state/actions';
import { freshId } from '../../state/api';
import { selectStateOf, type SaveState } from '../../state/document';
import { Drafts } from '../../state/drafts';
import type { Kind } from '../../state/kinds';

const SAVE_WORDS: Readonly<Record<SaveState, string>> = {
  saved: 'Saved',
  unsaved: 'Not saved yet',
  saving: 'Saving …',
  away: 'Not saved: the server is away',
  stale: 'Not saved: saved elsewhere meanwhile',
  refused: 'Not saved: refused',
};
export const saveWords = (save: SaveState): string => SAVE_WORDS[save];

/** What stands between an open document and the server, and the ways out of it. */
@Component({
  selector: 'rondo-save-notices',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (drafts.isFull() && state().save !== 'saved') {
      <p role="alert">
        This browser has no room to keep your edits: do not close the page before they are saved.
      </p>
    }
    @if (state().document) {
      @switch (state().save) {
        @case ('away') {
          <p role="alert">
            {{ state().message ?? 'The server does not answer.' }} Your edits are kept here and
            saved as soon as it can.
            <p-button label="Try now" size="small" (onClick)="retry()" />
          </p>
        }
        @case ('stale') {
          <p role="alert">
            Another browser has saved this {{ kind() }} meanwhile. Which one stays?
            <p-button label="Keep mine" size="small" (onClick)="keepMine()" />
            <p-button label="Take theirs" size="small" [outlined]="true" (onClick)="takeTheirs()" />
            <p-button label="Keep both" size="small" [outlined]="true" (onClick)="keepBoth()" />
          </p>
        }
        @case ('refused') {
          <p role="alert">
            {{ state().message }}
            <p-button label="Try again" size="small" (onClick)="tryAgain()" />
            <p-button label="Save as a copy" size="small" (onClick)="keepBoth()" />
          </p>
        }
      }
    }
  `,
  styles: `
    p {
      display: flex;
      align-items: center;
      gap: 10px;
      min-height: 34px;
      padding: 3px 16px;
      background: var(--raised);
      border-bottom: 1px solid var(--line);
      border-left: 4px solid var(--stop);
    }
  `,
})
export class SaveNotices {
  readonly kind = input.required<Kind>();
  private readonly store = inject(Store);
  protected readonly drafts = inject(Drafts);
  private readonly states = {
    profile: this.store.selectSignal(selectStateOf.profile),
    surface: this.store.selectSignal(selectStateOf.surface),
    host: this.store.selectSignal(selectStateOf.host),
  };
  protected readonly state = computed(() => this.states[this.kind()]());

  protected retry(): void {
    this.store.dispatch(documentActions.retry({ kind: this.kind() }));
  }

  protected tryAgain(): void {
    this.store.dispatch(documentActions.tryAgain({ kind: this.kind() }));
  }

  protected keepMine(): void {
    this.store.dispatch(documentActions.keepMine({ kind: this.kind() }));
  }

  protected takeTheirs(): void {
    this.store.dispatch(documentActions.takeTheirs({ kind: this.kind() }));
  }

  protected keepBoth(): void {
    const { document } = this.state();
    if (!document) return;
    const kind = this.kind();
    const name = `${document.name.slice(0, 50)} (mine)`;
    const copy = { ...document, id: freshId(kind), name };
    this.store.dispatch(
      listActions.create({ kind, document: copy, open: true, copyOf: document.id }),
    );
  }
}
