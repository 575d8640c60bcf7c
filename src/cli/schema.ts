import { SAMPLE_ROLES } from '../core/sources/module/samples/roles';
import * as z from 'zod';
import { FiguresJson, hash, ms, severity, TallyJson, tick } from './schema-parts';
import { AlignLine, SetHandOverLine, SetProofLine, SetStatusLine } from './schema-sets';

/** What `--json` prints, one object a line. The docs' schema and the tests come from here. */
export const DamageJson = z.strictObject({
  code: z.string(),
  byteOffset: z.int().min(0),
  track: z.int().min(0).nullable().describe('Counted from 0; null for the file as a whole'),
  says: z.string(),
});

export const PartJson = z.strictObject({
  id: z.string(),
  track: z.int().min(0).describe('Counted from 0'),
  channel: z.int().min(1).max(16),
  name: z.string(),
  programs: z.array(z.int().min(0).max(127)),
  notes: z.int().min(0),
  lowest: z.int().min(0).max(127).nullable(),
  highest: z.int().min(0).max(127).nullable(),
  polyphony: z.int().min(0),
  firstTick: tick.nullable(),
  endTick: tick.nullable(),
  controllers: z.array(z.int().min(0).max(127)),
  bends: z.int().min(0),
  aftertouch: z.int().min(0),
  stuck: z.int().min(0),
  doubled: z.int().min(0),
  lowestVelocity: z.int().min(1).max(127).nullable(),
  highestVelocity: z.int().min(1).max(127).nullable(),
  role: z
    .strictObject({ says: z.string(), why: z.string() })
    .nullable()
    .describe('What it is to the music, in words; null where it has no notes'),
});

export const InventoryJson = z.strictObject({
  format: z.int().min(0),
  division: z.union([
    z.strictObject({ ppq: z.int().min(1) }),
    z.strictObject({ framesPerSecond: z.int(), ticksPerFrame: z.int() }),
  ]),
  tracks: z.int().min(0),
  notes: z.int().min(0),
  firstNoteTick: tick.nullable(),
  firstNoteMs: ms.nullable(),
  endTick: tick,
  endMs: ms,
  bars: z.int().min(1),
  tempos: z.array(z.strictObject({ tick, microsecondsPerQuarter: z.int().min(1) })),
  meters: z.array(z.strictObject({ tick, numerator: z.int(), denominator: z.int() })),
  keys: z.array(z.strictObject({ tick, name: z.string() })),
  markers: z.array(z.strictObject({ tick, text: z.string() })),
  texts: z.array(
    z.strictObject({
      tick,
      track: z.int().min(0),
      kind: z.string(),
      text: z.string(),
      encoding: z.enum(['ascii', 'utf-8', 'shift-jis', 'latin-1']),
    }),
  ),
  sysex: z.int().min(0),
  unknownMeta: z.int().min(0),
  extraChunks: z.array(z.strictObject({ type: z.string(), bytes: z.int().min(0) })),
  sequences: z.int().min(1),
  emptyTracks: z.array(z.strictObject({ track: z.int(), name: z.string().nullable() })),
  parts: z.array(PartJson),
});

export const FindingJson = z.strictObject({
  key: z.string().describe('Stays the same over re-runs'),
  rule: z.string(),
  code: z.string(),
  severity,
  part: z.string().nullable(),
  fromTick: tick.nullable(),
  toTick: tick.nullable(),
  fromMs: ms.nullable(),
  toMs: ms.nullable(),
  place: z.string().nullable().describe('bar|beat|tick of the first place'),
  notes: z.int().min(0),
  measured: z.strictObject({ value: z.number(), unit: z.string() }).nullable(),
  allowed: z.record(z.string(), z.unknown()).nullable(),
  says: z.string(),
  mends: z.array(
    z.strictObject({
      title: z.string(),
      lossless: z
        .boolean()
        .optional()
        .describe('Absent where mends were not tried: very large files'),
      shiftMs: z.number().optional(),
      drops: z.int().min(0).optional().describe('Notes that would vanish'),
      costs: z.string().optional().describe('In words: what it costs'),
      music: FiguresJson.optional().describe('Of a choice: what a listener would follow'),
      does: z.string().optional(),
    }),
  ),
  choice: z.string().nullable().describe('What needs a choice: its mends are candidates'),
  noMend: z.string().nullable(),
});

