import * as z from 'zod';

/**
 * A target as data: what a device or game accepts. Every block is optional; a block that is absent
 * says nothing. Every number carries its unit in its key. Unknown keys are errors.
 */
export const SCHEMA_VERSION = 1;

const noteNumber = z.int().min(0).max(127);
const channel = z.int().min(1).max(16);
const bpm = z.number().min(1).max(1000);
const ms = z.number().min(0).max(3_600_000);
const severity = z
  .enum(['stop', 'caution', 'remark'])
  .optional()
  .describe('How grave a breach of this block is; a stop where nothing is said.');
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'lower-case letters, digits and single hyphens')
  .max(60);
const line = z.string().min(1).max(200);

const seatBase = {
  id: slug,
  name: line,
  sounds: z
    .array(z.strictObject({ name: line, program: z.int().min(0).max(127) }))
    .max(256)
    .optional()
    .describe('Named sounds that can be tried on this seat.'),
};

export const SeatSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('channel'), ...seatBase, channel, track: line.optional() }),
  z.strictObject({ kind: z.literal('track'), ...seatBase, track: line }),
  z.strictObject({ kind: z.literal('voice'), ...seatBase, channel }),
  z.strictObject({
    kind: z.literal('laneGroup'),
    ...seatBase,
    channel,
    laneNotes: z.array(noteNumber).min(1).max(16),
  }),
  z.strictObject({ kind: z.literal('file'), ...seatBase, fileName: line }),
]);

export const TargetSchema = z.strictObject({
  schemaVersion: z.literal(SCHEMA_VERSION),
  id: slug,
  version: z.string().regex(/^\d+\.\d+\.\d+$/, 'three numbers such as 1.0.0'),
  name: line,
  summary: line,
  words: z
    .strictObject({
      target: line.describe('What sentences call it: "the rail".'),
      note: line.describe('What one note is to it: "cue".'),
      notes: line,
    })
    .optional(),
  seats: z.array(SeatSchema).max(128),
  seating: z
    .strictObject({
      unseated: z
        .enum(['stop', 'leave-out'])
        .describe('A part without a seat is a stop, or is left out and listed.'),
    })
    .optional(),
  file: z
    .strictObject({
      formats: z
        .array(z.literal([0, 1, 2]))
        .min(1)
        .optional(),
      deliverFormat: z.literal([0, 1]).optional(),
      layout: z
        .enum(['as-is', 'single', 'conductor-first'])
        .optional()
        .describe('How tracks are laid out on delivery.'),
      mostNoteTracks: z.int().min(1).max(65_535).optional(),
      ppq: z
        .strictObject({
          multipleOf: z.int().min(1).max(32_767).optional(),
          lowest: z.int().min(1).max(32_767).optional(),
          highest: z.int().min(1).max(32_767).optional(),
          only: z.array(z.int().min(1).max(32_767)).min(1).optional(),
        })
        .optional(),
      severity,
    })
    .optional(),
  tempo: z
    .strictObject({
      constant: z.boolean().optional().describe('One tempo, at tick 0.'),
      lowestBpm: bpm.optional(),
      highestBpm: bpm.optional(),
      mostEvents: z.int().min(1).optional(),
      severity,
    })
    .optional(),
  meter: z.strictObject({ constant: z.boolean().optional(), severity }).optional(),
  start: z
    .strictObject({
      leadInBars: z
        .int()
        .min(0)
        .max(64)
        .optional()
        .describe('Whole bars of rest before the first note.'),
      leadInMs: ms.optional().describe('The first note stands at this clock time or later.'),
      severity,
    })
    .optional(),
  clock: z
    .strictObject({
      withinMs: ms.describe('How far a note may stand from its clock time in the source.'),
      shift: z.enum(['common', 'none']),
      severity,
    })
    .optional(),
  notes: z
    .strictObject({
      lowest: noteNumber.optional(),
      highest: noteNumber.optional(),
      without: z.array(noteNumber).optional().describe('Keys inside the range that are not there.'),
      only: z.array(noteNumber).min(1).optional(),
      severity,
    })
    .optional(),
  polyphony: z
    .strictObject({
      together: z.int().min(1).max(128).describe('Notes that may sound in the same instant.'),
      over: z.enum(['seat', 'all']),
      severity,
    })
    .optional(),
  spacing: z
    .strictObject({
      sameKeyApartMs: ms.optional().describe('Start to start, on one key.'),
      apartMs: ms.optional().describe('Start to start, between any two notes of a seat.'),
      severity,
    })
    .optional(),
  length: z.strictObject({ shortestMs: ms.optional(), severity }).optional(),
  events: z
    .strictObject({
      controllers: z
        .union([z.enum(['any', 'none']), z.array(z.int().min(0).max(127))])
        .optional()
        .describe('Controllers that are accepted.'),
      programs: z.enum(['any', 'none']).optional(),
      bends: z.enum(['any', 'none']).optional(),
      aftertouch: z.enum(['any', 'none']).optional(),
      sysex: z.enum(['any', 'none']).optional(),
      unknownMeta: z.enum(['any', 'none']).optional(),
      severity,
    })
    .optional(),
  text: z
    .strictObject({
      mostTrackNames: z.int().min(0).optional(),
      markers: z.enum(['any', 'none']).optional(),
      others: z
        .enum(['any', 'none'])
        .optional()
        .describe('Lyrics, cue points, copyright and the like.'),
      longestMarker: z.int().min(1).optional().describe('In characters.'),
      markerLetters: z.enum(['any', 'printable-ascii']).optional(),
      severity,
    })
    .optional(),
  carrier: z
    .strictObject({ channel, noteNumber, velocity: z.int().min(1).max(127), track: line, severity })
    .optional(),
  naming: z
    .strictObject({
      letters: z
        .enum(['A-Z0-9', 'a-z0-9', 'A-Za-z0-9'])
        .describe('The letters that a file name may hold before its ending.'),
      longest: z.int().min(1).max(64).describe('In characters, without the ending.'),
      ending: z.string().regex(/^\.[a-z0-9]{1,8}$/),
      severity,
    })
    .optional(),
  outputs: z
    .array(
      z.strictObject({
        writer: slug,
        options: z
          .record(z.string().max(60), z.union([z.string(), z.number(), z.boolean()]))
          .optional(),
      }),
    )
    .min(1),
  standIn: slug.optional(),
  checklist: z.array(line).max(20).describe('What to do at the far side.'),
});

export type Target = z.infer<typeof TargetSchema>;
export type Seat = z.infer<typeof SeatSchema>;
export type TargetBlock = keyof Target;
