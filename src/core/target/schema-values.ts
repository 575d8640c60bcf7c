import * as z from 'zod';

/** Values that many blocks of a target are made of. */
export const noteNumber = z.int().min(0).max(127);
export const channel = z.int().min(1).max(16);
export const bpm = z.number().min(1).max(1000);
export const ms = z.number().min(0).max(3_600_000);
export const severity = z
  .enum(['stop', 'caution', 'remark'])
  .optional()
  .describe('How grave a breach of this block is; a stop where nothing is said.');
export const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'lower-case letters, digits and single hyphens')
  .max(60);
export const line = z.string().min(1).max(200);
