import * as z from 'zod';

// What can stand in one place of a file, and of which rows: the two name each other.

const noteNumber = z.int().min(0).max(127);
export const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'lower-case letters, digits and single hyphens')
  .max(60);
export const short = z.string().max(400);
const first = z.literal([0, 1]).optional().describe('What is counted from; 0 where none is given.');
const decimals = z.int().min(0).max(9).optional().describe('Digits behind the point.');
const round = z.enum(['nearest', 'down', 'up']).optional();
const exact = z
  .boolean()
  .optional()
  .describe('With every digit that a number of 64 bits has; nothing is rounded.');

export const UNITS = [
  'ticks',
  'quarters',
  'beats',
  'bars',
  'bar',
  'beat',
  'tick-of-beat',
  'hours',
  'minutes',
  'seconds',
  'ms',
  'us',
  'frames',
] as const;

/** One value: what it is, in its unit, with its rounding. */
const time = z.strictObject({
  is: z.literal('time'),
  of: z.enum(['start', 'end', 'length']),
  unit: z.enum(UNITS),
  ppq: z
    .int()
    .min(1)
    .max(1_000_000)
    .optional()
    .describe('Ticks to a quarter; else those of the piece.'),
  rate: z.number().min(0.001).max(1_000_000).optional().describe('Frames a second.'),
  from: z
    .enum(['start', 'last', 'bar', 'hour', 'minute', 'second'])
    .optional()
    .describe(
      'From the start, from the row before (nothing drifts), from its bar, hour, minute or second.',
    ),
  round,
  decimals,
  exact,
  addsUp: z
    .boolean()
    .optional()
    .describe('Of a length: from its rounded start to its rounded end, so that they add up.'),
  add: z.number().min(-1e9).max(1e9).optional().describe('Added after the unit, before rounding.'),
  first,
});
const key = z.strictObject({
  is: z.literal('key'),
  as: z
    .enum(['number', 'name', 'index', 'lane', 'word', 'bits'])
    .describe('Bits: one for each of its keys, the lowest for the first, added over a strike.'),
  from: noteNumber.optional().describe('Semitones from this key.'),
  middleC: z
    .int()
    .min(3)
    .max(5)
    .optional()
    .describe('The octave of note 60; 4 where none is given.'),
  sharps: z.enum(['#', '♯', 's', 'b', '♭']).optional(),
  names: z
    .array(z.string().min(1).max(8))
    .length(12)
    .optional()
    .describe('Of the twelve, from C on.'),
  keys: z.array(noteNumber).min(1).max(128).optional().describe('Counted in this list.'),
  words: z
    .record(z.string().regex(/^\d{1,3}$/), short)
    .optional()
    .describe('By note number.'),
  first,
});
const velocity = z.strictObject({
  is: z.literal('velocity'),
  least: z.number().min(-1e6).max(1e6).optional().describe('What velocity 0 becomes.'),
  most: z.number().min(-1e6).max(1e6).optional().describe('What velocity 127 becomes.'),
  key: noteNumber.optional().describe('Of the note with this key in a strike; else as of 0.'),
  decimals,
  exact,
  round,
});
const who = z.strictObject({
  is: z.enum(['seat', 'part', 'track', 'channel', 'program', 'rung']),
  as: z.enum(['name', 'number', 'word']).optional(),
  words: z.record(z.string().max(200), short).optional(),
  first,
});
const flags = z.strictObject({
  is: z.literal('flags'),
  words: z.record(z.string().max(60), short).optional().describe('A word for each flag.'),
  between: short.optional(),
  bits: z.record(z.string().max(60), z.int().min(0).max(31)).optional(),
  flag: slug.optional().describe('This one alone: yes or no.'),
  yes: short.optional(),
  no: short.optional(),
});
const onOff = z.strictObject({ is: z.literal('on-off'), on: short, off: short });
const tempo = z.strictObject({
  is: z.enum([
    'bpm',
    'us-per-quarter',
    'numerator',
    'denominator',
    'denominator-power',
    'signature',
  ]),
  decimals,
  round,
});
const text = z.strictObject({
  is: z.enum(['text', 'marker']).describe('Its own text, or that of the marker in force.'),
  lineBreak: short.optional().describe('What stands for the end of a line.'),
});
const controller = z.strictObject({ is: z.enum(['controller', 'value']) });
const struck = z.strictObject({
  is: z.literal('struck').describe('What a cell of a grid holds, or its lane.'),
  yes: short.describe('A note begins here.'),
  no: short.describe('Nothing sounds here.'),
  held: short
    .optional()
    .describe('One that began before sounds on; as nothing where none is given.'),
  last: short.optional().describe('The last cell of one that began before.'),
  key: noteNumber.optional().describe('Of this key alone; of a strike too.'),
});
const count = z.strictObject({
  is: z.literal('count'),
  of: z.lazy(() => RowsSchema),
  add: z.int().min(-1000).max(1000).optional(),
});
const number = z.strictObject({ is: z.literal('row-number'), first, add: z.int().optional() });
const fact = z.strictObject({
  is: z.literal('fact'),
  key: z.string().min(1).max(40),
  kind: z.enum(['text', 'number']).optional(),
  decimals,
  round,
  times: z.number().min(-1e9).max(1e9).optional().describe('Multiplied by it before rounding.'),
  told: z.boolean().optional().describe('Only where somebody told it; else nothing stands there.'),
  otherwise: short.optional().describe('Where it is not known.'),
});
const constant = z.strictObject({
  is: z.literal('constant'),
  value: z.union([short, z.number(), z.boolean(), z.null()]),
});
const place = z.strictObject({
  is: z.enum(['offset', 'size']),
  block: slug.describe('The block that is meant, by its id.'),
  from: slug.optional().describe('Counted from the start of this block; else of the file.'),
});
const checksum = z.strictObject({
  is: z.literal('checksum'),
  kind: z.enum(['sum', 'xor', 'crc16', 'crc32']),
  block: slug,
});
const form = {
  digits: z.int().min(1).max(20).optional().describe('Zeros before it, to so many digits.'),
  width: z.int().min(1).max(200).optional().describe('Spaces to so many letters.'),
  align: z.enum(['left', 'right']).optional(),
  trim: z.boolean().optional().describe('Zeros behind the point are left out at the end.'),
};
const numberForm = {
  ...form,
  hex: z
    .enum(['small', 'capital'])
    .optional()
    .describe('A whole number in digits from 0 to f, small or capital ones.'),
};
/** Several values in one place, as in `1:2:120` or `0:12.500`. */
export interface Joined {
  is: 'joined';
  parts: readonly (string | Value)[];
  digits?: number | undefined;
  width?: number | undefined;
  align?: 'left' | 'right' | undefined;
  trim?: boolean | undefined;
  hex?: undefined;
}
const joined = z.strictObject({
  is: z.literal('joined'),
  parts: z
    .array(z.union([z.string().max(200), z.lazy((): z.ZodType<Value> => ValueSchema)]))
    .min(1)
    .max(20),
});
/** The rows inside a row, all in one place, as in `C4 60 | E4 64`. */
export interface Listed {
  is: 'list';
  each: Rows;
  between: string;
  parts: readonly (string | Value)[];
  digits?: number | undefined;
  width?: number | undefined;
  align?: 'left' | 'right' | undefined;
  trim?: boolean | undefined;
  hex?: undefined;
}
const listed = joined.extend({
  is: z.literal('list'),
  each: z.lazy((): z.ZodType<Rows> => RowsSchema).describe('Of what it holds an entry each.'),
  between: short.describe('What stands between two entries.'),
});
/** Which notes are meant. */
const ofNotes = {
  seats: z.array(slug).min(1).max(128).optional(),
  rungs: z.array(z.int().min(1).max(16)).min(1).optional(),
  keys: z.array(noteNumber).min(1).max(128).optional(),
  flag: slug.optional(),
  longerMs: z.number().min(0).optional().describe('Only notes of this length or longer.'),
  shorterMs: z.number().min(0).optional(),
  longerQuarters: z
    .number()
    .min(0)
    .optional()
    .describe('Only notes of so many quarters or longer.'),
  shorterQuarters: z.number().min(0).optional(),
  harder: z.int().min(1).max(127).optional().describe('Only notes of this velocity or harder.'),
  softer: z.int().min(1).max(127).optional(),
};
/** One of several values, by what its row is of, as in `hold` for long notes and `tap` for others. */
export interface Cased {
  is: 'case';
  cases: readonly { when: When; value: Value }[];
  otherwise: Value;
  digits?: undefined;
  width?: undefined;
  align?: undefined;
  trim?: undefined;
  hex?: undefined;
}
export const WhenSchema = z
  .strictObject({
    ...ofNotes,
    parts: z
      .array(z.string().max(200))
      .min(1)
      .max(128)
      .optional()
      .describe('Parts by their names.'),
    on: z.boolean().optional().describe('Of events those that begin, or those that end.'),
  })
  .refine((w) => Object.keys(w).length > 0, 'Say when this value stands there.');
