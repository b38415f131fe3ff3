import { signal } from '@angular/core';
import type { Library } from '@rondo/core/round';
import { NOTHING_OWN, libraryWith } from '../engine/library';

const now = signal<Library>(libraryWith(NOTHING_OWN));

/** The library as it is now, for plain functions that name what profiles refer to. */
export const libraryNow = now.asReadonly();
export const setLibraryNow = (library: Library): void => now.set(library);
