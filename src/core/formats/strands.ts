import * as z from 'zod';
import { defineFormat } from './define-format';
import { named, ppq, sound, tempos, text, tick, us } from './values';

export const STRANDS_VERSION = 1;
export const STRAND_KINDS = ['instant', 'span'] as const;
export const STRAND_VALUES = ['note-name', 'note-number', 'velocity', 'length', 'none'] as const;

const cue = z.strictObject({
  tick,
  atUs: us,
  lengthTicks: z.int().min(0).describe('0 for an instant.'),
  lengthUs: us.describe('0 for an instant.'),
  value: z
    .union([z.string().max(8), z.int().min(0)])
    .nullable()
    .describe('By the strand’s value; a length is in whole microseconds.'),
});

export const StrandsSchema = z.strictObject({
  format: z.literal('strands'),
  version: z.literal(STRANDS_VERSION),
  ppq,
  endTick: tick,
  endUs: us,
  tempos,
  sound,
  passages: z.array(named).describe('From markers.'),
  strands: z.array(
    z.strictObject({
      name: z.string().min(1).describe('What the game listens for.'),
      source: text.describe('The file that it came from.'),
      kind: z.enum(STRAND_KINDS),
      value: z.enum(STRAND_VALUES),
      cues: z.array(cue),
    }),
  ),
});
export type Strands = z.infer<typeof StrandsSchema>;

export const strandsFormat = defineFormat({
  id: 'strands',
  title: 'Strands',
  summary: 'Named strands of cues for a game engine.',
  file: 'name.strands.json',
  kind: 'json',
  schema: StrandsSchema,
  notes: ['Each strand says what the value of its cues is; what that drops is a listed loss.'],
  reader: `const { strands } = JSON.parse(new TextDecoder().decode(bytes));
const found = [];
for (const strand of strands) {
  for (const cue of strand.cues) {
    found.push({ seconds: cue.atUs / 1e6, name: strand.name, value: cue.value });
  }
}
found.sort((a, b) => a.seconds - b.seconds);`,
});
