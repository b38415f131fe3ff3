import { z } from 'zod';

export const idSchema = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only');

export const labelSchema = z.string().trim().min(1).max(80);
