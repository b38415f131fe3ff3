import { Injectable } from '@angular/core';
import * as z from 'zod';
import { readSetUp, type SetUp } from '@rondo/core/profile';
import { readAs, type AnyDocument, type Documents, type Kind } from './kinds';

const summarySchema = z.object({
  id: z.string(),
  name: z.string(),
  revision: z.number(),
  updatedAt: z.string(),
  /** What a profile is made of. */
  holds: z
    .object({
      surfaces: z.array(z.string()),
      hosts: z.array(z.string()),
      bindings: z.number(),
      layers: z.number(),
      version: z.number(),
    })
    .optional(),
});
export type Summary = z.infer<typeof summarySchema>;
const listSchema = z.object({ documents: z.array(summarySchema) });
const openedSchema = z.object({
  revision: z.number(),
  updatedAt: z.string(),
  document: z.unknown(),
});
const savedSchema = z.object({ revision: z.number() });
const problemSchema = z.object({
  title: z.string(),
  detail: z.string(),
  revision: z.number().optional(),
  faults: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
});

/** What an import did with a document, or would do. */
const importedSchema = z.object({
  documents: z.array(
    z.object({
      id: z.string(),
      kind: z.enum(['profile', 'surface', 'host']),
      name: z.string(),
      did: z.enum(['new', 'replaced', 'same', 'refused']),
      revision: z.number().optional(),
      /** The name of the one that is here under its id and differs, and whether that cannot be read here. */
      mine: z.string().optional(),
      isNewer: z.boolean().optional(),
      /** What it uses and is neither in the file nor here. */
      missing: z.array(z.string()).optional(),
      /** The revision that it took the place of. */
      replaced: z.number().optional(),
    }),
  ),
});
const leftOutSchema = z.array(
  z.object({ kind: z.enum(['profile', 'surface', 'host']), name: z.string() }),
);
type Named = z.infer<typeof leftOutSchema>[number];
/** A file, and what had to be left out of it. */
export interface Exported {
  readonly file: unknown;
  readonly leftOut: readonly Named[];
}
export type Imported = z.infer<typeof importedSchema>['documents'][number];
const binSchema = z.object({
  documents: z.array(
    z.object({
      kind: z.enum(['profile', 'surface', 'host', 'setup']),
      id: z.string(),
      name: z.string(),
      deletedAt: z.string(),
    }),
  ),
});
export type Binned = z.infer<typeof binSchema>['documents'][number];
const networkSchema = z.object({
  on: z.boolean(),
  address: z.string().nullable(),
  addresses: z.array(z.string()),
});
const glassSchema = z.object({
  isOpen: z.boolean(),
  fault: z.string(),
  port: z.number(),
  codes: z.array(z.string()),
  devices: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      surface: z.string(),
      pairedAt: z.string(),
      isHere: z.boolean(),
    }),
  ),
});
export type GlassStanding = z.infer<typeof glassSchema>;
const glassCodeSchema = z.object({ code: z.string(), id: z.string(), seconds: z.number() });
export type GlassCode = z.infer<typeof glassCodeSchema>;
const keysSchema = z.object({
  on: z.boolean(),
  token: z.string(),
  adapter: z.string(),
  front: z.string().nullable(),
});
export type KeysStanding = z.infer<typeof keysSchema>;
export type NetworkStanding = z.infer<typeof networkSchema>;
const backupSchema = z.object({ name: z.string(), at: z.string() });
export type Backup = z.infer<typeof backupSchema>;
const versionsSchema = z.object({
  versions: z.array(
    z.object({ revision: z.number(), savedAt: z.string(), label: z.string().nullable() }),
  ),
});
export type Version = z.infer<typeof versionsSchema>['versions'][number];

export interface Opened<K extends Kind> {
  readonly revision: number;
  readonly document: Documents[K];
}

/** How long an answer is waited for, ms: a request that hangs never blocks the next. */
const PATIENCE_MS = 15_000;

/** What went wrong with a request: `away` where the server did not answer at all, `failed` where it has a fault itself. */
export class ApiError extends Error {
  constructor(
    readonly kind: 'away' | 'failed' | 'stale' | 'missing' | 'refused',
    message: string,
    /** Newest revision on the server, where the save was stale. */
    readonly revision?: number,
  ) {
    super(message);
  }
}

/** Ids of the newest requests of this window. */
const requests = new Set<string>();
const MOST_REQUESTS = 1_000;
function own(request: string): string {
  requests.add(request);
  for (const oldest of requests) {
    if (requests.size <= MOST_REQUESTS) break;
    requests.delete(oldest);
  }
  return request;
}

