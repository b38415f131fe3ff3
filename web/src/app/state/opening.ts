import { isSameJson } from '@rondo/core/document';
import { documentActions, type Among } from './actions';
import { ApiError, words, type Api } from './api';
import type { Drafts } from './drafts';
import { readAs, type AnyDocument, type Kind } from './kinds';
import type { Steps } from './steps';
import type { Standing, Windows } from './windows';

/** Opens a document here, from the window that leads in it where another one does. */
export async function joined(
  windows: Windows,
  api: Api,
  drafts: Drafts,
  steps: Steps,
  kind: Kind,
  id: string,
): ReturnType<typeof opened> {
  const leads = await windows.join(kind, id);
  const state = leads ? null : await windows.ask(kind, id);
  const read = state && readAs(kind, state.document);
  const action = read?.ok
    ? asTold(kind, read.document, state!.standing)
    : await opened(api, drafts, kind, id, false);
  if (action.type !== documentActions.opened.type) return action;
  const kept = await steps.read(kind, id, leads || windows.leads(kind, id));
  // Whoever led, a window or what sends drafts, may have ended meanwhile: asked last, since nobody says it twice.
  const leadsNow = leads || windows.leads(kind, id);
  const among: Among = { me: windows.id, leads: leadsNow, seen: state?.seen ?? {} };
  return { ...action, among, steps: kept };
}

/** A document as the window that leads has told it. */
const asTold = (kind: Kind, document: AnyDocument, { save, revision, staleAt }: Standing) =>
  documentActions.opened({ kind, document, revision, unsaved: save !== 'saved', staleAt });

/** Opens a document as the server has it, with what this browser has kept of it. */
export async function opened(
  api: Api,
  drafts: Drafts,
  kind: Kind,
  id: string,
  asTheServerHasIt: boolean,
): Promise<ReturnType<typeof documentActions.opened | typeof documentActions.openFailed>> {
  if (asTheServerHasIt) await drafts.drop(kind, id);
  const draft = await drafts.read(kind, id);
  try {
    const saved = await askAgain(api, drafts, kind, id);
    const { document, revision } = await api.open(kind, id);
    // What is the same as the server has it was saved as the page was left.
    if (!draft || isSameJson(draft.document, document))
      return documentActions.opened({ kind, document, revision, unsaved: false, staleAt: null });
    // A save that was not answered has been done: what the draft builds on is its own.
    const builtOn = saved?.base === draft.revision ? saved.revision : draft.revision;
    return documentActions.opened({
      kind,
      document: draft.document,
      revision: builtOn,
      unsaved: true,
      staleAt: builtOn === revision ? null : revision,
    });
  } catch (error) {
    return draft && error instanceof ApiError && (error.kind === 'away' || error.kind === 'failed')
      ? documentActions.opened({ kind, ...draft, unsaved: true, staleAt: null })
      : documentActions.openFailed({ kind, message: words(error) });
  }
}

/** Asks again for the answer to a save that was never answered; null where there is none, or it was refused. */
export async function askAgain(
  api: Api,
  drafts: Drafts,
  kind: Kind,
  id: string,
): Promise<{ base: number; revision: number } | null> {
  const sent = await drafts.sent(kind, id);
  if (!sent) return null;
  try {
    const revision = await api.save(kind, sent.document, sent.revision, sent.request);
    await drafts.dropSent(kind, id);
    return { base: sent.revision, revision };
  } catch (error) {
    if (!(error instanceof ApiError) || error.kind === 'away') throw error;
    await drafts.dropSent(kind, id);
    return null;
  }
}
