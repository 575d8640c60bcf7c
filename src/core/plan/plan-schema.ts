import * as z from 'zod';
import { SourceUseSchema } from '../sources/use';

/** A plan as data that comes from outside: a recipe, or a job as a file. */
const partRef = z.strictObject({
  source: z.string().max(100),
  track: z.string().max(2000),
  channel: z.int().min(1).max(16),
  occurrence: z.int().min(0).max(65_535),
});

const tick = z
  .int()
  .min(0)
  .max(2 ** 31 - 1);

export const ScopeSchema = z.strictObject({
  parts: z.array(partRef).max(65_535).optional(),
  fromTick: tick.optional(),
  toTick: tick.optional(),
  met: z.boolean().optional(),
  stretches: z
    .array(z.strictObject({ fromTick: tick, toTick: tick }))
    .max(100_000)
    .optional(),
  notes: z
    .array(
      z.strictObject({
        part: partRef,
        startTick: tick,
        noteNumber: z.int().min(0).max(127),
        occurrence: z.int().min(0),
      }),
    )
    .max(1_000_000)
    .optional(),
  file: z.string().max(300).optional(),
});

export const PlanStepSchema = z.strictObject({
  key: z.string().min(1).max(100),
  step: z.string().max(60),
  params: z.unknown(),
  scope: ScopeSchema,
  on: z.boolean(),
});

export const PlanSchema = z.strictObject({
  uses: z.array(SourceUseSchema).max(64).optional(),
  steps: z.array(PlanStepSchema).max(2000),
});

export const LeftAsIsSchema = z.array(
  z.strictObject({ key: z.string().min(1).max(5000), reason: z.string().max(2000) }),
);

export const RecipeSchema = z.strictObject({
  recipeVersion: z.literal([1, 2]),
  name: z.string().max(200),
  target: z.strictObject({ id: z.string().max(100), version: z.string().max(40) }),
  sources: z
    .array(z.strictObject({ key: z.string().min(1).max(100), name: z.string().max(1000) }))
    .max(64)
    .optional(),
  plan: PlanSchema,
  leftAsIs: LeftAsIsSchema,
});
