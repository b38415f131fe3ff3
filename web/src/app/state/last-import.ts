import * as z from 'zod';
import type { Imported } from './api';

const KEY = 'rondo.lastImport';
const keptSchema = z.object({
  file: z.string(),
  documents: z.array(
    z.object({
      id: z.string(),
      kind: z.enum(['profile', 'surface', 'host']),
      name: z.string(),
      did: z.enum(['new', 'replaced', 'same', 'refused']),
      revision: z.number().optional(),
      replaced: z.number().optional(),
    }),
  ),
});
export type LastImport = z.infer<typeof keptSchema>;

/** What was read from a file last, so that it can be taken back, after a reload too; null where nothing was. */
export function lastImport(): LastImport | null {
  try {
    return keptSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? 'null'));
  } catch {
    return null;
  }
}

/** Something was read from a file just now. */
export function rememberImport(file: string, documents: readonly Imported[]): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ file, documents }));
  } catch {
    // Without it the parts can be taken back one by one: from the bin, and from their versions.
  }
}

/** It is taken back, or is left as it is. */
export function forgetImport(): void {
  try {
    localStorage.removeItem(KEY);
  } catch {
    // See above.
  }
}