export type When = z.infer<typeof WhenSchema>;
const aValue = z.lazy((): z.ZodType<Value> => ValueSchema);
const cased = z.strictObject({
  is: z.literal('case'),
  cases: z
    .array(z.strictObject({ when: WhenSchema, value: aValue }))
    .min(1)
    .max(128)
    .describe('The first whose row is meant stands there.'),
  otherwise: aValue.describe('What stands there in all other rows.'),
});
const OneValueSchema = z.discriminatedUnion('is', [
  time.extend(numberForm),
  key.extend(numberForm),
  velocity.extend(numberForm),
  who.extend(numberForm),
  flags.extend(numberForm),
  onOff.extend(numberForm),
  tempo.extend(numberForm),
  text.extend(numberForm),
  controller.extend(numberForm),
  struck.extend(numberForm),
  count.extend(numberForm),
  number.extend(numberForm),
  fact.extend(numberForm),
  constant.extend(numberForm),
  place.extend(numberForm),
  checksum.extend(numberForm),
]);
type OneValue = z.infer<typeof OneValueSchema>;
export type Value = OneValue | Joined | Listed | Cased;
export const ValueSchema: z.ZodType<Value> = z.lazy(() =>
  z.union([OneValueSchema, joined.extend(form), listed.extend(form), cased]),
) as z.ZodType<Value>;

