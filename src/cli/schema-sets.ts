import * as z from 'zod';
import { FiguresJson, TallyJson, hash, ms, severity } from './schema-parts';

/* Lines of `set … --json` and of `align --json`. */

const FileJson = z.strictObject({ path: z.string(), bytes: z.int().min(0), sha256: hash });

const MadeFacts = z.strictObject({
  lengthMs: ms,
  tally: TallyJson,
  kept: z.number().min(0).max(100).describe('Of a hundred notes of the parts that play'),
  choices: z.int().min(0).describe('Choices that are open'),
  figures: FiguresJson.nullable(),
  displayName: z.string().nullable(),
  kit: z.string().nullable(),
  microsecondsPerQuarter: z.int().min(1),
  ppq: z.int().min(1),
  music: z.string().describe('Of all strikes by the clock: two songs of one value are alike'),
  notes: z.int().min(0),
  sound: z.strictObject({ name: z.string(), sha256: hash }).nullable(),
  files: z.array(FileJson),
});

const SongJson = z.strictObject({
  key: z.string(),
  title: z.string(),
  problem: z.string().optional().describe('Why it could not be made'),
  ...MadeFacts.partial().shape,
});

const SetFindingJson = z.strictObject({
  rule: z.string(),
  key: z.string(),
  severity,
  title: z.string(),
  says: z.string(),
  songs: z.array(z.string()).describe('Keys of songs'),
  mends: z.array(z.strictObject({ title: z.string(), change: z.record(z.string(), z.unknown()) })),
});

const set = z.string().describe('Title of the set');
const looked = { songs: z.array(SongJson), findings: z.array(SetFindingJson) };

/** What was handed over before, and is of the set no more. */
const GoneJson = z.strictObject({
  key: z.string(),
  title: z.string(),
  target: z.string(),
  folder: z.string(),
  files: z.array(FileJson),
});

const standing = z.enum(['new', 'changed', 'same', 'theirs']);

const OnCardJson = z.strictObject({
  key: z.string(),
  title: z.string(),
  standing,
  write: z.array(FileJson),
  same: z.array(z.string()),
  theirs: z.array(
    z.strictObject({ file: FileJson, says: z.string(), at: z.string(), renamed: z.boolean() }),
  ),
});

export const SetProofLine = z.strictObject({ set, ...looked });

export const SetHandOverLine = z.strictObject({
  set,
  card: z.string().describe('The folder'),
  ...looked,
  songs: z.array(SongJson.extend({ standing: standing.optional() })),
  written: z.array(z.string()),
  removed: z.array(z.string()),
  keptTheirs: z.array(z.string()),
  bytes: z.int().min(0).describe('Of the files, without the manifest'),
  handover: z.int().min(1).nullable().describe('Its number; null where nothing was written'),
  gone: z.array(GoneJson),
  notOurs: z.array(z.string()),
});

export const SetStatusLine = z.strictObject({
  card: z.string().describe('The folder'),
  manifest: z.record(z.string(), z.unknown()).nullable(),
  songs: z.array(OnCardJson),
  gone: z.array(GoneJson),
  stale: z.array(z.string()),
  keptTheirs: z.array(z.string()),
  notOurs: z.array(z.string()),
  leftovers: z.array(z.string()),
});

const JumpJson = z.strictObject({
  scoreFromMs: ms,
  scoreToMs: ms,
  soundFromMs: ms,
  soundToMs: ms,
  scoreHasMoreMs: ms.describe('Below 0 the recording has more'),
  missingBars: z.strictObject({ fromBar: z.int().min(1), bars: z.int().min(1) }).nullable(),
});

export const AlignLine = z.strictObject({
  file: z.string(),
  sound: z.string(),
  found: z
    .strictObject({
      kind: z.enum(['offset', 'tempo', 'wander']),
      offsetMs: ms.describe('The recording is later by so much'),
      tempoRatio: z.number().nullable().describe('Above 1 it is slower; null where it changes'),
      confidence: z.number().min(0).max(1),
      sure: z.boolean(),
      doubt: z.string().nullable(),
      matched: z.number().min(0).max(1),
      driftMs: z.array(ms).length(5).describe('At the start, the quarters and the end'),
      anchors: z.array(
        z.strictObject({
          tick: z.int().min(0),
          us: z.int(),
          confidence: z.number().min(0).max(1),
        }),
      ),
      jumps: z.array(JumpJson),
    })
    .nullable(),
  onsetsMs: z.array(ms).optional(),
  beatsMs: z.array(ms).nullable().optional(),
});
