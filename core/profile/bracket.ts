import type * as z from 'zod';
import { edit, type Edited } from '@rondo/core/document';
import { BRACKET_COLOURS, BRACKET_PATTERNS, type bracketSchema } from './bracket-schema.js';
import type { Profile } from './profile.js';

type Said = z.infer<typeof bracketSchema>;
export type Bracket = Required<Pick<Said, 'mark' | 'colour' | 'pattern'>>;

/** The bracket of a surface: as its owner chose it, else its initials and the next colour and line. */
export function bracketOf(profile: Profile, id: string): Bracket {
  const at = Math.max(0, profile.surfaceOrder.indexOf(id));
  const { label, bracket = {} } = profile.surfaces[id];
  const initials = label.replace(/[^\p{Lu}\p{N}]/gu, '') || label;
  return {
    mark: bracket.mark ?? initials.slice(0, 2),
    colour: bracket.colour ?? BRACKET_COLOURS[at % BRACKET_COLOURS.length],
    pattern: bracket.pattern ?? BRACKET_PATTERNS[at % BRACKET_PATTERNS.length],
  };
}

/** Chooses something of a surface's bracket; an empty mark goes back to the initials. */
export const setBracket = (
  profile: Profile,
  id: string,
  change: Partial<Bracket>,
): Edited<Profile> =>
  edit(profile, `Bracket of ${profile.surfaces[id].label}`, (draft) => {
    const next = { ...draft.surfaces[id].bracket, ...change };
    if (next.mark?.trim() === '') delete next.mark;
    draft.surfaces[id].bracket = next;
  });
