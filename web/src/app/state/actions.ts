import { createActionGroup, emptyProps, props } from '@ngrx/store';
import type { Action, ControlRef, Profile } from '@rondo/core/profile';
import type { ProfileSummary } from './api';

/** The list of profiles. */
export const listActions = createActionGroup({
  source: 'List',
  events: {
    Load: emptyProps(),
    Loaded: props<{ profiles: ProfileSummary[] }>(),
    Failed: props<{ message: string }>(),
    Create: props<{ profile: Profile; open: boolean }>(),
    Duplicate: props<{ id: string }>(),
    Rename: props<{ id: string; name: string }>(),
    Delete: props<{ id: string; name: string }>(),
    Deleted: props<{ id: string; name: string }>(),
    Restore: props<{ id: string }>(),
    Changed: emptyProps(),
  },
});

/** The profile that is open. */
export const documentActions = createActionGroup({
  source: 'Document',
  events: {
    Open: props<{ id: string }>(),
    Opened: props<{
      profile: Profile;
      revision: number;
      unsaved: boolean;
      staleAt: number | null;
    }>(),
    'Open Failed': props<{ message: string }>(),
    Bind: props<{ name: string; control: ControlRef; action: Action }>(),
    Unbind: props<{ name: string; control: ControlRef }>(),
    Rename: props<{ name: string }>(),
    Close: emptyProps(),
    Undo: emptyProps(),
    Redo: emptyProps(),
    Saving: emptyProps(),
    Saved: props<{ profile: Profile; revision: number }>(),
    'Save Failed': props<{
      kind: 'away' | 'stale' | 'refused';
      message: string;
      revision: number | null;
    }>(),
    Retry: emptyProps(),
    'Keep Mine': emptyProps(),
    'Take Theirs': emptyProps(),
  },
});

/** What is in hand on the page. */
export const selectionActions = createActionGroup({
  source: 'Selection',
  events: {
    Select: props<{ control: ControlRef | null }>(),
    Lock: props<{ locked: boolean }>(),
    'Hold Off': props<{ on: boolean }>(),
  },
});
