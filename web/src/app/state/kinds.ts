import type { Read } from '@rondo/core/document';
import { readMessageHost, type MessageHost } from '@rondo/core/host';
import { readProfile, type Profile } from '@rondo/core/profile';
import { readSurface, type Surface } from '@rondo/core/surface';

/** The kinds of documents that are edited, undone, saved and kept in the same way. */
export interface Documents {
  readonly profile: Profile;
  readonly surface: Surface;
  readonly host: MessageHost;
}
export type Kind = keyof Documents;
export type AnyDocument = Documents[Kind];

export const KINDS: readonly Kind[] = ['profile', 'surface', 'host'];

const READERS: { readonly [K in Kind]: (value: unknown) => Read<Documents[K]> } = {
  profile: readProfile,
  surface: readSurface,
  host: readMessageHost,
};

/** Reads a document of a kind from parsed JSON. */
export const readAs = <K extends Kind>(kind: K, value: unknown): Read<Documents[K]> =>
  READERS[kind](value);

/** Where a document of a kind is opened. */
export const SCREEN_OF: Readonly<Record<Kind, string>> = {
  profile: '/bind',
  surface: '/surfaces',
  host: '/hosts',
};