const source = { file: z.string(), sha256: hash };

export const UnusableLine = z.strictObject({ ...source, damage: z.array(DamageJson) });
const LostJson = z.array(z.strictObject({ what: z.string(), count: z.int().min(1) }));
const SampleJson = z.strictObject({
  number: z.int().min(1),
  name: z.string(),
  seconds: z.number(),
  rate: z.number().describe('Hz at the middle C'),
  loops: z.boolean(),
  strikes: z.int().min(0),
  keys: z.array(z.strictObject({ key: z.int(), count: z.int() })),
  quietest: z.number(),
  loudest: z.number(),
  channels: z.array(z.int().min(1)),
  firstBar: z.int().nullable(),
  lastBar: z.int().nullable(),
  role: z.enum(SAMPLE_ROLES),
  suspected: z.enum(SAMPLE_ROLES),
  reason: z.string(),
  pitch: z
    .strictObject({ semitones: z.int(), cents: z.int(), sure: z.number(), says: z.string() })
    .nullable()
    .describe('What it sounds above what is written'),
  beat: z.strictObject({ bpm: z.number(), beats: z.int(), hits: z.int() }).nullable(),
  chord: z.array(z.int()).nullable().describe('Semitones above its lowest note'),
  apart: z.array(z.int()).describe('Channels that play it in a second role'),
});
const ModuleJson = z.strictObject({
  format: z.string(),
  name: z.string(),
  comment: z.string(),
  channels: z.int(),
  hasInstruments: z.boolean(),
  patterns: z.int(),
  rows: z.int().describe('Played, with repeats'),
  seconds: z.number(),
  roundTo: z.int().nullable().describe('The order that it goes round to'),
  songs: z.int().describe('In its list of orders'),
  song: z.int().describe('Which of them this is, from 1'),
  rowsPerBeat: z.int(),
  beatsPerBar: z.int(),
  beatsReason: z.string(),
  samples: z.array(SampleJson),
  lost: LostJson.describe('What no score carries'),
});

export const InventoryLine = z.strictObject({
  ...source,
  damage: z.array(DamageJson),
  inventory: InventoryJson,
  module: ModuleJson.optional().describe('Of a module: its samples and how it is read'),
});
export const ProofLine = z.strictObject({
  ...source,
  damage: z.array(DamageJson),
  inventory: InventoryJson,
  together: z
    .array(
      z.strictObject({
        ...source,
        key: z.string(),
        damage: z.array(DamageJson),
        inventory: InventoryJson,
      }),
    )
    .optional()
    .describe('Of several sources that are one job: each of them'),
  target: z.string(),
  findings: z.array(FindingJson),
  tally: TallyJson,
});
export const MendLine = z.strictObject({
  ...source,
  target: z.string(),
  folder: z.string(),
  applied: z.array(
    z.strictObject({
      finding: z.string(),
      title: z.string(),
      lossless: z.boolean(),
      shiftMs: z.number(),
      drops: z.int().min(0),
      says: z.string(),
    }),
  ),
  findings: z.array(FindingJson),
  tally: TallyJson,
  files: z.array(
    z.strictObject({
      path: z.string(),
      bytes: z.int().min(0),
      sha256: hash,
      readBack: z.enum(['same', 'differs', 'not read']),
      differences: z.array(z.string()),
      holds: z
        .record(z.string(), z.int().min(0))
        .describe('How many of each kind of fact its bytes hold'),
      shiftMs: z.number().nullable().describe('How far its notes stand from the source'),
      plays: z.string().describe('What the device plays of it'),
      complaints: z.array(z.string()).describe('Why the device would not load it'),
    }),
  ),
  music: FiguresJson,
  unwritten: z.array(z.string()).describe('Writers that the target names and that there are not'),
  rehearsed: z.strictObject({
    standIn: z.string().nullable(),
    asMeant: z.boolean(),
    lengthMs: z.number(),
    lost: z.array(
      z.strictObject({
        notes: z.int().min(0),
        because: z.string(),
        altered: z.boolean(),
        findings: z.array(z.strictObject({ key: z.string(), says: z.string() })),
      }),
    ),
    unexplained: z.array(z.string()),
  }),
});

