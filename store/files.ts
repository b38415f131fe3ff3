import type { Knex } from 'knex';
import { randomUUID } from 'node:crypto';
import { dequal } from 'dequal';
import { documentsOf, fileOf, type FileKind, type RondoFile } from '@rondo/core/formats';
import { HOST_MODELS, readMessageHost, type MessageHost } from '@rondo/core/host';
import { idsOf, readProfile, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, readSurface, type Surface } from '@rondo/core/surface';
import { DocumentStore, profilesWith } from './documents.js';
import { inTransaction } from './transaction.js';

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
  /** The name of the one that is here under its id, where that is not the same. */
  readonly mine?: string;
  /** The one that is here cannot be read: a newer Rondo has made it. */
  readonly isNewer?: boolean;
  /** Surfaces and hosts that it uses and that are neither in the file nor here. */
  readonly missing?: readonly string[];
  /** The revision that it took the place of. */
  readonly replaced?: number;
  /** Its revision since, where something was done. */
  readonly revision?: number;
}

const READ = { profile: readProfile, surface: readSurface, host: readMessageHost } as const;

/** A document that is here as it is stored: its name, and what it says where that can be read. */
interface Here {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly document: Profile | Surface | MessageHost | null;
}

async function hereOf(store: DocumentStore, id: string): Promise<Here | null> {
  const stored = await store.get(id);
  if (!stored) return null;
  const read = READ[store.kind as FileKind](JSON.parse(stored.body));
  const { name, revision } = stored;
  return { id, name, revision, document: read.ok ? read.document : null };
}

async function allOf(db: Knex, kind: FileKind): Promise<Here[]> {
  const store = new DocumentStore(db, kind);
  const found: Here[] = [];
  for (const { id } of await store.list()) {
    const here = await hereOf(store, id);
    if (here) found.push(here);
  }
  return found;
}

/** What an export had to leave out, since it cannot be read here. */
export interface LeftOut {
  readonly kind: FileKind;
  readonly id: string;
  readonly name: string;
}

export interface Exported {
  readonly file: RondoFile;
  readonly leftOut: readonly LeftOut[];
}

/**
 * Profiles with all of one's own that they use, as one file.
 * @param ids of profiles; all of them, and all surfaces and hosts of one's own, unless said. What cannot be read, as a
 *   newer Rondo has made it, is left out then, and told
 * @throws MissingError where a profile is not there
 */
export async function exportFile(db: Knex, ids?: readonly string[]): Promise<Exported> {
  const leftOut: LeftOut[] = [];
  const readable = async <T>(kind: FileKind): Promise<T[]> =>
    (await allOf(db, kind)).flatMap(({ id, name, document }) => {
      if (!document) leftOut.push({ kind, id, name });
      return document ? [document as T] : [];
    });
  const surfaces = await readable<Surface>('surface');
  const hosts = await readable<MessageHost>('host');
  const shelf = {
    surface: (id: string) => surfaces.find((one) => one.id === id),
    host: (id: string) => hosts.find((one) => one.id === id),
  };
  if (!ids) {
    const profiles = await readable<Profile>('profile');
    return { file: fileOf(profiles, shelf, { surfaces, hosts }), leftOut };
  }
  const store = new DocumentStore(db, 'profile');
  const profiles: Profile[] = [];
  for (const id of ids) {
    const found = await hereOf(store, id);
    if (!found) throw new MissingError(`There is no profile “${id}”.`);
    if (!found.document)
      throw new MissingError(
        `“${found.name}” was made by a newer Rondo and cannot be read here. Update Rondo to pass it on.`,
      );
    profiles.push(found.document as Profile);
  }
  const file = fileOf(profiles, shelf);
  const used = new Set(profiles.flatMap((profile) => Object.values(idsOf(profile)).flat()));
  return { file, leftOut: leftOut.filter(({ id }) => used.has(id)) };
}

/** Something that was asked for is not there. */
export class MissingError extends Error {}

const isStock = (kind: FileKind, id: string): boolean =>
  (kind === 'surface' && STOCK_SURFACES.has(id)) || (kind === 'host' && HOST_MODELS.has(id));

