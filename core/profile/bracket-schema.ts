import * as z from 'zod';

export const BRACKET_COLOURS = ['teal', 'amber', 'violet', 'green', 'red', 'blue'] as const;
/** Lines that are told apart without any colour. */
export const BRACKET_PATTERNS = ['solid', 'dashed', 'dotted', 'double'] as const;

/** How the strips that a surface reaches are marked in a host's picture. What is left out is chosen by its place. */
export const bracketSchema = z.looseObject({
  mark: z.string().trim().min(1).max(2).optional(),
  colour: z.enum(BRACKET_COLOURS).optional(),
  pattern: z.enum(BRACKET_PATTERNS).optional(),
});
