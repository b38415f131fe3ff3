import { Injectable } from '@angular/core';
import { z } from 'zod';
import { readAs, type AnyDocument, type Documents, type Kind } from './kinds';

const draftSchema = z.object({ revision: z.number(), document: z.unknown() });
const keyOf = (kind: Kind, id: string): string => `rondo.draft.${kind}.${id}`;

export interface Draft<T> {
  /** Revision on the server that the draft builds on. */
  readonly revision: number;
  readonly document: T;
}

/** Edits that the server has not acknowledged yet, kept in this browser so that a closed page loses none. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  read<K extends Kind>(kind: K, id: string): Draft<Documents[K]> | null {
    try {
      const { revision, document } = draftSchema.parse(
        JSON.parse(localStorage.getItem(keyOf(kind, id)) ?? ''),
      );
      const result = readAs(kind, document);
      return result.ok ? { revision, document: result.document } : null;
    } catch {
      return null;
    }
  }

  keep(kind: Kind, draft: Draft<AnyDocument>): void {
    try {
      localStorage.setItem(keyOf(kind, draft.document.id), JSON.stringify(draft));
    } catch {
      // Without room the edits still stand in the page.
    }
  }

  drop(kind: Kind, id: string): void {
    localStorage.removeItem(keyOf(kind, id));
  }
}
