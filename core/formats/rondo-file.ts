import stringify from 'safe-stable-stringify';
import * as z from 'zod';
import { faultsOf, pathWords, type Fault } from '@rondo/core/document';
import { HOST_FORMAT, readMessageHost, type MessageHost } from '@rondo/core/host';
import { PROFILE_FORMAT, idsOf, readProfile, type Profile } from '@rondo/core/profile';
import {
  SURFACE_FORMAT,
  paletteColourSchema,
  readSurface,
  type PaletteColour,
  type Surface,
} from '@rondo/core/surface';
import { syntaxFault, withPlaces } from './json-text.js';
import { putOrdersRight } from './put-right.js';

const FILE_FORMAT = 'rondo-file';
const FILE_VERSION = 1;
/** As large as a file may be, bytes; looked at before it is read. */
export const LARGEST_FILE = 64 << 20;
/** Levels of its JSON: deeper ones are no documents, and would exhaust what reads them. */
export const DEEPEST = 64;

/** Kinds of documents in a file, in the order in which one needs the other. */
export const FILE_KINDS = ['surface', 'host', 'profile'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** The colours of one device by themselves, for another one that has the same. */
export interface Palette {
  readonly name: string;
  readonly colours: readonly PaletteColour[];
}

/** Everything that is needed to go on elsewhere; or one surface, host, palette or layer by itself. */
export interface RondoFile {
  readonly format: typeof FILE_FORMAT;
  readonly version: typeof FILE_VERSION;
  /** Who made it, and what there is to say about it. */
  readonly author?: string;
  readonly notes?: string;
  readonly profiles: readonly Profile[];
  readonly surfaces: readonly Surface[];
  readonly hosts: readonly MessageHost[];
  /** By themselves, to be taken into a surface. */
  readonly palettes?: readonly Palette[];
  /** By themselves, each as a profile that has nothing else above its lowest layer: to be taken into a profile. */
  readonly layers?: readonly Profile[];
}

const paletteSchema = z.looseObject({
  name: z.string().min(1).max(80),
  colours: z.array(paletteColourSchema).max(20_000),
});

export const fileSchema = z.looseObject({
  format: z.literal(FILE_FORMAT),
  version: z.literal(FILE_VERSION),
  author: z.string().max(200).optional(),
  notes: z.string().max(4_000).optional(),
  profiles: z.array(z.unknown()).max(1_000).default([]),
  surfaces: z.array(z.unknown()).max(2_000).default([]),
  hosts: z.array(z.unknown()).max(2_000).default([]),
  palettes: z.array(paletteSchema).max(200).optional(),
  layers: z.array(z.unknown()).max(200).optional(),
});

export type FileRead =
  /** `putRight` says what was mended in it as it was read. */
  | { readonly ok: true; readonly file: RondoFile; readonly putRight: readonly Fault[] }
  | { readonly ok: false; readonly faults: readonly Fault[] };

/** @param field whose fault it is; none for the whole file's */
const refused = (message: string, field?: string): FileRead => ({
  ok: false,
  faults: [{ path: field ?? '(whole file)', at: field === undefined ? [] : [field], message }],
});

/** Whether a JSON value is nested no deeper than so many levels; level by level, since deep ones would exhaust the stack. */
export function isFlat(value: unknown, levels: number = DEEPEST): boolean {
  let level = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > levels) return false;
    level = level.flatMap((one) =>
      typeof one === 'object' && one !== null ? Object.values(one as object) : [],
    );
  }
  return true;
}

/**
 * Reads a file from text: Rondo's own, or a single profile, surface or host as JSON. Taken whole or refused whole, with
 * the path of each fault. Older versions are brought forward; fields that this version does not know are kept.
 */
export function readFileText(text: string): FileRead {
  if (text.length > LARGEST_FILE) return refused('is larger than 64 MB; no file of Rondo’s is.');
  const plain = text.replace(/^\uFEFF/, '');
  let value: unknown;
  try {
    value = JSON.parse(plain);
  } catch {
    return { ok: false, faults: [syntaxFault(plain)] };
  }
  const read = readFileValue(value);
  return read.ok ? read : { ok: false, faults: withPlaces(read.faults, plain) };
}

/** Reads a file that is parsed already, as {@link readFileText} does. */
export function readFileValue(value: unknown): FileRead {
  if (!isFlat(value)) return refused(`is nested more than ${DEEPEST} levels deep.`);
  const fields = (typeof value === 'object' && value !== null ? value : {}) as Record<
    string,
    unknown
  >;
  switch (fields['format']) {
    case PROFILE_FORMAT:
      return readWhole({ ...EMPTY, profiles: [value] }, true);
    case SURFACE_FORMAT:
      return readWhole({ ...EMPTY, surfaces: [value] }, true);
    case HOST_FORMAT:
      return readWhole({ ...EMPTY, hosts: [value] }, true);
    case FILE_FORMAT:
      if (typeof fields['version'] === 'number' && fields['version'] > FILE_VERSION)
        return refused('was written by a newer Rondo. Update Rondo to read it.', 'version');
      return readWhole(value, false);
    default:
      return refused('is no file of Rondo’s: it says no format that Rondo knows.', 'format');
  }
}

