import { Injectable, computed, inject } from '@angular/core';
import { Store, createFeature, createReducer, on } from '@ngrx/store';
import type { HostModel, MessageHost } from '@rondo/core/host';
import type { Profile } from '@rondo/core/profile';
import type { Surface } from '@rondo/core/surface';
import { idsOf } from '@rondo/core/profile';
import { libraryWith, type Own } from '../engine/library';
import { documentActions, libraryActions } from './actions';
import { hostFeature, surfaceFeature } from './document';
import type { AnyDocument, Kind } from './kinds';

/** Documents of the kinds that profiles use, as the server has them; null for those it does not have. */
export type LibraryState = Own;

const put = (state: LibraryState, kind: Kind, document: AnyDocument): LibraryState => {
  if (kind === 'surface')
    return { ...state, surfaces: { ...state.surfaces, [document.id]: document as Surface } };
  return kind === 'host'
    ? { ...state, hosts: { ...state.hosts, [document.id]: document as MessageHost } }
    : state;
};

export const libraryFeature = createFeature({
  name: 'library',
  reducer: createReducer<LibraryState>(
    { surfaces: {}, hosts: {} },
    on(libraryActions.got, (state, { kind, document }) => put(state, kind, document)),
    on(libraryActions.missing, (state, { kind, id }): LibraryState =>
      kind === 'surface'
        ? { ...state, surfaces: { ...state.surfaces, [id]: null } }
        : { ...state, hosts: { ...state.hosts, [id]: null } },
    ),
    // What was edited here need not be fetched again.
    on(documentActions.saved, (state, { kind, document }) => put(state, kind, document)),
  ),
});

/** The surfaces and hosts that profiles can use. What is being edited counts as it is now. */
@Injectable({ providedIn: 'root' })
export class LibraryService {
  private readonly store = inject(Store);
  private readonly stored = this.store.selectSignal(libraryFeature.selectLibraryState);
  private readonly openSurface = this.store.selectSignal(surfaceFeature.selectDocument);
  private readonly openHost = this.store.selectSignal(hostFeature.selectDocument);

  /** What the user has made, by id. */
  readonly own = computed<Own>(() => {
    const { surfaces, hosts } = this.stored();
    const surface = this.openSurface();
    const host = this.openHost();
    return {
      surfaces: surface ? { ...surfaces, [surface.id]: surface } : surfaces,
      hosts: host ? { ...hosts, [host.id]: host } : hosts,
    };
  });
  readonly library = computed(() => libraryWith(this.own()));

  surface(id: string): Surface | undefined {
    return this.library().surface(id);
  }

  /** The model of a host by its id. */
  host(id: string): HostModel | undefined {
    return this.library().host(id);
  }

  /** The model of a host of a profile, by its id there. */
  hostOf(profile: Profile, id: string): HostModel | undefined {
    return Object.hasOwn(profile.hosts, id) ? this.host(profile.hosts[id].model) : undefined;
  }

  /** Fetches the surfaces and hosts that a profile uses and that are not here yet. */
  need(profile: Profile): void {
    const { surfaces, hosts } = idsOf(profile);
    const stored = this.stored();
    this.ask(
      'surface',
      surfaces.filter((id) => stored.surfaces[id] === undefined),
    );
    this.ask(
      'host',
      hosts.filter((id) => stored.hosts[id] === undefined),
    );
  }

  /** Fetches one of the user's own documents, if it is not here yet. */
  fetch(kind: 'surface' | 'host', id: string): void {
    const own = kind === 'surface' ? this.own().surfaces : this.own().hosts;
    if (own[id] === undefined) this.ask(kind, [id]);
  }

  private ask(kind: 'surface' | 'host', ids: readonly string[]): void {
    if (ids.length > 0) this.store.dispatch(libraryActions.need({ kind, ids }));
  }

  /** Whether every surface and host of a profile is here, or known to be gone. */
  has(profile: Profile): boolean {
    const { surfaces, hosts } = idsOf(profile);
    const own = this.own();
    return (
      surfaces.every((id) => own.surfaces[id] !== undefined) &&
      hosts.every((id) => own.hosts[id] !== undefined)
    );
  }
}