/** Ids that surfaces and hosts of a file have got in place of their own. */
interface Ids {
  readonly surface: Map<string, string>;
  readonly host: Map<string, string>;
}

/** What would be done with each document: nothing is changed. */
async function plan(db: Knex, file: RondoFile, clash: Clash | undefined): Promise<Imported[]> {
  const done: Imported[] = [];
  const ids: Ids = { surface: new Map(), host: new Map() };
  const inFile = new Set(
    [...documentsOf(file)].map(({ kind, document }) => `${kind} ${document.id}`),
  );
  const isKnown = async (kind: 'surface' | 'host', id: string) =>
    inFile.has(`${kind} ${id}`) ||
    isStock(kind, id) ||
    (await new DocumentStore(db, kind).get(id)) !== null;
  const missingIn = async (profile: Profile): Promise<string[]> => {
    const used = idsOf(profile);
    const missing: string[] = [];
    for (const id of used.surfaces) if (!(await isKnown('surface', id))) missing.push(id);
    for (const id of used.hosts) if (!(await isKnown('host', id))) missing.push(id);
    return missing;
  };
  for (const { kind, document } of documentsOf(file)) {
    const { id, name } = document;
    const missing = kind === 'profile' ? await missingIn(document as Profile) : [];
    const about = { kind, name, ...(missing.length > 0 && { missing }) };
    const here = await hereOf(new DocumentStore(db, kind), id);
    if (here?.document && dequal(here.document, moved(kind, document, id, ids))) {
      done.push({ ...about, id, did: 'same' });
      continue;
    }
    const stock = isStock(kind, id);
    if (!here && !stock) {
      done.push({ ...about, id, did: 'new' });
      continue;
    }
    const mine = { mine: here?.name ?? name, ...(here && !here.document && { isNewer: true }) };
    if (clash !== 'new') {
      const did = clash === 'replace' && !stock ? 'replaced' : 'refused';
      done.push({ ...about, ...mine, id, did });
      continue;
    }
    // The same file once more: what it made the first time is here already, under the id that it got then.
    const copy = (await allOf(db, kind)).find(
      (other) => other.document && dequal(other.document, moved(kind, document, other.id, ids)),
    );
    const given = copy?.id ?? `${kind.charAt(0)}-${randomUUID()}`;
    if (kind !== 'profile') ids[kind].set(id, given);
    done.push({ ...about, ...mine, id: given, was: id, did: copy ? 'same' : 'new' });
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
  ids: Ids,
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
  return inTransaction(db, async (tx) => {
    const done = await plan(tx, file, clash);
    if (isDry || done.some(({ did }) => did === 'refused')) return done;
    const ids: Ids = { surface: new Map(), host: new Map() };
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
      const replaced = did === 'replaced' ? (await store.get(id))?.revision : undefined;
      // What has a name is kept for good: so it can be taken back however long it takes.
      if (replaced !== undefined) await store.callUnnamed(id, replaced, BEFORE_IMPORT);
      taken.push({
        ...one,
        ...(replaced !== undefined && { replaced }),
        revision: await store.put(id, name, body),
      });
    }
    return taken;
  });
}

/** What a version is called that an import took the place of. */
const BEFORE_IMPORT = 'Before it was replaced by an import';

/** Something of an import has been changed since, so that it is not taken back. */
export class ChangedError extends Error {}

/**
 * Takes an import back, whole or not at all: what was new goes to the bin, what was replaced is again what it was.
 * @throws ChangedError where something of it has been changed since, or is used by what did not come with it
 */
export async function takeBack(
  db: Knex,
  imported: readonly Pick<Imported, 'id' | 'kind' | 'did' | 'revision' | 'replaced'>[],
): Promise<void> {
  await inTransaction(db, async (tx) => {
    // What uses others goes first.
    for (const { kind, id, did, revision, replaced } of [...imported].reverse()) {
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
      const old = replaced === undefined ? null : await store.get(id, replaced);
      if (!old) throw new ChangedError(`What “${now.name}” was before is not kept any more.`);
      const { name } = JSON.parse(old.body) as { name: string };
      await store.put(id, name, old.body);
    }
  });
}
