import { Injectable, signal } from '@angular/core';
import { createStore, del, get, set } from 'idb-keyval';
import * as z from 'zod';
import { forget } from './forget';
import { readAs, type AnyDocument, type Documents, type Kind } from './kinds';

const savedSchema = z.object({ revision: z.number(), document: z.unknown() });
const sentSchema = savedSchema.extend({ request: z.string() });
/** Where a draft stands that was kept as the page was left. */
const leftKey = (kind: Kind, id: string): string => `rondo.draft.${kind}.${id}`;
/** Where a save stands that was on its way as the page was left. */
const leftSentKey = (kind: Kind, id: string): string => `rondo.sent.${kind}.${id}`;
const keyOf = (kind: Kind, id: string): string => `${kind}/${id}`;

export interface Draft<T> {
  /** Revision on the server that the draft builds on. */
  readonly revision: number;
  readonly document: T;
}

/** A save whose answer has not come yet. */
export interface Sent<T> extends Draft<T> {
  /** The request's own id: asked again by it, the server does nothing twice. */
  readonly request: string;
}

/**
 * Edits that the server has not acknowledged yet, and saves that it has not answered, kept in this browser so that a
 * closed page loses none.
 */
@Injectable({ providedIn: 'root' })
export class Drafts {
  private readonly edits = createStore('rondo-drafts', 'edits');
  private readonly saves = createStore('rondo-saves', 'saves');
  /** Saves that are on their way: what is being noted of them may come too late for a page that is left. */
  private readonly onTheWay = new Map<string, Sent<AnyDocument>>();
  /** The browser had no room for the last draft, or keeps none at all. */
  readonly isFull = signal(false);

  async read<K extends Kind>(kind: K, id: string): Promise<Draft<Documents[K]> | null> {
    return (await this.left(kind, id)) ?? this.find(kind, id, savedSchema, this.edits);
  }

  /** A draft of the moment in which the page was left, newer than what the other store may have. */
  private async left<K extends Kind>(kind: K, id: string): Promise<Draft<Documents[K]> | null> {
    const key = leftKey(kind, id);
    try {
      const { revision, document } = savedSchema.parse(
        JSON.parse(localStorage.getItem(key) ?? 'null'),
      );
      const result = readAs(kind, document);
      if (!result.ok) return null;
      const draft = { revision, document: result.document };
      await this.keep(kind, draft);
      if (!this.isFull()) localStorage.removeItem(key);
      return draft;
    } catch {
      return null;
    }
  }

  /** Keeps a draft before this returns, for a page that is being left: the other store would answer too late. */
  keepNow(kind: Kind, draft: Draft<AnyDocument>): void {
    try {
      localStorage.setItem(leftKey(kind, draft.document.id), JSON.stringify(draft));
    } catch {
      // Without room here what the other store has of it stands.
    }
  }

  /** The save of a document that has not been answered; null for none. */
  async sent<K extends Kind>(kind: K, id: string): Promise<Sent<Documents[K]> | null> {
    try {
      const left = localStorage.getItem(leftSentKey(kind, id));
      const found = sentSchema.parse(JSON.parse(left ?? 'null'));
      const result = readAs(kind, found.document);
      if (result.ok) return { ...found, document: result.document };
    } catch {
      // None was left so, or nothing that can be read.
    }
    return this.find(kind, id, sentSchema, this.saves);
  }

  /** Notes a save that is on its way before this returns, for a page that is being left. */
  keepSentNow(kind: Kind, id: string): void {
    const sent = this.onTheWay.get(keyOf(kind, id));
    try {
      if (sent) localStorage.setItem(leftSentKey(kind, id), JSON.stringify(sent));
    } catch {
      // Without room here what the other store has of it stands.
    }
  }

  private async find<K extends Kind, T extends { document?: unknown }>(
    kind: K,
    id: string,
    schema: z.ZodType<T>,
    store: ReturnType<typeof createStore>,
  ): Promise<(T & { document: Documents[K] }) | null> {
    try {
      const found = schema.parse(await get(keyOf(kind, id), store));
      const result = readAs(kind, found.document);
      return result.ok ? { ...found, document: result.document } : null;
    } catch {
      return null;
    }
  }

  keep(kind: Kind, draft: Draft<AnyDocument>): Promise<void> {
    return this.put(kind, draft, this.edits);
  }

  /** Notes that a save is on its way. */
  keepSent(kind: Kind, sent: Sent<AnyDocument>): Promise<void> {
    this.onTheWay.set(keyOf(kind, sent.document.id), sent);
    return this.put(kind, sent, this.saves);
  }

  /** Nothing is kept of a document any more: it is stored as it stands, or given up. */
  async drop(kind: Kind, id: string): Promise<void> {
    forget(leftKey(kind, id));
    // Both at once: a save that begins meanwhile notes itself after this.
    await Promise.all([this.remove(keyOf(kind, id), this.edits), this.dropSent(kind, id)]);
  }

  /** A save has been answered. */
  async dropSent(kind: Kind, id: string): Promise<void> {
    this.onTheWay.delete(keyOf(kind, id));
    forget(leftSentKey(kind, id));
    await this.remove(keyOf(kind, id), this.saves);
  }

  /** A browser that keeps nothing has nothing to be removed. */
  private async remove(key: string, store: ReturnType<typeof createStore>): Promise<void> {
    try {
      await del(key, store);
    } catch {
      // What stays is found to be done once it is asked for again.
    }
  }

  private async put(
    kind: Kind,
    what: Draft<AnyDocument>,
    store: ReturnType<typeof createStore>,
  ): Promise<void> {
    try {
      // Documents are data and nothing else; what the store cannot clone would be a fault of ours.
      await set(keyOf(kind, what.document.id), what, store);
      this.isFull.set(false);
    } catch {
      this.isFull.set(true);
    }
  }
}
