import { createFeature, createReducer, on } from '@ngrx/store';
import type { ControlRef } from '@rondo/core/profile';
import { documentActions, selectionActions } from './actions';

export interface SelectionState {
  readonly control: ControlRef | null;
  /** Touching a control does not select it. */
  readonly locked: boolean;
  /** Touches select and show, but nothing reaches a host. */
  readonly holdOff: boolean;
}

export const selectionFeature = createFeature({
  name: 'selection',
  reducer: createReducer<SelectionState>(
    { control: null, locked: false, holdOff: false },
    on(selectionActions.select, (state, { control }): SelectionState => ({ ...state, control })),
    on(selectionActions.lock, (state, { locked }): SelectionState => ({ ...state, locked })),
    on(selectionActions.holdOff, (state, { on: holdOff }): SelectionState => ({
      ...state,
      holdOff,
    })),
    on(documentActions.open, (state, { kind }): SelectionState =>
      kind === 'profile' ? { ...state, control: null } : state,
    ),
  ),
});
