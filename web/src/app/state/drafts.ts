import { Injectable, signal } from '@angular/core';
import { createStore, del, entries, get, promisifyRequest, set, setMany } from 'idb-keyval';
import * as z from 'zod';
import { redo, type Edit } from '@rondo/core/document';
import { forget } from './kept';
import { readAs, type AnyDocument, type Documents, type Kind } from './kinds';
import { editSchema } from './windows';

const savedSchema = z.object({ revision: z.number(), document: z.unknown() });
const sentSchema = savedSchema.extend({ request: z.string() });
/** Where a draft stands toward the server. Kept beside the document that its edits were made in, and beside these. */
const standSchema = z.object({
  /** Revision on the server that it builds on. */
  revision: z.number(),
  /** The server has all of it. */
  isSaved: z.boolean(),
  /** When the first edit was made that the server has not, ISO 8601. */
  since: z.string(),
  name: z.string(),
  /** Why it was not taken the last time; null where it was not tried, or the server was away. */
  trouble: z.object({ failure: z.enum(['stale', 'refused']), message: z.string() }).nullable(),
});
type Stand = z.infer<typeof standSchema>;
export type DraftTrouble = NonNullable<Stand['trouble']>;
/** A draft that the server has not, as lists tell of it. */
export interface Unsaved extends Omit<Stand, 'isSaved' | 'revision'> {
  readonly kind: Kind;
  readonly id: string;
}

/** An edit is kept at once where none was within this time before, else as soon as it is over, ms. */
const KEPT_EACH_MS = 100;
/** So many edits are kept one by one; then the document is kept as it is. */
const MOST_EDITS = 300;

/** Where a draft stands that was kept as the page was left. */
const leftKey = (kind: Kind, id: string): string => `rondo.draft.${kind}.${id}`;
/** Where a save stands that was on its way as the page was left. */
const leftSentKey = (kind: Kind, id: string): string => `rondo.sent.${kind}.${id}`;
const keyOf = (kind: Kind, id: string): string => `${kind}/${id}`;
const standKey = (key: string): string => `${key}#stand`;
const editKey = (key: string, n: number): string => `${key}#${String(n).padStart(6, '0')}`;

