import type { z } from 'zod';
import { issueWords } from './issue-words.js';

/** One fault of a document: where it is and what is wrong, in words. */
export interface Fault {
  readonly path: string;
  readonly message: string;
  /** The keys and places of lists by which one comes there. */
  readonly at?: readonly (string | number)[];
  /** Where in the text it stands, both from 1, where there is a text. */
  readonly line?: number;
  readonly column?: number;
}

/** A path in words. */
export const pathWords = (path: readonly PropertyKey[]): string =>
  path.length === 0 ? '(whole document)' : path.map(String).join(' › ');

/** Zod's issues as paths and words. */
export function faultsOf(error: z.ZodError, value?: unknown): Fault[] {
  return error.issues.map((issue) => ({
    path: pathWords(issue.path),
    message: issueWords(issue, value),
    at: issue.path.map((key) => (typeof key === 'number' ? key : String(key))),
  }));
}

/** A document that could be read, or all that is wrong with it. */
export type Read<T> = { ok: true; document: T } | { ok: false; faults: Fault[] };

/**
 * Reads a document from parsed JSON: accepted whole or refused whole, with the path of each fault.
 * @param kind its `format` and the version that this Rondo writes
 * @param migrate brings an older version forward; called with what has the right format
 */
export function readDocument<T>(
  value: unknown,
  schema: z.ZodType<T>,
  kind: { readonly format: string; readonly version: number },
  migrate: (value: Record<string, unknown>, version: number) => unknown = (same) => same,
): Read<T> {
  const head = headOf(value);
  if (head.format === kind.format && head.version > kind.version)
    return {
      ok: false,
      faults: [
        {
          path: 'version',
          at: ['version'],
          message: `made by a newer Rondo (format ${head.version}; this one reads up to ${kind.version}). Update Rondo to open it.`,
        },
      ],
    };
  const older = head.format === kind.format && head.version < kind.version;
  const result = schema.safeParse(
    older ? migrate(value as Record<string, unknown>, head.version) : value,
  );
  return result.success
    ? { ok: true, document: result.data }
    : { ok: false, faults: faultsOf(result.error, value) };
}

function headOf(value: unknown): { format: string; version: number } {
  const fields = typeof value === 'object' && value !== null ? value : {};
  const { format, version } = fields as { format?: unknown; version?: unknown };
  return {
    format: typeof format === 'string' ? format : '',
    // The first version was 1: what says 0 or less, or is no whole number, is of no version at all.
    version: Number.isSafeInteger(version) && (version as number) >= 1 ? (version as number) : NaN,
  };
}
