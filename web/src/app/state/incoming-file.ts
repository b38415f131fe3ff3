import { Injectable, signal } from '@angular/core';
import type { Fault } from '@rondo/core/document';
import { LARGEST_FILE, readFileText, type Palette, type RondoFile } from '@rondo/core/formats';
import type { Profile } from '@rondo/core/profile';

/** A part of a file on its way into a document, which opens for it. */
export type Part =
  | { readonly kind: 'layer'; readonly into: string; readonly layer: Profile }
  | { readonly kind: 'palette'; readonly into: string; readonly palette: Palette };

/** The file that was given last, by a field or dropped anywhere, until it is taken in or left. */
@Injectable({ providedIn: 'root' })
export class IncomingFile {
  readonly file = signal<{ readonly name: string; readonly content: RondoFile } | null>(null);
  readonly refused = signal<{ readonly file: string; readonly faults: readonly Fault[] } | null>(
    null,
  );
  readonly part = signal<Part | null>(null);

  /** Reads a file; what it would do is shown before it is done. */
  async look(file: File): Promise<void> {
    this.refused.set(null);
    this.file.set(null);
    // The size is seen before anything is read.
    const read =
      file.size > LARGEST_FILE
        ? {
            ok: false as const,
            faults: [
              { path: '(whole file)', message: 'is larger than 64 MB; no file of Rondo’s is.' },
            ],
          }
        : readFileText(await file.text());
    if (read.ok) this.file.set({ name: file.name, content: read.file });
    else this.refused.set({ file: file.name, faults: read.faults });
  }

  /** The part that is meant for a document, once. */
  takeFor<K extends Part['kind']>(kind: K, into: string): Extract<Part, { kind: K }> | null {
    const part = this.part();
    if (part?.kind !== kind || part.into !== into) return null;
    this.part.set(null);
    return part as Extract<Part, { kind: K }>;
  }
}
