import * as z from 'zod';
import { defineFormat } from './define-format';
import { file, ppq, text, us } from './values';

export const CRATE_VERSION = 1;

const place = z.strictObject({
  place: z.string().min(1).max(60).describe('The place of the target, by its id.'),
  name: text,
  file: file.describe('In the same folder.'),
  // How long a place may be is the target's to say.
  halfBars: z.int().min(1).describe('Length in half bars.'),
  lengthTicks: z.int().min(1),
  lengthUs: us,
  next: z.array(z.string().max(60)).describe('What may follow it, by place; none ends the song.'),
});

export const CrateSchema = z.strictObject({
  format: z.literal('crate'),
  version: z.literal(CRATE_VERSION),
  name: z.string().min(1).max(200).describe('What the display shows.'),
  kit: z.string().min(1).max(60).nullable().describe('The kit, by its id.'),
  microsecondsPerQuarter: z.int().min(1).max(0xffffff),
  meter: z.strictObject({
    numerator: z.int().min(1).max(255),
    denominator: z.literal([1, 2, 4, 8, 16, 32, 64, 128]),
  }),
  ppq,
  places: z.array(place).min(1).max(256).describe('Those that are taken, in the target’s order.'),
});
export type Crate = z.infer<typeof CrateSchema>;

export const crateFormat = defineFormat({
  id: 'crate',
  title: 'Crate',
  summary: 'A drum pedal’s song: its places, their files, and what follows what.',
  file: 'song/crate.json',
  kind: 'json',
  schema: CrateSchema,
  notes: [
    'A folder a song: this file, and beside it a MIDI file for each place that is taken.',
    'A count-off leads to the first bed; a bed leads to the next one and to the breaks.',
    'A crossing leads from the first bed in its name to the second; the hit ends the song.',
  ],
  reader: `const crate = JSON.parse(new TextDecoder().decode(bytes));
const found = [];
for (const place of crate.places) {
  const bars = place.halfBars / 2;
  found.push({ file: place.file, bars, seconds: place.lengthUs / 1e6, then: place.next });
}`,
});
