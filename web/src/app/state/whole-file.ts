import { Injectable, inject } from '@angular/core';
import { aloneFile, fileOf, type RondoFile } from '@rondo/core/formats';
import { HOST_MODELS, type MessageHost } from '@rondo/core/host';
import { idsOf, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { Api, ApiError, type Opened } from './api';
import type { AnyDocument, Kind } from './kinds';
import { LibraryService } from './library';

/** Files of what is on the screen, saved or not: with all of one's own that it uses. */
@Injectable({ providedIn: 'root' })
export class WholeFile {
  private readonly api = inject(Api);
  private readonly library = inject(LibraryService);

  /** A document as a file. */
  async of(kind: Kind, document: AnyDocument): Promise<RondoFile> {
    if (kind === 'surface') return aloneFile({ surfaces: [document as Surface] });
    if (kind === 'host') return aloneFile({ hosts: [document as MessageHost] });
    const profile = document as Profile;
    const used = idsOf(profile);
    const surfaces = await this.all('surface', used.surfaces, (id) => STOCK_SURFACES.has(id));
    const hosts = await this.all('host', used.hosts, (id) => HOST_MODELS.has(id));
    return fileOf([profile], {
      surface: (id) => surfaces.get(id) as Surface | undefined,
      host: (id) => hosts.get(id) as MessageHost | undefined,
    });
  }

  private async all(
    kind: 'surface' | 'host',
    ids: readonly string[],
    isStock: (id: string) => boolean,
  ): Promise<Map<string, AnyDocument>> {
    const found = new Map<string, AnyDocument>();
    const own = kind === 'surface' ? this.library.own().surfaces : this.library.own().hosts;
    for (const id of ids) {
      if (isStock(id)) continue;
      const one = own[id] ?? (await this.stored(kind, id))?.document;
      if (one) found.set(id, one);
    }
    return found;
  }

  /** As the server has it; null where it is gone: then the file says so by what it uses and does not hold. */
  private async stored(kind: 'surface' | 'host', id: string): Promise<Opened<Kind> | null> {
    try {
      return await this.api.open(kind, id);
    } catch (error) {
      if (error instanceof ApiError && error.kind === 'missing') return null;
      throw error;
    }
  }
}
