import { Injectable, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { documentActions, listActions } from './actions';
import { Api, freshId } from './api';
import { Drafts, type Unsaved } from './drafts';
import { KINDS, type AnyDocument, type Kind } from './kinds';
import { askAgain } from './opening';
import { Saving } from './saving';
import { Windows } from './windows';

/** One window of a browser sends what no window has open. */
const LOCK = 'rondo-saver';
const CHANNEL = 'rondo.drafts';
/** How long after a failure it is tried again, ms: longer each time. */
const FIRST_RETRY_MS = 2_000;
const LAST_RETRY_MS = 30_000;

/**
 * Sends what the server has not yet of documents that are open in no window, until it has each of them: whoever goes over to
 * another profile, or closes the page, loses nothing.
 */
@Injectable({ providedIn: 'root' })
export class DraftSaver {
  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  private readonly windows = inject(Windows);
  private readonly store = inject(Store);
  /** All that the server has not, of what is open and of the rest. */
  readonly unsaved = signal<readonly Unsaved[]>([]);
  private readonly channel =
    typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(CHANNEL);
  private readonly saving = new Map(
    KINDS.map((kind) => [kind, new Saving(kind, this.api, this.drafts)]),
  );
  private isAtWork = false;
  private wait = FIRST_RETRY_MS;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private isSending = false;

  /** Begins, as soon as no other window of this browser does it. */
  start(): void {
    const look = () => void this.look();
    this.drafts.changed = () => {
      this.channel?.postMessage('changed');
      look();
    };
    if (this.channel) this.channel.onmessage = look;
    look();
    const { locks } = navigator as { readonly locks?: LockManager };
    void locks?.request(LOCK, () => {
      this.isAtWork = true;
      this.tryNow();
      return new Promise(() => undefined);
    });
  }

  /** What there is now; what is new is sent. */
  private async look(): Promise<void> {
    this.unsaved.set(await this.drafts.unsaved());
    if (this.isAtWork && this.timer === null && this.unsaved().some(isToBeSent)) this.later();
  }

  private later(): void {
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.sendAll();
    }, this.wait);
  }

  /** Sends at once, whatever was tried before. */
  tryNow(): void {
    if (!this.isAtWork) {
      this.channel?.postMessage('changed');
      return;
    }
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.wait = FIRST_RETRY_MS;
    void this.sendAll();
  }

  private async sendAll(): Promise<void> {
    if (this.isSending) return;
    this.isSending = true;
    let isAway = false;
    for (const { kind, id } of (await this.drafts.unsaved()).filter(isToBeSent)) {
      const sent = await this.windows.alone(kind, id, () => this.send(kind, id));
      isAway ||= sent === 'away';
    }
    this.isSending = false;
    this.wait = isAway ? Math.min(LAST_RETRY_MS, this.wait * 2) : FIRST_RETRY_MS;
    await this.look();
  }

  private async send(kind: Kind, id: string): Promise<'done' | 'away' | 'refused'> {
    const draft = await this.drafts.read(kind, id);
    if (!draft) return 'done';
    let revision = draft.revision;
    try {
      // A save that was never answered may have been done.
      const saved = await askAgain(this.api, this.drafts, kind, id);
      if (saved?.base === revision) revision = saved.revision;
    } catch {
      return 'away';
    }
    const ended = await this.saving.get(kind)!.send(draft.document, revision);
    if (ended.type === documentActions.saved.type) {
      await this.drafts.drop(kind, id);
      this.store.dispatch(listActions.changed({ kind }));
      return 'done';
    }
    const { failure, message } = ended;
    if (failure === 'away') return 'away';
    await this.drafts.noteTrouble(kind, id, { failure, message });
    return 'refused';
  }

  /** The document of a draft as it stands; null where there is none any more. */
  async document(kind: Kind, id: string): Promise<AnyDocument | null> {
    return (await this.drafts.read(kind, id))?.document ?? null;
  }

  /** Stores it as a new document, beside the one that it was made in. */
  async keepAsNew(kind: Kind, id: string): Promise<void> {
    const document = await this.document(kind, id);
    if (!document) return;
    const name = `${document.name.slice(0, 50)} (mine)`;
    await this.api.create(kind, { ...document, id: freshId(kind), name });
    await this.drafts.drop(kind, id);
    this.store.dispatch(listActions.changed({ kind }));
  }

  /** Gives it up: what the server has stays. */
  async giveUp(kind: Kind, id: string): Promise<void> {
    await this.windows.alone(kind, id, () => this.drafts.drop(kind, id));
  }
}

const isToBeSent = ({ trouble }: Unsaved): boolean => trouble === null;
