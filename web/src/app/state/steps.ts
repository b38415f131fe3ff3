import { Injectable } from '@angular/core';
import { createStore, get, set } from 'idb-keyval';
import { z } from 'zod';
import type { Edit } from '@rondo/core/document';
import type { Kind } from './kinds';
import { editSchema } from './windows';

/** So many edits of each document can be taken back after the page has been loaded again. */
const MOST_KEPT = 100;

const stepsSchema = z.object({ past: z.array(editSchema), future: z.array(editSchema) });
/** Edits that can be taken back, and those that were. */
export type StepsKept = z.infer<typeof stepsSchema>;
const NONE: StepsKept = { past: [], future: [] };

/** The last edits of each document, kept in this browser so that undo reaches over a reload. */
@Injectable({ providedIn: 'root' })
export class Steps {
  private readonly store = createStore('rondo-steps', 'steps');

  async read(kind: Kind, id: string): Promise<StepsKept> {
    try {
      return stepsSchema.parse(await get(`${kind}/${id}`, this.store));
    } catch {
      return NONE;
    }
  }

  async keep(
    kind: Kind,
    id: string,
    { past, future }: { readonly past: readonly Edit[]; readonly future: readonly Edit[] },
  ): Promise<void> {
    const kept = { past: past.slice(-MOST_KEPT), future: future.slice(-MOST_KEPT) };
    // Without room undo reaches no further than this visit, and nothing else is lost.
    await set(`${kind}/${id}`, kept, this.store).catch(() => undefined);
  }
}
