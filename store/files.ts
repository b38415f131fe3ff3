import type { Knex } from 'knex';
import { randomUUID } from 'node:crypto';
import { dequal } from 'dequal';
import { documentsOf, fileOf, type FileKind, type RondoFile } from '@rondo/core/formats';
import { HOST_MODELS, HOST_VERSION, readMessageHost, type MessageHost } from '@rondo/core/host';
import { PROFILE_VERSION, idsOf, readProfile, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, SURFACE_VERSION, readSurface, type Surface } from '@rondo/core/surface';
import { DocumentStore, profilesWith } from './documents.js';

/** What becomes of a document whose id is taken by another one: it gets an id of its own, or takes the place. */
export type Clash = 'new' | 'replace';

/** What an import did with a document, or would do. */
export interface Imported {
  readonly id: string;
  readonly kind: FileKind;
  readonly name: string;
  readonly did: 'new' | 'replaced' | 'same' | 'refused';
  /** The id that it had in the file, where it got another. */
  readonly was?: string;
  /** Its revision since, where something was done. */
  readonly revision?: number;
}

const READ = { profile: readProfile, surface: readSurface, host: readMessageHost } as const;

/** All documents of a kind, as they are now; what cannot be read any more is left out. */
async function allOf<T>(db: Knex, kind: FileKind): Promise<T[]> {
  const store = new DocumentStore(db, kind);
  const found: T[] = [];
  for (const { id } of await store.list()) {
    const document = await documentOf(store, id);
    if (document) found.push(document as T);
  }
  return found;
}

const VERSIONS = {
  profile: PROFILE_VERSION,
  surface: SURFACE_VERSION,
  host: HOST_VERSION,
} as const;

/** Documents of a kind that a newer Rondo has made: they are kept, and read by nobody here. */
async function newerOf(db: Knex, kind: FileKind): Promise<unknown[]> {
  const store = new DocumentStore(db, kind);
  const found: unknown[] = [];
  for (const { id } of await store.list()) {
    const stored = await store.get(id);
    const raw = JSON.parse(stored?.body ?? 'null') as { version?: unknown } | null;
    if (typeof raw?.version === 'number' && raw.version > VERSIONS[kind]) found.push(raw);
  }
  return found;
}

async function documentOf(
  store: DocumentStore,
  id: string,
): Promise<Profile | Surface | MessageHost | null> {
  const stored = await store.get(id);
  if (!stored) return null;
  const read = READ[store.kind as FileKind](JSON.parse(stored.body));
  return read.ok ? read.document : null;
}

/**
 * Profiles with all of one's own that they use, as one file.
 * @param ids of profiles; all of them, and all surfaces and hosts of one's own, unless said
 * @throws MissingError where a profile is not there
 */
export async function exportFile(db: Knex, ids?: readonly string[]): Promise<RondoFile> {
  const surfaces = await allOf<Surface>(db, 'surface');
  const hosts = await allOf<MessageHost>(db, 'host');
  const shelf = {
    surface: (id: string) => surfaces.find((one) => one.id === id),
    host: (id: string) => hosts.find((one) => one.id === id),
  };
  if (!ids) {
    const file = fileOf(await allOf<Profile>(db, 'profile'), shelf, { surfaces, hosts });
    // What a newer Rondo has made goes out as it came.
    const newer = async <T>(kind: FileKind) => (await newerOf(db, kind)) as T[];
    return {
      ...file,
      profiles: [...file.profiles, ...(await newer<Profile>('profile'))],
      surfaces: [...file.surfaces, ...(await newer<Surface>('surface'))],
      hosts: [...file.hosts, ...(await newer<MessageHost>('host'))],
    };
  }
  const store = new DocumentStore(db, 'profile');
  const profiles: Profile[] = [];
  for (const id of ids) {
    const found = await documentOf(store, id);
    if (!found) throw new MissingError(`There is no profile “${id}”.`);
    profiles.push(found as Profile);
  }
  return fileOf(profiles, shelf);
}

/** Something that was asked for is not there. */
export class MissingError extends Error {}

const isStock = (kind: FileKind, id: string): boolean =>
  (kind === 'surface' && STOCK_SURFACES.has(id)) || (kind === 'host' && HOST_MODELS.has(id));