/** A name of this browser by chance, the same in all its windows; of this window alone where nothing can be kept. */
function browser(): string {
  try {
    const kept = localStorage.getItem(BROWSER);
    if (kept !== null) return kept;
    localStorage.setItem(BROWSER, nameless);
  } catch {
    // Storage is blocked here.
  }
  return nameless;
}
const BROWSER = 'rondo.browser';
const nameless = crypto.randomUUID();

/** @param request the request's own id, where it changes something: asked again by it, the server does nothing twice */
async function call(
  method: string,
  path: string,
  request?: string,
  body?: unknown,
  heard: (headers: Headers) => void = () => undefined,
): Promise<unknown> {
  let answer: Response;
  let content: unknown;
  try {
    answer = await fetch(`/api/${path}`, {
      method,
      headers: {
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...(request === undefined ? {} : { 'Idempotency-Key': own(request) }),
        ...(method === 'GET' ? {} : { 'Rondo-Browser': browser() }),
      },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    content = answer.status === 204 ? null : await answer.json();
  } catch {
    // Nothing came, or half of it, or no JSON: it may be done and may be not.
    throw new ApiError('away', 'The server does not answer.');
  }
  if (answer.ok) {
    heard(answer.headers);
    return content;
  }
  const problem = problemSchema.safeParse(content);
  // Anything that does not speak as our server does is not our server.
  if (!problem.success) throw new ApiError('away', 'The server does not answer as it should.');
  const { title, detail, revision, faults } = problem.data;
  if (answer.status >= 500) throw new ApiError('failed', `${title}. ${detail}`);
  const where = (faults ?? []).map((fault) => ` ${fault.path}: ${fault.message}.`).join('');
  const kind =
    answer.status === 404 ? 'missing' : answer.status === 409 && revision ? 'stale' : 'refused';
  throw new ApiError(kind, `${title}. ${detail}${where}`, revision);
}

/** Asks once more where the answer was lost, by the same id. */
async function change(method: string, path: string, body?: unknown): Promise<unknown> {
  const request = freshRequest();
  try {
    return await call(method, path, request, body);
  } catch (error) {
    if (!(error instanceof ApiError) || error.kind !== 'away') throw error;
    return call(method, path, request, body);
  }
}

/** An id for a request. */
export const freshRequest = (): string => crypto.randomUUID();

/** An id for a new document. */
export const freshId = (kind: Kind): string => `${kind.charAt(0)}-${crypto.randomUUID()}`;

/** What the server keeps: what is edited here, and set-ups. */
export type StoredKind = Kind | 'setup';

const pathOf = (kind: StoredKind, id: string): string => `${kind}s/${encodeURIComponent(id)}`;

/** Documents on the server. Every call throws {@link ApiError} where it fails. */
@Injectable({ providedIn: 'root' })
export class Api {
  /** How this browser names itself. */
  get browser(): string {
    return browser();
  }

  /** Whether this window has made a request. */
  isOwn(request: string | null): boolean {
    return request !== null && requests.has(request);
  }

  async list(kind: Kind): Promise<Summary[]> {
    return listSchema.parse(await call('GET', `${kind}s`)).documents;
  }

  async open<K extends Kind>(kind: K, id: string): Promise<Opened<K>> {
    const { revision, document } = openedSchema.parse(await call('GET', pathOf(kind, id)));
    const result = readAs(kind, document);
    if (!result.ok)
      throw new ApiError(
        'refused',
        result.faults.map((fault) => `${fault.path}: ${fault.message}`).join('; '),
      );
    return { revision, document: result.document };
  }

  /** A document as it was at an earlier revision. */
  async openVersion<K extends Kind>(kind: K, id: string, revision: number): Promise<Documents[K]> {
    const path = `${pathOf(kind, id)}?revision=${revision}`;
    const result = readAs(kind, openedSchema.parse(await call('GET', path)).document);
    if (!result.ok) throw new ApiError('refused', 'This version cannot be read any more.');
    return result.document;
  }

  async versions(kind: Kind, id: string): Promise<Version[]> {
    return versionsSchema.parse(await call('GET', `${pathOf(kind, id)}/versions`)).versions;
  }

  /** Calls a version by a name, or by none. */
  async callVersion(kind: Kind, id: string, revision: number, label: string | null): Promise<void> {
    await change('PUT', `${pathOf(kind, id)}/versions/${revision}`, { label });
  }

  /** Rondo’s file, parsed: of one profile with all that it uses, or of everything. What could not be read is not in it. */
  async exported(id?: string): Promise<Exported> {
    let leftOut: readonly Named[] = [];
    const path = id === undefined ? 'files' : `files?profile=${encodeURIComponent(id)}`;
    const file = await call('GET', path, undefined, undefined, (headers) => {
      const said = headers.get('Rondo-Left-Out');
      if (said !== null) leftOut = leftOutSchema.parse(JSON.parse(decodeURIComponent(said)));
    });
    return { file, leftOut };
  }

  /** Takes a file in, whole or not at all; `dry` only says what would be done. */
  async import(file: unknown, as: 'new' | 'replace' | null, dry: boolean): Promise<Imported[]> {
    const query = [...(as ? [`as=${as}`] : []), ...(dry ? ['dry=yes'] : [])].join('&');
    const answer = await change('POST', `files?${query}`, file);
    return importedSchema.parse(answer).documents;
  }

  /** Takes back what reading a file did, whole or not at all. */
  async takeBack(documents: readonly Imported[]): Promise<void> {
    const read = documents.map(({ id, kind, did, revision, replaced }) => ({
      id,
      kind,
      did,
      revision,
      replaced,
    }));
    await change('POST', 'files/back', { documents: read });
  }

  /** What was deleted and can be brought back. */
  async bin(): Promise<Binned[]> {
    return binSchema.parse(await call('GET', 'bin')).documents;
  }

  async purge(kind: StoredKind, id: string): Promise<void> {
    await change('DELETE', `bin/${kind}/${encodeURIComponent(id)}`);
  }

  /** The set-ups that there are, the one that was changed last first; `ids` has those that a newer Rondo has made, too. */
  async setUps(): Promise<{ readonly all: readonly SetUp[]; readonly ids: readonly string[] }> {
    const { documents } = listSchema.parse(await call('GET', 'setups'));
    const opened = await Promise.all(documents.map(({ id }) => call('GET', pathOf('setup', id))));
    const all = opened.flatMap((one) => {
      const read = readSetUp(openedSchema.parse(one).document);
      // What a newer Rondo has made is left alone.
      return read.ok ? [read.document] : [];
    });
    return { all, ids: documents.map(({ id }) => id) };
  }

  async addSetUp(setUp: SetUp): Promise<void> {
    await change('POST', 'setups', { document: setUp });
  }

  /** Takes a set-up over another of the same id. */
  async changeSetUp(setUp: SetUp): Promise<void> {
    const { revision } = openedSchema.parse(await call('GET', pathOf('setup', setUp.id)));
    await change('PUT', pathOf('setup', setUp.id), { revision, document: setUp });
  }

  async removeSetUp(id: string): Promise<void> {
    await change('DELETE', pathOf('setup', id));
  }

  /** Whether other devices may speak OSC with Rondo, and how this machine is called there. */
  async network(): Promise<NetworkStanding> {
    return networkSchema.parse(await call('GET', 'network'));
  }

  /** @param address of this machine at which glasses come in; null for all */
  async setNetwork(on: boolean, address: string | null): Promise<NetworkStanding> {
    return networkSchema.parse(await call('PUT', 'network', undefined, { on, address }));
  }

  /** How things stand with the keys of this computer. */
  async keys(): Promise<KeysStanding> {
    return keysSchema.parse(await call('GET', 'keys'));
  }

  async setKeys(on: boolean): Promise<KeysStanding> {
    return keysSchema.parse(await call('PUT', 'keys', undefined, { on }));
  }

  /** Devices that may show a surface on glass. */
  async glass(): Promise<GlassStanding> {
    return glassSchema.parse(await call('GET', 'glass'));
  }

  /** A code that lets one device in to a surface. */
  async glassCode(surface: string): Promise<GlassCode> {
    return glassCodeSchema.parse(await call('POST', 'glass/codes', undefined, { surface }));
  }

  /** Sends a device away. */
  async sendGlassAway(id: string): Promise<void> {
    await call('DELETE', `glass/devices/${id}`);
  }

  /** The backups that there are, the newest first. */
  async backups(): Promise<Backup[]> {
    return z.object({ backups: z.array(backupSchema) }).parse(await call('GET', 'backups')).backups;
  }

  async backUp(): Promise<void> {
    await change('POST', 'backups');
  }

  /** Puts a backup in the place of all that there is now; that is kept beside it. */
  async restoreBackup(name: string): Promise<void> {
    await call('POST', `backups/${encodeURIComponent(name)}/restore`);
  }

  async create(kind: Kind, document: AnyDocument): Promise<void> {
    await change('POST', `${kind}s`, { document });
  }

  /** @param request the save's own id: the same again is done once */
  async save(
    kind: Kind,
    document: AnyDocument,
    revision: number,
    request = freshRequest(),
  ): Promise<number> {
    const path = pathOf(kind, document.id);
    return savedSchema.parse(await call('PUT', path, request, { revision, document })).revision;
  }

  async remove(kind: Kind, id: string): Promise<void> {
    await change('DELETE', pathOf(kind, id));
  }

  async restore(kind: StoredKind, id: string): Promise<void> {
    await change('POST', `${pathOf(kind, id)}/restore`);
  }
}

/** What a failed request has to say. */
export const words = (error: unknown): string =>
  error instanceof ApiError ? error.message : 'Rondo could not read the server’s answer.';
