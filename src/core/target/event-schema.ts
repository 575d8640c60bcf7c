import * as z from 'zod';
import { severity } from './schema-values';

/** What a target takes of events that are no notes. */
export const eventsBlock = z
  .strictObject({
    controllers: z
      .union([z.enum(['any', 'none']), z.array(z.int().min(0).max(127))])
      .optional()
      .describe('Controllers that are accepted.'),
    controllersWithout: z
      .array(z.int().min(0).max(127))
      .optional()
      .describe('Controllers that are not accepted; all others are.'),
    controllersOnceAtStart: z
      .array(z.int().min(0).max(127))
      .optional()
      .describe('Exactly one of each on a seat, at tick 0, and no more.'),
    programs: z
      .enum(['any', 'none', 'one-at-start', 'of-seat'])
      .optional()
      .describe(
        'one-at-start: none, or one a channel before its first note. of-seat: one at tick 0, out of the sounds of the seat.',
      ),
    silentChannels: z
      .enum(['any', 'none'])
      .optional()
      .describe('Whether a channel may stand there without a note.'),
    bends: z.enum(['any', 'none']).optional(),
    aftertouch: z.enum(['any', 'none']).optional(),
    sysex: z.enum(['any', 'none']).optional(),
    unknownMeta: z.enum(['any', 'none']).optional(),
    severity,
  })
  .optional();

export const textBlock = z
  .strictObject({
    mostTrackNames: z.int().min(0).optional(),
    markers: z
      .enum(['any', 'none', 'loop-marker'])
      .optional()
      .describe('loop-marker: only the one that end.loopMarker names.'),
    others: z
      .enum(['any', 'none'])
      .optional()
      .describe('Lyrics, cue points, copyright and the like.'),
    longestMarker: z.int().min(1).optional().describe('In characters.'),
    markerLetters: z.enum(['any', 'printable-ascii']).optional(),
    severity,
  })
  .optional();