/** What would be done with each document: nothing is changed. */
async function plan(db: Knex, file: RondoFile, clash: Clash | undefined): Promise<Imported[]> {
  const done: Imported[] = [];
  for (const { kind, document } of documentsOf(file)) {
    const { id, name } = document;
    const here = await documentOf(new DocumentStore(db, kind), id);
    const did =
      !here && !isStock(kind, id)
        ? 'new'
        : here && dequal(here, document)
          ? 'same'
          : isStock(kind, id)
            ? clash === 'new'
              ? 'new'
              : 'refused'
            : clash === 'new'
              ? 'new'
              : clash === 'replace'
                ? 'replaced'
                : 'refused';
    const isTaken = did === 'new' && (here !== null || isStock(kind, id));
    const other = isTaken ? `${kind.charAt(0)}-${randomUUID()}` : id;
    done.push({ id: other, kind, name, did, ...(isTaken ? { was: id } : {}) });
  }
  // Where one is refused all are: half a file would be another one.
  const isRefused = done.some(({ did }) => did === 'refused');
  return isRefused
    ? done.map(({ was, ...one }) => ({
        ...one,
        id: was ?? one.id,
        did: one.did === 'same' ? 'same' : 'refused',
      }))
    : done;
}

/** A document under the ids that it, and what it uses, have got. */
function moved(
  kind: FileKind,
  document: Profile | Surface | MessageHost,
  id: string,
  ids: { readonly surface: Map<string, string>; readonly host: Map<string, string> },
): Profile | Surface | MessageHost {
  if (kind !== 'profile') return { ...document, id } as Surface | MessageHost;
  const profile = document as Profile;
  const used = idsOf(profile);
  const isMoved =
    used.surfaces.some((one) => ids.surface.has(one)) ||
    used.hosts.some((one) => ids.host.has(one));
  if (!isMoved) return { ...profile, id };
  const entries = <T extends { model: string }>(
    family: Record<string, T>,
    map: Map<string, string>,
  ) =>
    Object.fromEntries(
      Object.entries(family).map(([key, one]) => [
        key,
        { ...one, model: renamed(one.model, map, ids.surface) },
      ]),
    );
  return {
    ...profile,
    id,
    surfaces: entries(profile.surfaces, ids.surface),
    hosts: entries(profile.hosts, ids.host),
  };
}

/** The model of a host may be named by the surfaces that its program expects: `as:one+another`. */
function renamed(model: string, map: Map<string, string>, surfaces: Map<string, string>): string {
  if (!model.startsWith('as:')) return map.get(model) ?? model;
  return `as:${model
    .slice(3)
    .split('+')
    .map((id) => surfaces.get(id) ?? id)
    .join('+')}`;
}

/**
 * Takes a file in, whole or not at all, in one transaction.
 * @param clash what becomes of documents whose id another one has; where it is not said, those are refused
 * @param isDry says what would be done, and does nothing
 */
export async function importFile(
  db: Knex,
  file: RondoFile,
  clash?: Clash,
  isDry = false,
): Promise<Imported[]> {
  return db.transaction(async (tx) => {
    const done = await plan(tx, file, clash);
    if (isDry || done.some(({ did }) => did === 'refused')) return done;
    const ids = { surface: new Map<string, string>(), host: new Map<string, string>() };
    for (const { kind, id, was } of done)
      if (was !== undefined && kind !== 'profile') ids[kind].set(was, id);
    const documents = [...documentsOf(file)];
    const taken: Imported[] = [];
    for (const [at, one] of done.entries()) {
      const { kind, id, name, did } = one;
      if (did === 'same') {
        taken.push(one);
        continue;
      }
      const store = new DocumentStore(tx, kind);
      const body = JSON.stringify(moved(kind, documents[at].document, id, ids));
      taken.push({ ...one, revision: await store.put(id, name, body) });
    }
    return taken;
  });
}

/** Something of an import has been changed since, so that it is not taken back. */
export class ChangedError extends Error {}

/**
 * Takes an import back, whole or not at all: what was new goes to the bin, what was replaced is again what it was.
 * @throws ChangedError where something of it has been changed since, or is used by what did not come with it
 */
export async function takeBack(
  db: Knex,
  imported: readonly Pick<Imported, 'id' | 'kind' | 'did' | 'revision'>[],
): Promise<void> {
  await db.transaction(async (tx) => {
    // What uses others goes first.
    for (const { kind, id, did, revision } of [...imported].reverse()) {
      if (revision === undefined || (did !== 'new' && did !== 'replaced')) continue;
      const store = new DocumentStore(tx, kind);
      const now = await store.get(id);
      // What was new and is gone already is as it was.
      if (!now && did === 'new') continue;
      if (now?.revision !== revision)
        throw new ChangedError(`“${now?.name ?? id}” has been changed since it was read.`);
      if (did === 'new') {
        const users = kind === 'profile' ? [] : await profilesWith(tx, kind, id);
        if (users.length > 0)
          throw new ChangedError(`“${now.name}” is used by “${users[0]}” by now.`);
        await store.remove(id);
        continue;
      }
      const before = (await store.versions(id)).find((one) => one.revision < revision);
      const old = before && (await store.get(id, before.revision));
      if (!old) throw new ChangedError(`What “${now.name}” was before is not kept any more.`);
      const { name } = JSON.parse(old.body) as { name: string };
      await store.put(id, name, old.body);
    }
  });
}
