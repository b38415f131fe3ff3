import { Injectable, computed, inject } from '@angular/core';
import { Store, createFeature, createReducer, on } from '@ngrx/store';
import type { Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { libraryWith, type OwnSurfaces } from '../engine/library';
import { documentActions, libraryActions } from './actions';
import { surfaceFeature } from './document';

export interface LibraryState {
  /** The user's own surfaces, as the server has them; null for those it does not have. */
  readonly surfaces: OwnSurfaces;
}

export const libraryFeature = createFeature({
  name: 'library',
  reducer: createReducer<LibraryState>(
    { surfaces: {} },
    on(libraryActions.got, (state, { surface }): LibraryState => ({
      surfaces: { ...state.surfaces, [surface.id]: surface as Surface },
    })),
    on(libraryActions.missing, (state, { id }): LibraryState => ({
      surfaces: { ...state.surfaces, [id]: null },
    })),
    // What was edited here need not be fetched again.
    on(documentActions.saved, (state, { kind, document }): LibraryState =>
      kind === 'surface'
        ? { surfaces: { ...state.surfaces, [document.id]: document as Surface } }
        : state,
    ),
  ),
});

/** The surfaces and hosts that profiles can use. A surface that is being edited counts as it is now. */
@Injectable({ providedIn: 'root' })
export class LibraryService {
  private readonly store = inject(Store);
  private readonly stored = this.store.selectSignal(libraryFeature.selectSurfaces);
  private readonly open = this.store.selectSignal(surfaceFeature.selectDocument);

  /** The user's own surfaces by id. */
  readonly own = computed(() => {
    const open = this.open();
    return open ? { ...this.stored(), [open.id]: open } : this.stored();
  });
  readonly library = computed(() => libraryWith(this.own()));

  surface(id: string): Surface | undefined {
    return this.library().surface(id);
  }

  /** Fetches the surfaces that a profile uses and that are not here yet. */
  need(profile: Profile): void {
    const ids = this.idsOf(profile).filter((id) => this.stored()[id] === undefined);
    if (ids.length > 0) this.store.dispatch(libraryActions.need({ ids }));
  }

  /** Fetches one of the user's own surfaces, if it is not here yet. */
  fetch(id: string): void {
    if (this.own()[id] === undefined) this.store.dispatch(libraryActions.need({ ids: [id] }));
  }

  /** Whether every surface of a profile is here, or known to be gone. */
  has(profile: Profile): boolean {
    return this.idsOf(profile).every((id) => this.own()[id] !== undefined);
  }

  private idsOf(profile: Profile): string[] {
    return profile.surfaceOrder
      .map((id) => profile.surfaces[id].model)
      .filter((id) => !STOCK_SURFACES.has(id));
  }
}
