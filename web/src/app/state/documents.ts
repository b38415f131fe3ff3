import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import { rename, type Edited } from '@rondo/core/document';
import { documentActions } from './actions';
import { selectStateOf } from './document';
import type { Documents, Kind } from './kinds';

/** Edits of the open documents: worked out on what is open now, then dispatched as patches. */
@Injectable({ providedIn: 'root' })
export class DocumentEditor {
  private readonly store = inject(Store);
  private readonly open = {
    profile: this.store.selectSignal(selectStateOf.profile),
    surface: this.store.selectSignal(selectStateOf.surface),
    host: this.store.selectSignal(selectStateOf.host),
  };

  /** Changes the open document of a kind; returns it as it is then, null where none is open. */
  edit<K extends Kind>(
    kind: K,
    change: (document: Documents[K]) => Edited<Documents[K]>,
  ): Documents[K] | null {
    const { document } = this.open[kind]();
    if (!document) return null;
    const { edit, document: next } = change(document as Documents[K]);
    if (edit) this.store.dispatch(documentActions.edit({ kind, edit }));
    return next;
  }

  rename<K extends Kind>(kind: K, name: string): void {
    this.edit(kind, (document) => rename<Documents[K]>(document, name));
  }

  undo(kind: Kind): void {
    this.store.dispatch(documentActions.undo({ kind }));
  }

  redo(kind: Kind): void {
    this.store.dispatch(documentActions.redo({ kind }));
  }
}