export const ROWS = [
  'notes',
  'strikes',
  'events',
  'tempos',
  'meters',
  'changes',
  'markers',
  'captions',
  'bars',
  'frames',
  'cells',
  'lanes',
  'controllers',
  'seats',
  'parts',
  'channels',
  'phrases',
  'rungs',
] as const;
export type RowKind = (typeof ROWS)[number];

export const ORDER_KEYS = [
  'start',
  'end',
  'key',
  'key-down',
  'seat',
  'part',
  'channel',
  'off-first',
  'begun',
] as const;

/** What rows there are: of what, which of them, in what order. */
export const RowsSchema = z.strictObject({
  of: z.enum(ROWS),
  ...ofNotes,
  controllers: z.array(z.int().min(0).max(127)).optional(),
  rate: z
    .number()
    .min(0.001)
    .max(100_000)
    .optional()
    .describe('Frames a second; notes and events stand on them, for one at least.'),
  perQuarter: z
    .number()
    .min(0.01)
    .max(10_000)
    .optional()
    .describe('Cells to a quarter; inside bars they begin anew with each.'),
  perBar: z.int().min(1).max(4096).optional().describe('Cells to a bar, whatever its meter.'),
  empty: z.boolean().optional().describe('Cells, frames, bars and seats without a note as well.'),
  order: z
    .array(z.enum(ORDER_KEYS))
    .min(1)
    .max(5)
    .optional()
    .describe('Ends of events before what begins there (`off-first`), by when their notes begun.'),
  once: z.boolean().optional().describe('Of notes with one key at one place the first alone.'),
  onLanes: z.boolean().optional().describe('Only notes whose key is a lane of their seat.'),
  alike: z
    .array(z.enum(['length', 'velocity', 'flags']))
    .min(1)
    .max(3)
    .optional()
    .describe('Notes at one place are one strike only where these are alike too.'),
  pauseBeats: z
    .number()
    .min(0.01)
    .max(1000)
    .optional()
    .describe('Beats without a note that end a phrase; 4 where none are given.'),
});
export type Rows = z.infer<typeof RowsSchema>;
