import * as z from 'zod';
import { edit, type Edited } from '@rondo/core/document';
import type { Profile } from './profile.js';

export const BRACKET_COLOURS = ['teal', 'amber', 'violet', 'green', 'red', 'blue'] as const;
/** Lines that are told apart without any colour. */
export const BRACKET_PATTERNS = ['solid', 'dashed', 'dotted', 'double'] as const;

/** How the strips that a surface reaches are marked in a host's picture. What is left out is chosen by its place. */
export const bracketSchema = z.looseObject({
  mark: z.string().trim().min(1).max(2).optional(),
  colour: z.enum(BRACKET_COLOURS).optional(),
  pattern: z.enum(BRACKET_PATTERNS).optional(),
});
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
