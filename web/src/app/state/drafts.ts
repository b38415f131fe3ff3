import { Injectable } from '@angular/core';
import { z } from 'zod';
import { readProfile, type Profile } from '@rondo/core/profile';

const draftSchema = z.object({ revision: z.number(), profile: z.unknown() });
const keyOf = (id: string): string => `rondo.draft.${id}`;

export interface Draft {
  /** Revision on the server that the draft builds on. */
  readonly revision: number;
  readonly profile: Profile;
}

/** Edits that the server has not acknowledged yet, kept in this browser so that a closed page loses none. */
@Injectable({ providedIn: 'root' })
export class Drafts {
  read(id: string): Draft | null {
    try {
      const { revision, profile } = draftSchema.parse(
        JSON.parse(localStorage.getItem(keyOf(id)) ?? ''),
      );
      const result = readProfile(profile);
      return result.ok ? { revision, profile: result.profile } : null;
    } catch {
      return null;
    }
  }

  keep(draft: Draft): void {
    try {
      localStorage.setItem(keyOf(draft.profile.id), JSON.stringify(draft));
    } catch {
      // Without room the edits still stand in the page.
    }
  }

  drop(id: string): void {
    localStorage.removeItem(keyOf(id));
  }
}
