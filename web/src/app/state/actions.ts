import { createActionGroup, props } from '@ngrx/store';
import type { Edit, Numbered } from '@rondo/core/document';
import type { ControlRef } from '@rondo/core/profile';
import type { Summary } from './api';
import type { AnyDocument, Kind } from './kinds';
import type { StepsKept } from './steps';
import type { Standing } from './windows';

/** The lists of documents, one for each kind. */
export const listActions = createActionGroup({
  source: 'List',
  events: {
    Load: props<{ kind: Kind }>(),
    Loaded: props<{ kind: Kind; documents: Summary[] }>(),
    Failed: props<{ kind: Kind; message: string }>(),
    /** `copyOf` is the open document whose edits go on in the new one, and are given up there */
    Create: props<{ kind: Kind; document: AnyDocument; open: boolean; copyOf?: string }>(),
    'Copy Failed': props<{ kind: Kind; id: string; message: string }>(),
    Duplicate: props<{ kind: Kind; id: string }>(),
    Rename: props<{ kind: Kind; id: string; name: string }>(),
    Delete: props<{ kind: Kind; id: string; name: string }>(),
    Deleted: props<{ kind: Kind; id: string; name: string }>(),
    Restore: props<{ kind: Kind; id: string }>(),
    /** The server has another document under an id since something was done in this browser: `by` goes on after its name. */
    Replaced: props<{ kind: Kind; id: string; by: string; isHeard?: boolean }>(),
    Changed: props<{ kind: Kind }>(),
  },
});

/** How a window takes part in a document that several have open. */
export interface Among {
  readonly me: string;
  readonly leads: boolean;
  readonly seen: Readonly<Record<string, number>>;
}

/** The document of each kind that is open. */
export const documentActions = createActionGroup({
  source: 'Document',
  events: {
    Open: props<{ kind: Kind; id: string }>(),
    Opened: props<{
      kind: Kind;
      document: AnyDocument;
      revision: number;
      unsaved: boolean;
      staleAt: number | null;
      /** Absent where this window is the only one that has it open. */
      among?: Among;
      /** What could be taken back and done again when it was open last. */
      steps?: StepsKept;
    }>(),
    'Open Failed': props<{ kind: Kind; message: string }>(),
    /** What is to change, worked out on the document as it is open. */
    Edit: props<{ kind: Kind; edit: Edit }>(),
    Close: props<{ kind: Kind }>(),
    Undo: props<{ kind: Kind }>(),
    Redo: props<{ kind: Kind }>(),
    /** The step that was refused is left out on purpose: those before it can be taken back. */
    'Leave Out': props<{ kind: Kind }>(),
    Saving: props<{ kind: Kind; id: string }>(),
    Saved: props<{ kind: Kind; document: AnyDocument; revision: number }>(),
    'Save Failed': props<{
      kind: Kind;
      id: string;
      failure: 'away' | 'stale' | 'refused';
      message: string;
      revision: number | null;
    }>(),
    Retry: props<{ kind: Kind }>(),
    'Try Again': props<{ kind: Kind }>(),
    'Keep Mine': props<{ kind: Kind }>(),
    'Take Theirs': props<{ kind: Kind }>(),
    /** The server may have a newer one. */
    Look: props<{ kind: Kind; id: string }>(),
    /** The next edit of the order, made in another window or confirmed by the one that leads. */
    Ordered: props<{ kind: Kind; id: string; edit: Numbered }>(),
    /** All that the window that leads has. */
    Followed: props<{
      kind: Kind;
      document: AnyDocument;
      seen: Readonly<Record<string, number>>;
      standing: Standing;
    }>(),
    /** Where it stands toward the server, as the window that leads says. */
    Stands: props<{ kind: Kind; id: string; standing: Standing }>(),
    /** This window leads from now on; `revision` is the newest on the server that is its own. */
    Leads: props<{ kind: Kind; id: string; revision: number; staleAt: number | null }>(),
  },
});

/** Surfaces and hosts of the user's own, as far as they have been needed. */
export const libraryActions = createActionGroup({
  source: 'Library',
  events: {
    Need: props<{ kind: Kind; ids: readonly string[] }>(),
    Got: props<{ kind: Kind; document: AnyDocument }>(),
    Missing: props<{ kind: Kind; id: string }>(),
  },
});

/** What is in hand on the page. */
export const selectionActions = createActionGroup({
  source: 'Selection',
  events: {
    Select: props<{ control: ControlRef | null }>(),
    Lock: props<{ locked: boolean }>(),
  },
});
