import { documentActions } from './actions';
import { ApiError, freshRequest, words, type Api } from './api';
import type { Drafts, Sent } from './drafts';
import type { AnyDocument, Kind } from './kinds';

/** A server that fails so often in a row is not asked again by itself. */
const MOST_FAULTS = 5;

type SaveEnded = ReturnType<typeof documentActions.saved | typeof documentActions.saveFailed>;

/**
 * Saves of one kind. One whose answer was lost is asked again by its own id, so that it is never taken for somebody else's;
 * a server that has a fault itself is left alone after some tries.
 */
export class Saving {
  private readonly underWay = new Set<string>();
  private readonly lost = new Map<string, Sent<AnyDocument>>();
  private readonly faults = new Map<string, number>();

  constructor(
    private readonly kind: Kind,
    private readonly api: Api,
    private readonly drafts: Drafts,
  ) {}

  isUnderWay(id: string): boolean {
    return this.underWay.has(id);
  }

  /** What was not answered has been asked for on opening. */
  openedAnew(id: string): void {
    this.lost.delete(id);
    this.faults.delete(id);
  }

  /** Sends a document, or once more what of it was not answered. */
  async send(document: AnyDocument, revision: number): Promise<SaveEnded> {
    const { kind } = this;
    const { id } = document;
    const sent = this.lost.get(id) ?? { document, revision, request: freshRequest() };
    this.underWay.add(id);
    this.lost.set(id, sent);
    // Not waited for: a browser that keeps nothing holds no save up.
    void this.drafts.keepSent(kind, sent);
    try {
      const saved = await this.api.save(kind, sent.document, sent.revision, sent.request);
      this.answered(id);
      this.faults.delete(id);
      return documentActions.saved({ kind, document: sent.document, revision: saved });
    } catch (error) {
      const told = error instanceof ApiError ? error : new ApiError('refused', words(error));
      if (told.kind !== 'away') this.answered(id);
      return documentActions.saveFailed({
        kind,
        id,
        failure: this.failureOf(id, told),
        message: told.message,
        revision: told.revision ?? null,
      });
    } finally {
      this.underWay.delete(id);
    }
  }

  private answered(id: string): void {
    this.lost.delete(id);
    // Not waited for: a page that is left between the answer and the revision that it gave would take its own save for
    // somebody else's.
    void this.drafts.dropSent(this.kind, id);
  }

  private failureOf(id: string, { kind }: ApiError): 'away' | 'stale' | 'refused' {
    if (kind === 'away' || kind === 'stale') return kind;
    if (kind !== 'failed') return 'refused';
    const faults = (this.faults.get(id) ?? 0) + 1;
    this.faults.set(id, faults % MOST_FAULTS);
    return faults < MOST_FAULTS ? 'away' : 'refused';
  }
}
