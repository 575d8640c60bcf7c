import * as z from 'zod';
import { defineFormat } from './define-format';
import { file, ppq, us } from './values';

export const CHAIN_VERSION = 1;
const letter = z.string().regex(/^[A-Z]$/, 'one capital letter is needed');

export const ChainSchema = z.strictObject({
  format: z.literal('chain'),
  version: z.literal(CHAIN_VERSION),
  patterns: z
    .array(
      z.strictObject({
        pattern: letter,
        file: file.describe('Its notes, as a MIDI file of this delivery.'),
        bars: z.int().min(1).max(10_000),
        microsecondsPerQuarter: z.int().min(1).max(0xffffff),
        ppq,
        lengthUs: us,
      }),
    )
    .min(1)
    .max(26),
  links: z
    .array(
      z.strictObject({
        pattern: letter,
        repeats: z.int().min(1).max(1000),
        shift: z.int().min(-127).max(127).describe('Semitones.'),
        voices: z.array(z.int().min(1).max(16)).max(16).describe('Those that sound, from 1.'),
      }),
    )
    .min(1)
    .max(1000)
    .describe('Played in this order.'),
});
export type Chain = z.infer<typeof ChainSchema>;

export const chainFormat = defineFormat({
  id: 'chain',
  title: 'Chain',
  summary: 'Patterns and the order in which they are played.',
  file: 'name.chain.json',
  kind: 'json',
  schema: ChainSchema,
  notes: ['A link plays its pattern as often as it says, shifted, with the voices that are on.'],
  reader: `const chain = JSON.parse(new TextDecoder().decode(bytes));
const found = [];
let us = 0;
for (const link of chain.links) {
  const pattern = chain.patterns.find((p) => p.pattern === link.pattern);
  for (let n = 0; n < link.repeats; n++) {
    found.push({ seconds: us / 1e6, file: pattern.file, shift: link.shift, voices: link.voices });
    us += pattern.lengthUs;
  }
}`,
});