const EMPTY = { format: FILE_FORMAT, version: FILE_VERSION, profiles: [], surfaces: [], hosts: [] };

function readWhole(value: unknown, isSingle: boolean): FileRead {
  const head = fileSchema.safeParse(value);
  if (!head.success) return { ok: false, faults: faultsOf(head.error, value) };
  const faults: Fault[] = [];
  const putRight: Fault[] = [];
  const readAll = <T extends { readonly id: string }>(
    family: 'profiles' | 'surfaces' | 'hosts' | 'layers',
    read: (one: unknown) => { ok: true; document: T } | { ok: false; faults: Fault[] },
  ): T[] => {
    const ids = new Set<string>();
    return (head.data[family] ?? []).flatMap((one, at) => {
      const whole = isProfile(family) ? putOrdersRight(one) : { value: one, putRight: [] };
      const found = read(whole.value);
      const place = isSingle ? [] : [family, at];
      const placed = (fault: Fault): Fault => {
        const inside = [...place, ...(fault.at ?? [])];
        return { ...fault, at: inside, path: pathWords(inside) };
      };
      if (!found.ok) {
        faults.push(...found.faults.map(placed));
        return [];
      }
      putRight.push(...whole.putRight.map(placed));
      // Layers of one profile all have its id.
      if (ids.has(found.document.id) && family !== 'layers')
        faults.push(
          placed({ path: 'id', at: ['id'], message: `“${found.document.id}” is there twice` }),
        );
      ids.add(found.document.id);
      return [found.document];
    });
  };
  const file: RondoFile = {
    ...(head.data as object as RondoFile),
    profiles: readAll('profiles', readProfile),
    surfaces: readAll('surfaces', readSurface),
    hosts: readAll('hosts', readMessageHost),
    ...(head.data.layers ? { layers: readAll('layers', readProfile) } : {}),
  };
  return faults.length > 0 ? { ok: false, faults } : { ok: true, file, putRight };
}

const isProfile = (family: string): boolean => family === 'profiles' || family === 'layers';

/** What one has, by id, to be taken along. */
export interface Shelf {
  readonly surface: (id: string) => Surface | null | undefined;
  readonly host: (id: string) => MessageHost | null | undefined;
}

const byId = <T extends { readonly id: string }>(documents: readonly T[]): T[] =>
  [...documents].sort((a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0));

/** Profiles with all of one's own that they use, as one file; surfaces and hosts may be given by themselves. */
export function fileOf(
  profiles: readonly Profile[],
  shelf: Shelf,
  alone: { readonly surfaces?: readonly Surface[]; readonly hosts?: readonly MessageHost[] } = {},
): RondoFile {
  const surfaces = new Map((alone.surfaces ?? []).map((one) => [one.id, one]));
  const hosts = new Map((alone.hosts ?? []).map((one) => [one.id, one]));
  for (const profile of profiles) {
    const ids = idsOf(profile);
    for (const id of ids.surfaces) {
      const found = shelf.surface(id);
      if (found) surfaces.set(id, found);
    }
    for (const id of ids.hosts) {
      const found = shelf.host(id);
      if (found) hosts.set(id, found);
    }
  }
  return {
    format: FILE_FORMAT,
    version: FILE_VERSION,
    profiles: byId(profiles),
    surfaces: byId([...surfaces.values()]),
    hosts: byId([...hosts.values()]),
  };
}

/** Something by itself as a file. */
export const aloneFile = (
  what: Partial<Pick<RondoFile, 'surfaces' | 'hosts' | 'palettes' | 'layers'>>,
  about: Pick<RondoFile, 'author' | 'notes'> = {},
): RondoFile => ({
  format: FILE_FORMAT,
  version: FILE_VERSION,
  ...about,
  profiles: [],
  surfaces: [],
  hosts: [],
  ...what,
});

/** What is in a file that is no document of its own, in words: it is taken into one in the page. */
export const partsOf = ({ palettes = [], layers = [] }: RondoFile): readonly string[] => [
  ...palettes.map(({ name }) => `palette “${name}”`),
  ...layers.map(({ name }) => `layer “${name}”`),
];

/** A file as text: the same documents give the same lines, in the same order. Ends in a line feed. */
export const fileText = (file: unknown): string => `${stringify(file, null, 2) ?? ''}\n`;

/** The documents of a file one by one, what others need first. */
export function* documentsOf({
  profiles,
  surfaces,
  hosts,
}: RondoFile): Generator<{ kind: FileKind; document: Profile | Surface | MessageHost }> {
  for (const document of surfaces) yield { kind: 'surface', document };
  for (const document of hosts) yield { kind: 'host', document };
  for (const document of profiles) yield { kind: 'profile', document };
}
