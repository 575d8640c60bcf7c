import * as z from 'zod';
import {
  RowsSchema,
  short,
  slug,
  ValueSchema,
  WhenSchema,
  type Rows,
  type Value,
  type When,
} from './value-schema';

export * from './value-schema';

/**
 * A file format of somebody's own, as data. One description does three jobs: it writes, it reads back
 * strictly, and where it says enough a file of it is a source. No code stands in it.
 */
export const FORMAT_VERSION = 1;

/** How deep a tree may be, and how much of it there may be. */
const MOST_NODES = 400;
const line = z.string().min(1).max(200);
const each = { each: RowsSchema };

/** Where something stands only for some rows: for those that are meant. */
const when = WhenSchema.optional();

/** A line of text, or several that are repeated. */
export interface LineNode {
  parts?: readonly InlineNode[];
  when?: When | undefined;
  skip?: 'zero' | undefined;
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
    z.strictObject({
      parts: z.array(InlineSchema).max(60),
      when: when.describe(
        'Only for these. Of several such lines behind each other the first that is meant stands.',
      ),
      skip: z
        .literal('zero')
        .optional()
        .describe('Left out where the first number in it is 0, as a wait of nothing.'),
    }),
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
  | {
      object: readonly { key: string; node: JsonNode; when?: When | undefined }[];
      line?: OneLine | undefined;
    }
  | { list: readonly JsonNode[]; line?: OneLine | undefined }
  | { each: Rows; node: JsonNode; line?: OneLine | undefined }
  | { each: Rows; key: Value; node: JsonNode; line?: OneLine | undefined };
const JsonSchema: z.ZodType<JsonNode> = z.lazy(() =>
  z.union([
    z.strictObject({ value: ValueSchema, as: z.enum(['text', 'number']).optional() }),
    z.strictObject({
      object: z.array(z.strictObject({ key: short, node: JsonSchema, when })).max(100),
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
  attributes?: readonly { name: string; value: Value; when?: When | undefined }[] | undefined;
  text?: Value | undefined;
  children?: readonly XmlNode[] | undefined;
}
const xmlName = z.string().regex(/^[A-Za-z_][\w.-]{0,60}$/, 'a name of letters, digits, . and -');
const XmlSchema: z.ZodType<XmlNode> = z.lazy(() =>
  z.strictObject({
    each: RowsSchema.optional(),
    name: xmlName,
    attributes: z
      .array(z.strictObject({ name: xmlName, value: ValueSchema, when }))
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
    declaration: z
      .union([
        z.boolean(),
        z
          .string()
          .regex(/^( [a-z]+=("[\w.-]+"|'[\w.-]+'))+$/)
          .max(200),
      ])
      .optional()
      .describe('What stands in the first line behind its name; version and encoding if unsaid.'),
    closing: z
      .literal('spaced')
      .optional()
      .describe('A space before the sign that ends an element.'),
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
