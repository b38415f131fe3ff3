import { Injectable, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { setSurfaceModel } from '@rondo/core/profile';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { rememberCopy } from '../../engine/port-choice';
import { libraryActions, listActions } from '../../state/actions';
import { Api, freshId, words } from '../../state/api';
import { Workbench } from './workbench';

/** Surfaces that come with Rondo are not changed: a profile goes on with a copy of one, which its user may change. */
@Injectable()
export class OwnCopy {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly bench = inject(Workbench);
  /** Copies that are being made, by surface: pressed twice, there is one. */
  private readonly underWay = new Map<string, Promise<string | null>>();
  /** Why there is no copy; '' where nothing went wrong. */
  readonly trouble = signal('');

  /**
   * Sees to it that a surface of the profile is the user's own: its bindings and its ports stay as they are.
   * @returns id of the surface's description; null where the server did not take a copy
   */
  of(id: string): Promise<string | null> {
    const going = this.underWay.get(id) ?? this.make(id);
    this.underWay.set(id, going);
    return going.finally(() => this.underWay.delete(id));
  }

  private async make(id: string): Promise<string | null> {
    const { id: profileId, surfaces } = this.bench.profile()!;
    const { model, label } = surfaces[id];
    const stock = STOCK_SURFACES.get(model);
    if (!stock) return model;
    const document = { ...stock, id: freshId('surface'), name: `My ${label}`.slice(0, 60) };
    try {
      await this.api.create('surface', document);
    } catch (error) {
      this.trouble.set(`No copy of ${label} was made: ${words(error)}`);
      return null;
    }
    this.trouble.set('');
    // It is here before the profile names it: nothing is missing in between.
    this.store.dispatch(libraryActions.got({ kind: 'surface', document }));
    this.store.dispatch(listActions.load({ kind: 'surface' }));
    rememberCopy(model, document.id);
    // What has been opened, or taken out, while the server was asked is another's.
    const now = this.bench.profile();
    if (now?.id !== profileId || !Object.hasOwn(now.surfaces, id)) return null;
    this.bench.edit((profile) => setSurfaceModel(profile, id, document.id));
    return document.id;
  }
}
