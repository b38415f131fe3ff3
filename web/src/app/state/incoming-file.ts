import { Injectable, signal } from '@angular/core';
import type { Fault } from '@rondo/core/document';
import { LARGEST_FILE, readFileText, type Palette, type RondoFile } from '@rondo/core/formats';
import type { Profile } from '@rondo/core/profile';

/** A part of a file on its way into a document, which opens for it. */
export type Part =
  | { readonly kind: 'layer'; readonly into: string; readonly layer: Profile }
  | { readonly kind: 'palette'; readonly into: string; readonly palette: Palette };

/** A file that was read and is not taken in yet. */
export interface GivenFile {
  readonly name: string;
  readonly content: RondoFile;
  /** What was mended in it as it was read. */
  readonly putRight: readonly Fault[];
}
/** A file that could not be read, and why. */
export interface RefusedFile {
  readonly file: string;
  readonly faults: readonly Fault[];
}

/** The files that were given last, by a field or dropped anywhere, until each is taken in or left. */
@Injectable({ providedIn: 'root' })
export class IncomingFile {
  readonly files = signal<readonly GivenFile[]>([]);
  readonly refused = signal<readonly RefusedFile[]>([]);
  readonly part = signal<Part | null>(null);

  /** Reads files; what each would do is shown before it is done. */
  async look(files: readonly File[]): Promise<void> {
    this.refused.set([]);
    this.files.set([]);
    for (const file of files) await this.read(file);
  }

  private async read(file: File): Promise<void> {
    const refuse = (...faults: Fault[]) =>
      this.refused.update((all) => [...all, { file: file.name, faults }]);
    // The size is seen before anything is read.
    if (file.size > LARGEST_FILE)
      return refuse({
        path: '(whole file)',
        message: 'is larger than 64 MB; no file of Rondo’s is.',
      });
    let text: string;
    try {
      text = await file.text();
    } catch {
      return refuse({
        path: '(whole file)',
        message:
          'cannot be read: it is a folder, or was moved away meanwhile. Drop the files that are in it.',
      });
    }
    const read = readFileText(text);
    if (!read.ok) return refuse(...read.faults);
    const { file: content, putRight } = read;
    this.files.update((all) => [...all, { name: file.name, content, putRight }]);
  }

  /** A file was taken in, or is left. */
  leave(file: GivenFile): void {
    this.files.update((all) => all.filter((one) => one !== file));
  }

  /** The part that is meant for a document, once. */
  takeFor<K extends Part['kind']>(kind: K, into: string): Extract<Part, { kind: K }> | null {
    const part = this.part();
    if (part?.kind !== kind || part.into !== into) return null;
    this.part.set(null);
    return part as Extract<Part, { kind: K }>;
  }
}
