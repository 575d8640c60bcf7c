import * as z from 'zod';
import { line, ms, severity } from './schema-values';

const controller = z.int().min(0).max(127);
/** Of a controller 0 to 127, of a bend 0 to 16,383. */
const value = z.int().min(0).max(16_383);
const grave = z.enum(['stop', 'caution', 'remark']).optional();

/** What a target takes as presets: programs with their banks, and how it loads them. */
export const presetsBlock = z
  .strictObject({
    list: z
      .array(
        z.strictObject({
          bank: controller.describe('Bank select, controller 0.'),
          program: controller,
          name: line,
          on: z
            .array(controller)
            .max(32)
            .optional()
            .describe('Switches that it turns on by itself; it turns the others off.'),
        }),
      )
      .min(1)
      .max(2048),
    bankWithinMs: ms.optional().describe('A bank stands at most so long before its program.'),
    firstAtStart: z.boolean().optional().describe('The first preset stands at tick 0.'),
    apartMs: ms.optional().describe('From one preset to the next.'),
    loadMs: ms.optional().describe('It loads for so long, and hears no switch meanwhile.'),
    leadLeastMs: ms.optional().describe('A preset stands so long before the place it is for.'),
    leadMostMs: ms.optional(),
    leadTo: z
      .enum(['markers', 'bars'])
      .optional()
      .describe('The place it is for: the nearest marker, or the nearest bar line.'),
    again: grave.describe('How grave it is when a preset is chosen that is there already.'),
    severity,
  })
  .optional();

/** What it takes of what moves: a curve for controllers of one kind, or for the bend. */
const curve = z.strictObject({
  name: line,
  controllers: z.array(controller).min(1).max(128).optional(),
  bend: z.boolean().optional().describe('The pitch bend, in 14 bits.'),
  values: z.array(value).min(1).max(128).optional().describe('The values that it knows.'),
  lowest: value.optional(),
  highest: value.optional(),
  perSecond: z.int().min(1).max(10_000).optional().describe('Values of one controller a second.'),
  apartMs: ms.optional().describe('From one value of a controller to the next.'),
  mostJump: z.int().min(1).max(16_383).optional().describe('From one value to the next.'),
  slewMs: ms.optional().describe('It moves from 0 to full in so long; faster is clipped.'),
  settledMs: ms.optional().describe('It rests for so long before a preset.'),
  whileLoading: z
    .enum(['heard', 'missed'])
    .optional()
    .describe('Whether a value is heard while a preset loads.'),
  rest: value.optional().describe('The value that it has at the end.'),
  severity,
});
export type CurveBlock = z.infer<typeof curve>;

export const curvesBlock = z
  .strictObject({
    list: z.array(curve).min(1).max(64),
    perSecond: z.int().min(1).max(100_000).optional().describe('Values a second in all.'),
    severity,
  })
  .optional();
