import * as z from 'zod';
import { channel, line, noteNumber, slug } from './schema-values';

const seatBase = {
  id: slug,
  name: line,
  sounds: z
    .array(z.strictObject({ name: line, program: z.int().min(0).max(127) }))
    .max(256)
    .optional()
    .describe('Named sounds that can be tried on this seat.'),
  optional: z.boolean().optional().describe('It may stay empty without a word.'),
  takes: z
    .enum(['pitched', 'drums', 'any'])
    .optional()
    .describe('Lines and chords, drums, or either; by its channel where nothing is said.'),
  part: z
    .enum(['tune', 'bass', 'chords', 'rest'])
    .optional()
    .describe('What it has of the music, where it is for one thing.'),
  several: z.boolean().optional().describe('Several parts may sit there together.'),
  hand: z.enum(['left', 'right']).optional().describe('The hand that plays it.'),
  accepts: z
    .strictObject({
      lowest: noteNumber.optional(),
      highest: noteNumber.optional(),
      only: z.array(noteNumber).min(1).optional(),
    })
    .optional()
    .describe('Keys of this seat, where it has fewer than the whole.'),
};

export const SeatSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('channel'), ...seatBase, channel, track: line.optional() }),
  z.strictObject({ kind: z.literal('track'), ...seatBase, track: line }),
  z.strictObject({ kind: z.literal('voice'), ...seatBase, channel }),
  z.strictObject({
    kind: z.literal('laneGroup'),
    ...seatBase,
    channel,
    track: line.optional().describe('Name of the track, where several seats share a channel.'),
    rung: z.int().min(1).max(16).optional().describe('The rung of the chart that it is.'),
    laneNotes: z.array(noteNumber).min(1).max(64),
  }),
  z.strictObject({
    kind: z.literal('file'),
    ...seatBase,
    fileName: line,
    onlyBars: z
      .array(z.union([z.literal(0.5), z.int().min(1).max(64)]))
      .min(1)
      .optional()
      .describe('Lengths in bars that this file may have.'),
    leastBars: z.int().min(1).max(64).optional(),
    mostBars: z.int().min(1).max(64).optional(),
    plays: z
      .enum(['lead-in', 'round', 'break', 'crossing', 'end'])
      .optional()
      .describe(
        'Where a song is played as it goes on: before it, round and round, once between rounds, from one round to another, or last.',
      ),
    from: slug.optional().describe('Of a crossing: the round that it leads from.'),
    to: slug.optional().describe('Of a crossing: the round that it leads to.'),
  }),
]);
