import { Injectable } from '@angular/core';
import { createStore, get, set } from 'idb-keyval';
import * as z from 'zod';
import type { Edit } from '@rondo/core/document';
import { forget } from './kept';
import type { Kind } from './kinds';
import { editSchema } from './windows';

/** So many edits of each document can be taken back after the page has been loaded again. */
export const MOST_KEPT = 100;

const stepsSchema = z.object({
  past: z.array(editSchema),
  future: z.array(editSchema),
  /** There were more before, which are not kept. */
  isCut: z.boolean().default(false),
});
/** Edits that can be taken back, and those that were. */
export type StepsKept = z.infer<typeof stepsSchema>;
interface Made {
  readonly past: readonly Edit[];
  readonly future: readonly Edit[];
  readonly isCut: boolean;
}
const last = ({ past, future, isCut }: Made): StepsKept => ({
  past: past.slice(-MOST_KEPT),
  future: future.slice(-MOST_KEPT),
  isCut: isCut || past.length > MOST_KEPT,
});
/** Where they stand that were kept as the page was left: of its window alone, and for whoever opens the document next. */
const leftKey = (kind: Kind, id: string): string => `rondo.steps.${kind}.${id}`;
const NONE: StepsKept = { past: [], future: [], isCut: false };

/** The last edits of each document, kept in this browser so that undo reaches over a reload. */
@Injectable({ providedIn: 'root' })
export class Steps {
  private readonly store = createStore('rondo-steps', 'steps');

  /**
   * What can be taken back of a document: what was done in this window before it was loaded again; else, in the window that
   * leads, what was done last.
   */
  async read(kind: Kind, id: string, leads: boolean): Promise<StepsKept> {
    const own = this.takeOwn(kind, id);
    if (own) return own;
    if (!leads) return NONE;
    try {
      const left = localStorage.getItem(leftKey(kind, id));
      if (left === null) return stepsSchema.parse(await get(`${kind}/${id}`, this.store));
      const steps = stepsSchema.parse(JSON.parse(left));
      await this.keep(kind, id, steps);
      return steps;
    } catch {
      return NONE;
    }
  }

  private takeOwn(kind: Kind, id: string): StepsKept | null {
    const key = leftKey(kind, id);
    try {
      const kept = sessionStorage.getItem(key);
      sessionStorage.removeItem(key);
      return kept === null ? null : stepsSchema.parse(JSON.parse(kept));
    } catch {
      return null;
    }
  }

  /** Keeps them for this window alone, before this returns: it may only be loaded again. */
  keepOwn(kind: Kind, id: string, steps: Made): void {
    try {
      sessionStorage.setItem(leftKey(kind, id), JSON.stringify(last(steps)));
    } catch {
      // Without room here what the other stores have of them stands.
    }
  }

  /** Keeps them before this returns, for a page that is being left. */
  keepNow(kind: Kind, id: string, steps: Made): void {
    try {
      localStorage.setItem(leftKey(kind, id), JSON.stringify(last(steps)));
    } catch {
      // Without room here what the other store has of them stands.
    }
  }

  async keep(kind: Kind, id: string, steps: Made): Promise<void> {
    forget(leftKey(kind, id));
    // Without room undo reaches no further than this visit, and nothing else is lost.
    try {
      await set(`${kind}/${id}`, last(steps), this.store);
    } catch {
      // A browser that keeps nothing.
    }
  }
}
