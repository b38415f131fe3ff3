import * as z from 'zod';
import { scopeSchema } from './action.js';
import { idSchema as id } from './names.js';

/** Whose functions new bindings go to unless another is asked for: one deck, one track, the selected one. */
export const usualInstanceSchema = z.looseObject({
  host: id,
  scope: scopeSchema,
  /** The controls it is for; all of its surface where they are left out. */
  controls: z.array(id).min(1).max(500).optional(),
});
export type UsualInstance = z.infer<typeof usualInstanceSchema>;
