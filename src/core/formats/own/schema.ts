import * as z from 'zod';

/**
 * A file format of somebody's own, as data. One description does three jobs: it writes, it reads back
 * strictly, and where it says enough a file of it is a source. No code stands in it.
 */
export const FORMAT_VERSION = 1;

/** How deep a tree may be, and how much of it there may be. */
const MOST_NODES = 400;
const noteNumber = z.int().min(0).max(127);
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'lower-case letters, digits and single hyphens')
  .max(60);
const line = z.string().min(1).max(200);
const short = z.string().max(400);
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
  add: z.number().min(-1e9).max(1e9).optional().describe('Added after the unit, before rounding.'),
  first,
});
const key = z.strictObject({
  is: z.literal('key'),
  as: z.enum(['number', 'name', 'index', 'lane', 'word']),
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
  key: noteNumber.optional().describe('Of this key alone.'),
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
/** Several values in one place, as in `1:2:120` or `0:12.500`. */
export interface Joined {
  is: 'joined';
  parts: readonly (string | Value)[];
  digits?: number | undefined;
  width?: number | undefined;
  align?: 'left' | 'right' | undefined;
  trim?: boolean | undefined;
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
}
const listed = joined.extend({
  is: z.literal('list'),
  each: z.lazy((): z.ZodType<Rows> => RowsSchema).describe('Of what it holds an entry each.'),
  between: short.describe('What stands between two entries.'),
});
const OneValueSchema = z.discriminatedUnion('is', [
  time.extend(form),
  key.extend(form),
  velocity.extend(form),
  who.extend(form),
  flags.extend(form),
  onOff.extend(form),
  tempo.extend(form),
  text.extend(form),
  controller.extend(form),
  struck.extend(form),
  count.extend(form),
  number.extend(form),
  fact.extend(form),
  constant.extend(form),
  place.extend(form),
  checksum.extend(form),
]);
type OneValue = z.infer<typeof OneValueSchema>;
export type Value = OneValue | Joined | Listed;
export const ValueSchema: z.ZodType<Value> = z.lazy(() =>
  z.union([OneValueSchema, joined.extend(form), listed.extend(form)]),
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
  'rungs',
] as const;
export type RowKind = (typeof ROWS)[number];

/** What rows there are: of what, which of them, in what order. */
export const RowsSchema = z.strictObject({
  of: z.enum(ROWS),
  seats: z.array(slug).min(1).max(128).optional(),
  rungs: z.array(z.int().min(1).max(16)).min(1).optional(),
  keys: z.array(noteNumber).min(1).max(128).optional(),
  flag: slug.optional(),
  longerMs: z.number().min(0).optional().describe('Only notes of this length or longer.'),
  shorterMs: z.number().min(0).optional(),
  controllers: z.array(z.int().min(0).max(127)).optional(),
  rate: z.number().min(0.001).max(100_000).optional().describe('Frames a second.'),
  perQuarter: z
    .number()
    .min(0.01)
    .max(10_000)
    .optional()
    .describe('Cells to a quarter; inside bars they begin anew with each.'),
  perBar: z.int().min(1).max(4096).optional().describe('Cells to a bar, whatever its meter.'),
  empty: z.boolean().optional().describe('Cells, frames, bars and seats without a note as well.'),
  order: z
    .array(z.enum(['start', 'end', 'key', 'key-down', 'seat', 'part', 'off-first']))
    .min(1)
    .max(4)
    .optional(),
  once: z.boolean().optional().describe('Of notes with one key at one place the first alone.'),
});
export type Rows = z.infer<typeof RowsSchema>;

const each = { each: RowsSchema };

/** A line of text, or several that are repeated. */
export interface LineNode {
  parts?: readonly InlineNode[];
  each?: Rows;
  lines?: readonly LineNode[];
}
export type InlineNode =
  string | { value: Value } | { each: Rows; between: string; parts: readonly InlineNode[] };
const InlineSchema: z.ZodType<InlineNode> = z.lazy(() =>
  z.union([
    z.string().max(2000),
    z.strictObject({ value: ValueSchema }),
    z.strictObject({ ...each, between: short, parts: z.array(InlineSchema).min(1).max(60) }),
  ]),
);
const LineSchema: z.ZodType<LineNode> = z.lazy(() =>
  z.union([
    z.strictObject({ parts: z.array(InlineSchema).max(60) }),
    z.strictObject({ ...each, lines: z.array(LineSchema).min(1).max(60) }),
  ]),
) as z.ZodType<LineNode>;

const oneLine = z
  .enum(['tight', 'spaced'])
  .optional()
  .describe(
    'In one line, with all that it holds; objects with a space inside their brackets or none.',
  );
type OneLine = 'tight' | 'spaced';
export type JsonNode =
  | { value: Value; as?: 'text' | 'number' | undefined }
  | { object: readonly { key: string; node: JsonNode }[]; line?: OneLine | undefined }
  | { list: readonly JsonNode[]; line?: OneLine | undefined }
  | { each: Rows; node: JsonNode; line?: OneLine | undefined }
  | { each: Rows; key: Value; node: JsonNode; line?: OneLine | undefined };
const JsonSchema: z.ZodType<JsonNode> = z.lazy(() =>
  z.union([
    z.strictObject({ value: ValueSchema, as: z.enum(['text', 'number']).optional() }),
    z.strictObject({
      object: z.array(z.strictObject({ key: short, node: JsonSchema })).max(100),
      line: oneLine,
    }),
    z.strictObject({ list: z.array(JsonSchema).max(100), line: oneLine }),
    z.strictObject({ ...each, node: JsonSchema, line: oneLine }),
    z.strictObject({ ...each, key: ValueSchema, node: JsonSchema, line: oneLine }),
  ]),
) as z.ZodType<JsonNode>;

export interface XmlNode {
  each?: Rows | undefined;
  name: string;
  attributes?: readonly { name: string; value: Value }[] | undefined;
  text?: Value | undefined;
  children?: readonly XmlNode[] | undefined;
}
const xmlName = z.string().regex(/^[A-Za-z_][\w.-]{0,60}$/, 'a name of letters, digits, . and -');
const XmlSchema: z.ZodType<XmlNode> = z.lazy(() =>
  z.strictObject({
    each: RowsSchema.optional(),
    name: xmlName,
    attributes: z
      .array(z.strictObject({ name: xmlName, value: ValueSchema }))
      .max(60)
      .optional(),
    text: ValueSchema.optional(),
    children: z.array(XmlSchema).max(100).optional(),
  }),
);

const order = z
  .enum(['little', 'big'])
  .optional()
  .describe('Byte order; that of the file where none is given.');
export type BinaryNode =
  | { bytes: string }
  | {
      int: number;
      signed?: boolean | undefined;
      order?: 'little' | 'big' | undefined;
      value: Value;
    }
  | { float: 4 | 8; order?: 'little' | 'big' | undefined; value: Value }
  | { vlq: true; value: Value }
  | { bits: readonly { width: number; value: Value }[]; order?: 'little' | 'big' | undefined }
  | {
      string: 'padded' | 'counted' | 'zero';
      size?: number | undefined;
      fill?: number | undefined;
      value: Value;
    }
  | { align: number; fill?: number | undefined }
  | { each: Rows; id?: string | undefined; fields: readonly BinaryNode[] }
  | { block: string; fields: readonly BinaryNode[] };
export const BinarySchema: z.ZodType<BinaryNode> = z.lazy(() =>
  z.union([
    z.strictObject({
      bytes: z
        .string()
        .regex(/^([0-9a-f]{2}\s*)+$/i, 'bytes as hexadecimal pairs')
        .max(800),
    }),
    z.strictObject({
      int: z.literal([1, 2, 3, 4, 5, 6, 7, 8]),
      signed: z.boolean().optional(),
      order,
      value: ValueSchema,
    }),
    z.strictObject({ float: z.literal([4, 8]), order, value: ValueSchema }),
    z.strictObject({ vlq: z.literal(true), value: ValueSchema }),
    z.strictObject({
      bits: z
        .array(z.strictObject({ width: z.int().min(1).max(32), value: ValueSchema }))
        .min(1)
        .max(32)
        .describe('From the highest bit down; whole bytes together.'),
      order,
    }),
    z.strictObject({
      string: z.enum(['padded', 'counted', 'zero']),
      size: z.int().min(1).max(4096).optional().describe('Bytes of the text, or of its count.'),
      fill: z.int().min(0).max(255).optional(),
      value: ValueSchema,
    }),
    z.strictObject({ align: z.int().min(2).max(4096), fill: z.int().min(0).max(255).optional() }),
    z.strictObject({ ...each, id: slug.optional(), fields: z.array(BinarySchema).min(1).max(100) }),
    z.strictObject({ block: slug, fields: z.array(BinarySchema).min(1).max(100) }),
  ]),
) as z.ZodType<BinaryNode>;

const decimalSign = z.enum(['.', ',']).optional();
export const ContainerSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('table'),
    delimiter: z.string().min(1).max(3).optional().describe('A comma where none is given.'),
    widths: z.array(z.int().min(1).max(200)).max(60).optional().describe('Fixed widths instead.'),
    heading: z.boolean().optional(),
    quotes: z.enum(['needed', 'always', 'never']).optional(),
    decimal: decimalSign,
    before: z.array(z.array(InlineSchema).max(60)).max(60).optional().describe('Lines before it.'),
    rows: RowsSchema,
    columns: z
      .array(z.strictObject({ name: short, value: ValueSchema }))
      .min(1)
      .max(60),
  }),
  z.strictObject({
    kind: z.literal('lines'),
    decimal: decimalSign,
    lines: z.array(LineSchema).min(1).max(200),
  }),
  z.strictObject({
    kind: z.literal('json'),
    indent: z.int().min(0).max(8).optional(),
    root: JsonSchema,
  }),
  z.strictObject({
    kind: z.literal('xml'),
    indent: z.int().min(0).max(8).optional(),
    declaration: z.boolean().optional(),
    root: XmlSchema,
  }),
  z.strictObject({
    kind: z.literal('binary'),
    order: z.enum(['little', 'big']),
    fields: z.array(BinarySchema).min(1).max(200),
  }),
]);
export type Container = z.infer<typeof ContainerSchema>;

