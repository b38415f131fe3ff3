import * as z from 'zod';

export const idSchema = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only');

export const labelSchema = z.string().trim().min(1).max(80);

/** The model of a host: an id, or ids of surfaces that a program expects, joined by a plus. */
export const hostModelIdSchema = z
  .string()
  .min(1)
  .max(520)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:+-]*$/, 'letters, digits and - _ . : + only');