const n = z.int().min(0);
export const CompareLine = z.strictObject({
  a: z.string(),
  b: z.string(),
  matchedBy: z.enum(['clock', 'quarters']),
  shiftMs: z.number(),
  shiftQuarters: z.number(),
  notesA: n,
  notesB: n,
  same: n,
  missing: n,
  added: n,
  moved: n,
  shorter: n,
  longer: n,
  louder: n,
  softer: n,
  otherKey: n,
  otherChannel: n,
  markers: z.strictObject({ missing: z.array(z.string()), added: z.array(z.string()) }),
  tempo: z.enum(['same', 'differs']),
  meter: z.enum(['same', 'differs']),
  places: z.array(
    z.strictObject({
      kind: z.enum(['missing', 'added', 'moved', 'shorter', 'longer', 'otherKey']),
      atMs: ms,
      noteNumber: z.int().min(0).max(127),
    }),
  ),
  says: z.array(z.string()),
});

export const ProblemLine = z.strictObject({ file: z.string(), problem: z.string() });

const listed = { id: z.string(), summary: z.string() };
export const TargetsLine = z.strictObject({ ...listed, version: z.string(), name: z.string() });
export const RulesLine = z.strictObject({
  ...listed,
  block: z.string().nullable(),
  codes: z.array(z.string()),
});
export const StepsLine = z.strictObject({
  ...listed,
  reach: z.enum(['piece', 'parts', 'stretch', 'notes']),
  params: z.record(z.string(), z.unknown()).describe('JSON Schema of its parameters'),
});
export const OutputsLine = z.strictObject({ ...listed, format: z.string().nullable() });
export const RehearseLine = z.strictObject({
  delivery: z.string().describe('The folder, pack or files that were rehearsed'),
  target: z.string(),
  standIn: z.string(),
  lengthMs: z.number(),
  events: z.array(
    z.strictObject({
      atMs: z.number(),
      lengthMs: z.number().nullable(),
      kind: z.string(),
      seat: z.string(),
      key: z.int(),
      value: z.union([z.number(), z.string()]).nullable(),
      text: z.string().nullable(),
      file: z.string(),
    }),
  ),
  refused: z.array(z.strictObject({ file: z.string(), at: z.string(), says: z.string() })),
  dropped: z.array(
    z.strictObject({
      atMs: z.number(),
      seat: z.string(),
      key: z.int(),
      file: z.string(),
      because: z.string(),
      altered: z.boolean(),
    }),
  ),
});
export const CheckLine = z.strictObject({
  file: z.string(),
  format: z.string(),
  problems: z.array(z.strictObject({ path: z.string(), says: z.string() })),
});

export const lines = {
  targets: TargetsLine,
  rules: RulesLine,
  steps: StepsLine,
  outputs: OutputsLine,
  problem: ProblemLine,
  inventory: InventoryLine,
  proof: ProofLine,
  mend: MendLine,
  rehearse: RehearseLine,
  check: CheckLine,
  compare: CompareLine,
  align: AlignLine,
  'set proof': SetProofLine,
  'set hand-over': SetHandOverLine,
  'set status': SetStatusLine,
  unusable: UnusableLine,
} as const;
