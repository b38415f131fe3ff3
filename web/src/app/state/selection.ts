import { createFeature, createReducer, on } from '@ngrx/store';
import type { ControlRef } from '@rondo/core/profile';
import { documentActions, selectionActions } from './actions';

export interface SelectionState {
  readonly control: ControlRef | null;
  /** Touching a control does not select it. */
  readonly locked: boolean;
}

export const selectionFeature = createFeature({
  name: 'selection',
  reducer: createReducer<SelectionState>(
    { control: null, locked: false },
    on(selectionActions.select, (state, { control }): SelectionState => ({ ...state, control })),
    on(selectionActions.lock, (state, { locked }): SelectionState => ({ ...state, locked })),
    on(documentActions.open, (state, { kind }): SelectionState =>
      kind === 'profile' ? { ...state, control: null } : state,
    ),
  ),
});