export const ENCODINGS = [
  'utf-8',
  'utf-8-mark',
  'utf-16le',
  'utf-16be',
  'latin-1',
  'ascii',
  'shift-jis',
] as const;
export type Encoding = (typeof ENCODINGS)[number];

const fileShape = {
  path: z
    .string()
    .min(1)
    .max(200)
    .describe('With {title}, {file}, {seat}, {part}, {place}, {rung} or {number} in it.'),
  per: z.enum(['delivery', 'piece', 'seat', 'part', 'rung']).optional(),
  encoding: z.enum(ENCODINGS).optional(),
  lineEnd: z.enum(['lf', 'crlf', 'cr']).optional(),
  lastLineEnd: z
    .boolean()
    .optional()
    .describe('The last line ends too; it does where none is given.'),
  container: ContainerSchema,
};
export const OwnFileSchema = z.strictObject(fileShape);
export type OwnFile = z.infer<typeof OwnFileSchema>;

export const FormatSchema = z
  .strictObject({
    formatVersion: z.literal(FORMAT_VERSION),
    id: slug,
    name: line,
    summary: line.optional(),
    files: z.array(OwnFileSchema).min(1).max(20),
    zip: z.string().min(1).max(200).optional().describe('All of them in one archive of this name.'),
  })
  .refine((f) => JSON.stringify(f).length < 1000 * MOST_NODES, 'The description is too long.');
export type Format = z.infer<typeof FormatSchema>;
