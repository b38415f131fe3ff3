import { Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import * as z from 'zod';
import type { Edit, Numbered } from '@rondo/core/document';
import type { Kind } from './kinds';

const CHANNEL = 'rondo-documents';
/** How long a window that opens a document waits for the one that leads, ms; then it asks the server. */
const ANSWER_MS = 1_500;

const path = z.array(z.union([z.string(), z.number()]));
const placedSchema = z.array(
  z.object({ id: z.string(), after: z.string().nullable(), before: z.string().nullable() }),
);
const patchesSchema = z.array(
  z.discriminatedUnion('op', [
    z.object({
      op: z.enum(['replace', 'remove', 'add']),
      path,
      value: z.unknown().optional(),
    }),
    z.object({ op: z.literal('order'), path, out: placedSchema, in: placedSchema }),
  ]),
);
export const editSchema: z.ZodType<Edit> = z.object({
  name: z.string(),
  forward: patchesSchema,
  inverse: patchesSchema,
}) as z.ZodType<Edit>;
const numberedSchema: z.ZodType<Numbered> = z.object({
  from: z.string(),
  n: z.int().positive(),
  edit: editSchema,
});
const standingSchema = z.object({
  save: z.enum(['saved', 'unsaved', 'saving', 'away', 'stale', 'refused']),
  revision: z.number(),
  staleAt: z.number().nullable(),
  message: z.string().nullable(),
});
/** Where a document stands toward the server, as the window that leads knows it. */
export type Standing = z.infer<typeof standingSchema>;

const told = z.object({ of: z.enum(['profile', 'surface', 'host']), id: z.string() });
const toldSchema = z.discriminatedUnion('kind', [
  /** A window has opened the document, or has missed something. */
  told.extend({ kind: z.literal('join') }),
  /** A window that follows has made an edit. */
  told.extend({ kind: z.literal('ask'), edit: numberedSchema }),
  /** The next edit of the order. */
  told.extend({ kind: z.literal('ordered'), edit: numberedSchema }),
  /** All that the window that leads has. */
  told.extend({
    kind: z.literal('state'),
    document: z.unknown(),
    seen: z.record(z.string(), z.number()),
    standing: standingSchema,
  }),
  told.extend({ kind: z.literal('standing'), standing: standingSchema }),
  /** The server has another one since something was done in this browser. */
  told.extend({ kind: z.literal('replaced'), by: z.string().max(200) }),
  /** What the user has chosen in a window that follows. */
  told.extend({ kind: z.literal('choose'), what: z.enum(['keepMine', 'takeTheirs', 'tryAgain']) }),
]);
/** What windows of one browser tell each other of the documents that are open in them. */
export type Told = z.infer<typeof toldSchema>;

const lockOf = (kind: Kind, id: string): string => `rondo-document ${kind}/${id}`;

/**
 * The other windows of this browser. Of those that have a document open one leads: it orders the edits and alone saves. The
 * browser's own locks choose it, and choose another as soon as it closes or dies.
 */
@Injectable({ providedIn: 'root' })
export class Windows {
  /** This window's name among them. */
  readonly id = crypto.randomUUID();
  readonly told = new Subject<Told>();
  /** A document in which this window leads from now on, having followed. */
  readonly led = new Subject<{ readonly kind: Kind; readonly id: string }>();
  private readonly channel =
    typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(CHANNEL);
  private readonly held = new Map<Kind, AbortController>();
  /** Documents in which this window leads. */
  private readonly leading = new Map<Kind, string>();

  constructor() {
    this.channel?.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
      // Another window may be of another version: what it says and this one does not know is left alone.
      const message = toldSchema.safeParse(data);
      if (message.success) this.told.next(message.data);
    });
  }

  tell(message: Told): void {
    this.channel?.postMessage(message);
  }

  /** Takes part in a document that has just been opened here; whether this window leads. */
  join(kind: Kind, id: string): Promise<boolean> {
    this.leave(kind);
    const { locks } = navigator as { readonly locks?: LockManager };
    if (!locks || !this.channel) return Promise.resolve(true);
    const ending = new AbortController();
    this.held.set(kind, ending);
    const until = new Promise<void>((done) =>
      ending.signal.addEventListener('abort', () => done(), { once: true }),
    );
    return new Promise((answer) => {
      void locks.request(lockOf(kind, id), { ifAvailable: true }, (lock) => {
        if (lock) this.leading.set(kind, id);
        answer(lock !== null);
        if (lock) return until;
        void this.wait(locks, kind, id, ending.signal, until);
        return undefined;
      });
    });
  }

  /** Whether this window leads in a document now. */
  leads(kind: Kind, id: string): boolean {
    return this.leading.get(kind) === id;
  }

  /** Waits until no other window leads. */
  private async wait(
    locks: LockManager,
    kind: Kind,
    id: string,
    signal: AbortSignal,
    until: Promise<void>,
  ): Promise<void> {
    try {
      await locks.request(lockOf(kind, id), { signal }, () => {
        this.leading.set(kind, id);
        this.led.next({ kind, id });
        return until;
      });
    } catch {
      // The document was closed here before it came to that.
    }
  }

  /** Does some work on a document that no window has open; null where one has. */
  async alone<T>(kind: Kind, id: string, work: () => Promise<T>): Promise<T | null> {
    const { locks } = navigator as { readonly locks?: LockManager };
    if (!locks) return null;
    return locks.request(lockOf(kind, id), { ifAvailable: true }, (lock) =>
      lock ? work() : Promise.resolve(null),
    );
  }

  /** Takes no part in the open document of a kind any more. */
  leave(kind: Kind): void {
    this.held.get(kind)?.abort();
    this.held.delete(kind);
    this.leading.delete(kind);
  }

  /** Asks the window that leads for all that it has of a document; null where it does not answer in time. */
  ask(of: Kind, id: string): Promise<Extract<Told, { kind: 'state' }> | null> {
    return new Promise((answer) => {
      const heard = this.told.subscribe((message) => {
        if (message.kind === 'state' && message.of === of && message.id === id) end(message);
      });
      const late = setTimeout(() => end(null), ANSWER_MS);
      const end = (message: Extract<Told, { kind: 'state' }> | null) => {
        heard.unsubscribe();
        clearTimeout(late);
        answer(message);
      };
      this.tell({ kind: 'join', of, id });
    });
  }
}
