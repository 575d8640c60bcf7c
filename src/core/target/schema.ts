import * as z from 'zod';
import { noteNumber, channel, bpm, ms, severity, slug, line } from './schema-values';
import { FormatSchema } from '../formats/own/schema';
import { LimitSchema } from './limit-schema';
import { curvesBlock, presetsBlock } from './curve-schema';
import { eventsBlock, textBlock } from './event-schema';
import { SeatSchema } from './seat-schema';

/**
 * A target as data: what a device or game accepts. Every block is optional; a block that is absent
 * says nothing. Every number carries its unit in its key. Unknown keys are errors.
 */
export const SCHEMA_VERSION = 1;

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
        .enum(['stop', 'leave-out', 'taken'])
        .optional()
        .describe('A part without a seat is a stop, is left out and listed, or is taken as it is.'),
      takes: z
        .enum(['pitched', 'drums', 'any'])
        .optional()
        .describe('What all of its seats take, where they do not say so.'),
    })
    .optional(),
  channels: z
    .strictObject({ only: z.array(channel).min(1), severity })
    .optional()
    .describe('The channels that it listens to, where seats do not say so.'),
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
      mostBytes: z.int().min(100).optional().describe('Of the file as it is written.'),
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
      onlyBpm: z.array(bpm).min(1).optional().describe('The tempos that it has.'),
      wholeBpm: z
        .boolean()
        .optional()
        .describe('Whole numbers N; 60,000,000/N rounded down or to the nearest is accepted.'),
      declaredWithinBpm: z
        .number()
        .min(0)
        .optional()
        .describe('How far the declared BPM may stand from the first tempo of the file.'),
      apartMs: ms.optional().describe('From one tempo to the next.'),
      severity,
    })
    .optional(),
  meter: z
    .strictObject({
      constant: z.boolean().optional(),
      only: z
        .array(
          z.strictObject({
            numerator: z.int().min(1).max(255),
            denominator: z.literal([1, 2, 4, 8, 16, 32, 64, 128]),
          }),
        )
        .min(1)
        .optional(),
      severity,
    })
    .optional(),
  start: z
    .strictObject({
      leadInBars: z
        .int()
        .min(0)
        .max(64)
        .optional()
        .describe('Whole bars of rest before the first note.'),
      leadInMs: ms.optional().describe('The first note stands at this clock time or later.'),
      quietMs: ms
        .optional()
        .describe('Nothing but tick 0 before: no preset, no controller, no note.'),
      inBar1: z.boolean().optional().describe('The music begins in bar 1: no empty bar before it.'),
      soundToo: z.boolean().optional().describe('The lead-in holds in the sound file as well.'),
      severity,
    })
    .optional(),
  clock: z
    .strictObject({
      withinMs: ms.describe('How far a note may stand from its clock time in the source.'),
      shift: z.enum(['common', 'none']),
      of: z.enum(['every-note', 'first-note']).optional(),
      severity,
    })
    .optional(),
  end: z
    .strictObject({
      wholeBars: z.boolean().optional().describe('The piece ends on a bar line.'),
      leastBars: z.int().min(1).max(10_000).optional(),
      mostBars: z.int().min(1).max(10_000).optional(),
      onlyBars: z.array(z.int().min(1).max(10_000)).min(1).optional(),
      filled: z.boolean().optional().describe('Something sounds in the last bar.'),
      tracksEqual: z.boolean().optional().describe('Every track ends at the same tick.'),
      nothingPast: z.boolean().optional().describe('No note sounds past the end of its track.'),
      loopMarker: line.optional().describe('The marker where the loop begins, exactly one.'),
      loopWholeBars: z.boolean().optional(),
      loops: z.boolean().optional().describe('It is played round again: the seam is looked at.'),
      tailMs: ms.optional().describe('The piece ends so long behind the last event, or later.'),
      soundWithinMs: ms.optional().describe('How far the length may stand from the sound file.'),
      soundWithinFrames: z.int().min(0).optional(),
      severity,
    })
    .optional(),
  notes: z
    .strictObject({
      none: z.boolean().optional().describe('It takes no note at all.'),
      most: z.int().min(1).optional().describe('Notes in all.'),
      barsAlike: z
        .enum(['stop', 'caution', 'remark'])
        .optional()
        .describe('How grave it is when every repeat is note for note the same.'),
      lowest: noteNumber.optional(),
      highest: noteNumber.optional(),
      without: z.array(noteNumber).optional().describe('Keys inside the range that are not there.'),
      only: z.array(noteNumber).min(1).optional(),
      severity,
    })
    .optional(),
  velocity: z
    .strictObject({
      lowest: z.int().min(1).max(127).optional(),
      highest: z.int().min(1).max(127).optional(),
      deliveredAs: z
        .int()
        .min(1)
        .max(127)
        .optional()
        .describe('Velocity is ignored; every note is delivered with this one.'),
      allAlike: z
        .enum(['stop', 'caution', 'remark'])
        .optional()
        .describe('How grave it is when all notes have one velocity.'),
      severity,
    })
    .optional(),
  polyphony: z
    .strictObject({
      spanSemitones: z
        .int()
        .min(1)
        .max(127)
        .optional()
        .describe('From the lowest to the highest of the notes that sound together on a seat.'),
      seats: z.array(slug).min(1).optional().describe('Only these seats; all where none is given.'),
      sharedNotes: z
        .enum(['any', 'none'])
        .optional()
        .describe('Whether the same key may sound on two seats at once.'),
      together: z.int().min(1).max(128).describe('Notes that may sound in the same instant.'),
      over: z.enum(['seat', 'all']),
      severity,
    })
    .optional(),
  spacing: z
    .strictObject({
      sameKeyApartMs: ms.optional().describe('Start to start, on one key.'),
      apartMs: ms.optional().describe('Start to start, between any two notes of a seat.'),
      strikesASecond: z
        .int()
        .min(1)
        .optional()
        .describe('Strikes in any one second of a seat; a chord counts once.'),
      mostOpenMs: ms.optional().describe('Sounding time of a seat in any stretch of openInMs.'),
      openInMs: ms.optional(),
      severity,
    })
    .optional(),
  length: z
    .strictObject({ shortestMs: ms.optional(), longestMs: ms.optional(), severity })
    .optional(),
  events: eventsBlock,
  presets: presetsBlock,
  curves: curvesBlock,
  text: textBlock,
  grid: z
    .strictObject({
      rowsPerSecond: z.array(z.number().min(0.1).max(1000)).min(1).optional(),
      mostInRow: z.int().min(1).optional().describe('Notes in one row, over all seats.'),
      sameKeyNextRow: z.enum(['any', 'none']).optional(),
      mostRows: z.int().min(1).optional(),
      rowMm: z.number().min(0.1).max(1000).optional(),
      chordWithinMs: ms.optional().describe('Notes of a chord are struck within this time.'),
      chordLowest: noteNumber.optional(),
      chordHighest: noteNumber.optional(),
      triggerLowest: noteNumber
        .optional()
        .describe('A key of the trigger range goes with a chord.'),
      triggerHighest: noteNumber.optional(),
      severity,
    })
    .optional(),
  chart: z
    .strictObject({
      holdMs: ms.optional().describe('This long or longer is a hold; shorter is a strike.'),
      releaseGapMs: ms.optional().describe('From the end of a hold to the next note of its lane.'),
      phraseBreakBeats: z
        .int()
        .min(1)
        .optional()
        .describe('Empty beats after which a phrase ends.'),
      flags: z.array(slug).max(64).optional().describe('Flags that a note may carry.'),
      rungs: z
        .array(
          z.strictObject({
            rung: z.int().min(1).max(16),
            laneNotes: z
              .array(noteNumber)
              .min(1)
              .max(16)
              .optional()
              .describe('Where rungs are told by keys: the keys of this one. Else seats name it.'),
            strikesASecond: z.int().min(1),
            together: z.int().min(1),
            releaseGapMs: ms,
            holdsOverlap: z.boolean().optional().describe('Holds with unequal starts may overlap.'),
          }),
        )
        .max(16)
        .optional(),
      severity,
    })
    .optional(),
  captions: z
    .strictObject({
      noteNumber: noteNumber.describe('The note that turns to the next caption.'),
      mostLines: z.int().min(1).max(16),
      longestLine: z.int().min(1).max(200).describe('In characters.'),
      leadLeastMs: ms.optional().describe('How long the advance stands before the sung word.'),
      leadMostMs: ms.optional(),
      severity,
    })
    .optional(),
  frames: z
    .strictObject({
      perSecond: z.array(z.number().min(1).max(240)).min(1),
      shiftLowest: z.int().optional().describe('Frames.'),
      shiftHighest: z.int().optional().describe('Frames.'),
      endings: z.array(z.enum(['round-again', 'rest-at-end'])).min(1),
      severity,
    })
    .optional(),
  strands: z
    .strictObject({
      values: z.array(z.enum(['note-name', 'note-number', 'velocity', 'length', 'none'])).min(1),
      names: z.array(line).max(200).optional().describe('Names that the game listens for.'),
      severity,
    })
    .optional(),
  chains: z
    .strictObject({
      patterns: z
        .array(z.string().regex(/^[A-Z]$/))
        .min(1)
        .max(26),
      mostLinks: z.int().min(1),
      mostRepeats: z.int().min(1),
      shiftLowest: z.int().describe('Semitones.'),
      shiftHighest: z.int().describe('Semitones.'),
      severity,
    })
    .optional(),
  metadata: z
    .strictObject({
      required: z
        .array(
          z.strictObject({
            key: z
              .string()
              .max(40)
              .regex(/^\p{L}[\p{L}\p{N} _-]*$/u, 'a name of letters, digits, spaces and hyphens')
              .describe(
                'A fact that the desk knows, such as title, or one of its own by its name.',
              ),
            optional: z.boolean().optional().describe('It may be left open without a word.'),
            kind: z
              .enum(['text', 'number', 'date', 'choice', 'file-name'])
              .optional()
              .describe('What it has to be; any text where nothing is said.'),
            choices: z.array(line).min(1).max(100).optional(),
            from: z
              .enum(['file-name', 'first-marker', 'first-text', 'track-name'])
              .optional()
              .describe('Where the source knows it.'),
            longest: z.int().min(1).max(200).optional(),
            letters: z
              .enum(['any', 'printable-ascii', "A-Za-z0-9 '-"])
              .optional()
              .describe('The letters that it may hold.'),
          }),
        )
        .min(1),
      severity,
    })
    .optional(),
  kits: z
    .array(
      z.strictObject({
        id: slug,
        name: line,
        keys: z.array(z.strictObject({ noteNumber, name: line })).min(1),
      }),
    )
    .max(32)
    .optional()
    .describe('Sets of named keys, of which a song uses one.'),
  formats: z.array(FormatSchema).max(8).optional().describe('File formats of its own, as data.'),
  limits: z
    .array(LimitSchema)
    .max(64)
    .optional()
    .describe('Limits of its own: a measure, what it is taken of, and its bounds.'),
  carrier: z
    .strictObject({ channel, noteNumber, velocity: z.int().min(1).max(127), track: line, severity })
    .optional(),
  naming: z
    .strictObject({
      prefixes: z
        .array(line)
        .min(1)
        .max(200)
        .optional()
        .describe('The name begins with one of these.'),
      only: z.array(line).min(1).max(200).optional().describe('The names that it lists.'),
      letters: z
        .enum(['any', 'A-Z0-9', 'a-z0-9', 'A-Za-z0-9'])
        .describe('The letters that a file name may hold before its ending.'),
      longest: z.int().min(1).max(64).describe('In characters, without the ending.'),
      ending: z.string().regex(/^\.[a-z0-9]{1,8}$/),
      severity,
    })
    .optional(),
  card: z
    .strictObject({
      mostBytes: z.int().min(1).max(4_000_000_000_000).optional(),
      mostFiles: z.int().min(1).max(100_000).optional(),
      mostFolders: z.int().min(0).max(100_000).optional(),
      digits: z
        .int()
        .min(1)
        .max(4)
        .optional()
        .describe('File names begin with the number of the song, of as many digits.'),
      same: z
        .array(z.enum(['tempo', 'ppq', 'kit']))
        .min(1)
        .max(3)
        .optional()
        .describe('What all songs on it have alike.'),
    })
    .optional()
    .describe('What it asks of a card that holds several songs.'),
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