/** A document that is open here and leads, as far as it is kept. */
interface Open {
  readonly kind: Kind;
  /** What the edits were made in; null once that is kept. */
  base: AnyDocument | null;
  document: AnyDocument;
  /** Edits that are kept, and those that are not yet. */
  kept: number;
  waiting: Edit[];
  stand: Stand;
  timer: ReturnType<typeof setTimeout> | null;
  /** When it was last kept, of the page's clock, ms. */
  keptAt: number;
}

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

  /** Documents that are open here and lead, by key. */
  private readonly open = new Map<string, Open>();
  /** One write after the other, in their order. */
  private writes: Promise<unknown> = Promise.resolve();
  /** Called whenever there is more or less that the server has not. */
  changed: () => void = () => undefined;

  async read<K extends Kind>(kind: K, id: string): Promise<Draft<Documents[K]> | null> {
    const left = await this.left(kind, id);
    if (left) return left;
    await this.writes;
    const found = (await this.all()).find((one) => one.kind === kind && one.id === id);
    return (found?.draft() ?? null) as Draft<Documents[K]> | null;
  }

  /** All drafts that the server has not, of documents that are open and of others. */
  async unsaved(): Promise<Unsaved[]> {
    await this.writes;
    return (await this.all()).map(({ kind, id, stand: { name, since, trouble } }) => ({
      kind,
      id,
      name,
      since,
      trouble,
    }));
  }

  private async all(): Promise<
    { kind: Kind; id: string; stand: Stand; draft(): Draft<AnyDocument> | null }[]
  > {
    let found: [string, unknown][];
    try {
      found = await entries<string, unknown>(this.edits);
    } catch {
      return [];
    }
    const byKey = new Map(found);
    const edits = found.filter(([key]) => /#\d+$/.test(key)).sort(([a], [b]) => (a < b ? -1 : 1));
    return found.flatMap(([key, value]) => {
      const [, kind, id] = /^(profile|surface|host)\/([^#]+)$/.exec(key) ?? [];
      const base = savedSchema.safeParse(value);
      if (!id || !base.success) return [];
      const { revision, document } = base.data;
      const stand = standSchema.safeParse(byKey.get(standKey(key))).data ?? {
        // As it was kept before there were edits one by one.
        revision,
        isSaved: false,
        since: new Date().toISOString(),
        name: (document as { name?: string } | undefined)?.name ?? id,
        trouble: null,
      };
      if (stand.isSaved) return [];
      const draft = () => {
        const read = readAs(kind as Kind, document);
        if (!read.ok) return null;
        const now = edits
          .filter(([other]) => other.startsWith(`${key}#`))
          .reduce<AnyDocument>((before, [, edit]) => {
            const parsed = editSchema.safeParse(edit);
            return (parsed.success && redo(before, parsed.data)) || before;
          }, read.document);
        return { revision: stand.revision, document: now };
      };
      return [{ kind: kind as Kind, id, stand, draft }];
    });
  }

  /** A document is open here and leads: from now on its edits are kept. */
  begin(kind: Kind, document: AnyDocument, revision: number, isSaved: boolean): void {
    const key = keyOf(kind, document.id);
    this.stop(key);
    const now = new Date().toISOString();
    const open: Open = {
      kind,
      base: document,
      document,
      kept: 0,
      waiting: [],
      stand: { revision, isSaved, since: now, name: document.name, trouble: null },
      timer: null,
      keptAt: -KEPT_EACH_MS,
    };
    this.open.set(key, open);
    // What was kept before is of no use any more: it is in what was opened, or given up. So is what another window kept as
    // it was left: who leads now has been told of all its edits.
    const begun = isSaved ? this.write(() => this.replaceAll(key, [])) : this.flush(key, open);
    void begun.then(() => {
      if (!this.isFull()) forget(leftKey(kind, document.id));
    });
  }

  /** An edit was made in it, here or by another window. */
  edited(kind: Kind, document: AnyDocument, edit: Edit): void {
    const key = keyOf(kind, document.id);
    const open = this.open.get(key);
    if (!open || open.document === document) return;
    if (open.stand.isSaved) open.stand = { ...open.stand, since: new Date().toISOString() };
    open.stand = { ...open.stand, isSaved: false, name: document.name };
    open.document = document;
    open.waiting.push(edit);
    this.soon(key, open);
  }

  /** The server has it, up to a document; or has not taken it. */
  answered(
    kind: Kind,
    id: string,
    answer: { readonly document: AnyDocument; readonly revision: number } | DraftTrouble,
  ): void {
    const key = keyOf(kind, id);
    const open = this.open.get(key);
    if (!open) return;
    if ('failure' in answer) open.stand = { ...open.stand, trouble: answer };
    else {
      const { revision, document } = answer;
      const isSaved = open.document === document;
      open.stand = { ...open.stand, revision, isSaved, trouble: null };
    }
    // At once: a page that is left now would else take its own save for somebody else's.
    void this.flush(key, open);
  }

  /** It builds on another revision from now on, by choice. */
  builtOn(kind: Kind, id: string, revision: number): void {
    const open = this.open.get(keyOf(kind, id));
    if (!open) return;
    open.stand = { ...open.stand, revision, trouble: null };
    this.soon(keyOf(kind, id), open);
  }

  /** It is not open here any more, or another window leads: what is kept of it stays. */
  end(kind: Kind, id: string): void {
    const key = keyOf(kind, id);
    const open = this.open.get(key);
    if (!open) return;
    this.stop(key);
    void this.flush(key, open);
  }

  private stop(key: string): void {
    const timer = this.open.get(key)?.timer;
    if (timer) clearTimeout(timer);
    this.open.delete(key);
  }

  private soon(key: string, open: Open): void {
    // Behind another tab a browser lets timers wait for a second, or a minute: edits of a window in front come here then.
    const rest = open.keptAt + KEPT_EACH_MS - performance.now();
    if (rest <= 0 || document.visibilityState === 'hidden') {
      void this.flush(key, open);
      return;
    }
    open.timer ??= setTimeout(() => void this.flush(key, open), rest);
  }

  /** Writes what is not kept yet: the edits alone, after the document that they were made in is kept once. */
  private flush(key: string, open: Open): Promise<void> {
    if (open.timer) clearTimeout(open.timer);
    open.timer = null;
    open.keptAt = performance.now();
    const { stand } = open;
    const isMany = open.kept + open.waiting.length > MOST_EDITS;
    const isAnew = isMany || open.base !== null;
    // Of what was never changed nothing is kept.
    if (open.base !== null && stand.isSaved && open.waiting.length === 0) return Promise.resolve();
    const base = isMany || !open.base ? open.document : open.base;
    const from = isAnew ? 0 : open.kept;
    const list = isMany ? [] : open.waiting;
    open.base = null;
    open.kept = from + list.length;
    open.waiting = [];
    const rows: [string, unknown][] = [
      ...list.map((edit, at): [string, unknown] => [editKey(key, from + at), edit]),
      [standKey(key), stand],
    ];
    return this.write(() =>
      isAnew
        ? this.replaceAll(key, [[key, { revision: stand.revision, document: base }], ...rows])
        : setMany(rows, this.edits),
    );
  }

  private write(work: () => Promise<unknown>): Promise<void> {
    const done = this.writes.then(work).then(
      () => this.isFull.set(false),
      () => this.isFull.set(true),
    );
    this.writes = done.then(() => this.changed());
    return done;
  }

  /** Keeps this of a document and nothing else, all at once: who is killed in between has the one or the other. */
  private replaceAll(key: string, rows: readonly (readonly [string, unknown])[]): Promise<void> {
    return this.edits('readwrite', (store) => {
      // No id goes on with the sign that its own rows go on with.
      store.delete(IDBKeyRange.bound(key, `${key}#\uffff`));
      for (const [name, value] of rows) store.put(value, name);
      return promisifyRequest(store.transaction);
    });
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

  /** Keeps a draft as a whole, of a document that is not open here. */
  keep(
    kind: Kind,
    { document, revision }: Draft<AnyDocument>,
    trouble: DraftTrouble | null = null,
  ): Promise<void> {
    const key = keyOf(kind, document.id);
    const since = new Date().toISOString();
    const stand: Stand = { revision, isSaved: false, since, name: document.name, trouble };
    return this.write(() =>
      this.replaceAll(key, [
        [key, { revision, document }],
        [standKey(key), stand],
      ]),
    );
  }

  /** Notes why a draft of a document that is not open was not taken. */
  noteTrouble(kind: Kind, id: string, trouble: DraftTrouble): Promise<void> {
    const key = standKey(keyOf(kind, id));
    return this.write(async () => {
      const stand = standSchema.safeParse(await get(key, this.edits));
      if (stand.success) await set(key, { ...stand.data, trouble }, this.edits);
    });
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
    await Promise.all([
      this.write(() => this.replaceAll(keyOf(kind, id), [])),
      this.dropSent(kind, id),
    ]);
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
