import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { decode } from '../../formats/own/encoding';
import { doubtsOf } from '../../formats/own/doubts';
import type {
  Container,
  Encoding,
  Format,
  InlineNode,
  JsonNode,
  LineNode,
  OwnFile,
  Value,
  XmlNode,
} from '../../formats/own/schema';
import type { Piece } from '../../score/piece';
import { slugOf } from '../../target/words';
import type { Target } from '../../target/schema';
import { worldOf, type World } from '../own/rows';
import { writeFormat } from '../own/write';
import { describeBinary } from './binary';
import { isLeaf, solve, type Finding, type Shape, type Solved } from './solve';

/** What an example was found to be, with what is explained of it and what is not. */
export interface Described {
  readonly format: Format;
  readonly findings: readonly Finding[];
  /** Written again from the same score it has the very same bytes. */
  readonly identical: boolean;
  /** The first byte that is written otherwise. */
  readonly differsAt: number | null;
  readonly doubts: readonly string[];
}

/** A file that the far side takes, explained by the score that it was made from. */
export function describeExample(
  bytes: Uint8Array,
  name: string,
  piece: Piece,
  target: Target,
): Described | { readonly problem: string } {
  if (bytes.length === 0) return { problem: 'The example is empty.' };
  const world = worldOf(piece, target);
  if (world.notes.count === 0)
    return { problem: 'The score has no notes: nothing can be explained by it.' };
  const ending = /\.[A-Za-z0-9]{1,12}$/.exec(name)?.[0] ?? '.txt';
  const path = name.replace(/\.[^.]*$/, '') === world.facts.get('file') ? `{file}${ending}` : name;
  let best: Described | null = null;
  const consider = (file: Omit<OwnFile, 'path'>, findings: readonly Finding[]) => {
    const format: Format = {
      formatVersion: 1,
      id: slugOf(name.replace(/\.[^.]*$/, '')) || 'own',
      name: name.replace(/\.[^.]*$/, '') || 'Own format',
      files: [{ path, ...file }],
    };
    const [written] = writeFormat(format, [piece], target).files;
    const differsAt = written ? firstDifference(written.bytes, bytes) : 0;
    const doubts = doubtsOf(format).map((d) => d.says);
    const described = { format, findings, identical: differsAt === null, differsAt, doubts };
    if (!best || score(described) > score(best)) best = described;
  };
  const text = isText(bytes);
  if (text) {
    const found = describeText(text.text, world);
    for (const { container, findings } of found)
      for (const rest of endingsOf(text.text))
        consider(
          { ...(text.encoding === 'utf-8' ? {} : { encoding: text.encoding }), ...rest, container },
          findings,
        );
  } else
    for (const { container, findings } of describeBinary(bytes, world))
      consider({ container }, findings);
  return (
    best ?? { problem: 'No container was recognised: neither text, JSON, XML, table nor records.' }
  );
}

const score = (d: Described): number =>
  (d.identical ? 1000 : 0) -
  d.findings.filter((f) => f.is === 'unexplained').length * 20 -
  d.doubts.length +
  d.findings.filter((f) => f.is === 'explained').length +
  (d.differsAt ?? 0) / 1e9;

function firstDifference(a: Uint8Array, b: Uint8Array): number | null {
  const most = Math.max(a.length, b.length);
  for (let i = 0; i < most; i++) if (a[i] !== b[i]) return i;
  return null;
}

/** The text of an example and its encoding; null where its bytes are none. */
function isText(bytes: Uint8Array): { text: string; encoding: Encoding } | null {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return read(bytes, 'utf-16le');
  if (a === 0xfe && b === 0xff) return read(bytes, 'utf-16be');
  if (a === 0xef && b === 0xbb && c === 0xbf) return read(bytes, 'utf-8-mark');
  for (const byte of bytes) if (byte < 9 || (byte > 13 && byte < 32 && byte !== 27)) return null;
  return read(bytes, 'utf-8') ?? read(bytes, 'shift-jis') ?? read(bytes, 'latin-1');
}
const read = (bytes: Uint8Array, encoding: Encoding) => {
  const text = decode(bytes, encoding);
  return text === null ? null : { text, encoding };
};

/** How its lines end. */
function endingsOf(text: string): Pick<OwnFile, 'lineEnd' | 'lastLineEnd'>[] {
  const lineEnd = text.includes('\r\n')
    ? ('crlf' as const)
    : text.includes('\n')
      ? ('lf' as const)
      : text.includes('\r')
        ? ('cr' as const)
        : ('lf' as const);
  const end = { lf: '\n', crlf: '\r\n', cr: '\r' }[lineEnd];
  return [
    {
      ...(lineEnd === 'lf' ? {} : { lineEnd }),
      ...(text.endsWith(end) ? {} : { lastLineEnd: false }),
    },
  ];
}

interface Found {
  readonly container: Container;
  readonly findings: readonly Finding[];
}

function describeText(text: string, world: World): Found[] {
  const trimmed = text.trimStart();
  if (/^[{[]/.test(trimmed)) {
    const found = describeJson(text, world);
    if (found.length > 0) return found;
  }
  if (trimmed.startsWith('<') && XMLValidator.validate(text) === true)
    return describeXml(text, world);
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.at(-1) === '') lines.pop();
  return [...describeTable(lines, world), ...describeLines(lines, world)];
}

// JSON.

function describeJson(text: string, world: World): Found[] {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return [];
  }
  const { solved, findings } = solve(shapeOf(data), world);
  const root = jsonNode(solved, shapeOf(data), data);
  const indents = [0, 1, 2, 3, 4, 8].filter((n) =>
    n === 0 ? !text.trim().includes('\n') : text.includes(`\n${' '.repeat(n)}`),
  );
  return (indents.length > 0 ? indents : [0]).map((indent) => ({
    container: { kind: 'json', ...(indent === 0 ? {} : { indent }), root },
    findings,
  }));
}

function shapeOf(data: unknown): Shape {
  if (Array.isArray(data)) return { items: data.map(shapeOf) };
  if (typeof data === 'object' && data !== null) {
    const entries = Object.entries(data);
    // Keys that may be data: the values under them are alike.
    const inner = entries.map(([, v]) => v as unknown);
    const alike =
      entries.length > 1 &&
      inner.every(
        (v) => typeof v === 'object' && v !== null && Array.isArray(v) === Array.isArray(inner[0]),
      );
    if (alike) return { items: inner.map(shapeOf), names: entries.map(([k]) => k) };
    return { fields: entries.map(([k, v]) => [k, shapeOf(v)]) };
  }
  return typeof data === 'number'
    ? { leaf: String(data), plain: true }
    : { leaf: String(data), plain: false };
}

/** Once more the example: constants of JSON are told apart by their kind. */
function jsonNode(solved: Solved, shape: Shape, data: unknown): JsonNode {
  if (isLeaf(solved)) {
    const { value } = solved;
    if (value.is === 'constant' && (typeof data === 'boolean' || data === null))
      return { value: { is: 'constant', value: data } };
    const isText = typeof data === 'string' && value.is !== 'constant';
    return { value, ...(isText && needsText(value) ? { as: 'text' as const } : {}) };
  }
  if ('fields' in solved) {
    const object = solved.fields.map(([key, s]) => {
      const inner = (data as Record<string, unknown>)[key];
      return { key, node: jsonNode(s, shapeOf(inner), inner) };
    });
    return { object };
  }
  if ('list' in solved)
    return { list: solved.list.map((s, i) => jsonNode(s, shape, (data as unknown[])[i])) };
  const items: unknown[] = Array.isArray(data) ? data : Object.values(data as object);
  const inner = items.find((i) => !isEmptyList(i)) ?? items[0];
  const node = jsonNode(solved.item, shapeOf(inner), inner);
  return solved.key ? { each: solved.each, key: solved.key, node } : { each: solved.each, node };
}
const isEmptyList = (v: unknown) => Array.isArray(v) && v.length === 0;
const needsText = (v: Value) =>
  v.is === 'time' ||
  v.is === 'velocity' ||
  (v.is === 'key' && (v.as === 'number' || v.as === 'index' || v.as === 'lane')) ||
  v.is === 'row-number' ||
  v.is === 'channel';

// XML.

type Parsed = Record<string, unknown> & { ':@'?: Record<string, string> };
const nameOf = (e: Parsed) => Object.keys(e).find((k) => k !== ':@')!;

interface Element {
  readonly name: string;
  readonly attributes: readonly (readonly [string, string])[];
  readonly text: string | null;
  readonly children: readonly Element[];
}

function elementOf(e: Parsed): Element {
  const name = nameOf(e);
  const inner = (e[name] as Parsed[]) ?? [];
  const texts = inner.filter((c) => nameOf(c) === '#text').map((c) => String(c['#text']));
  return {
    name,
    attributes: Object.entries(e[':@'] ?? {}),
    text: texts.length > 0 ? texts.join('') : null,
    children: inner.filter((c) => nameOf(c) !== '#text').map(elementOf),
  };
}

/** Children of one name behind each other are a list. */
function groupsOf(children: readonly Element[]): { name: string; own: Element[] }[] {
  const out: { name: string; own: Element[] }[] = [];
  for (const child of children) {
    const last = out.at(-1);
    if (last?.name === child.name) last.own.push(child);
    else out.push({ name: child.name, own: [child] });
  }
  return out;
}

function xmlShape(e: Element): Shape {
  return {
    fields: [
      ...e.attributes.map(([k, v]): [string, Shape] => [`@${k}`, { leaf: v, plain: false }]),
      ...(e.text === null ? [] : ([['#', { leaf: e.text, plain: false }]] as [string, Shape][])),
      ...groupsOf(e.children).map(({ name, own }): [string, Shape] => [
        `<${name}>`,
        own.length === 1 && own[0]!.attributes.length > 3
          ? xmlShape(own[0]!)
          : { items: own.map(xmlShape) },
      ]),
    ],
  };
}

function xmlNode(solved: Solved, name: string): XmlNode {
  const node: { -readonly [K in keyof XmlNode]: XmlNode[K] } & { name: string } = { name };
  const attributes: { name: string; value: Value }[] = [];
  const children: XmlNode[] = [];
  for (const [key, s] of 'fields' in solved ? solved.fields : []) {
    if (key.startsWith('@') && isLeaf(s)) attributes.push({ name: key.slice(1), value: s.value });
    else if (key === '#' && isLeaf(s)) node.text = s.value;
    else {
      const inner = key.slice(1, -1);
      if ('each' in s) children.push({ each: s.each, ...xmlNode(s.item, inner) });
      else if ('list' in s) for (const one of s.list) children.push(xmlNode(one, inner));
      else children.push(xmlNode(s, inner));
    }
  }
  if (attributes.length > 0) node.attributes = attributes;
  if (children.length > 0) node.children = children;
  return node;
}

function describeXml(text: string, world: World): Found[] {
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: true,
    ignoreDeclaration: true,
  });
  let all: Parsed[];
  try {
    all = parser.parse(text) as Parsed[];
  } catch {
    return [];
  }
  const top = all.find((e) => nameOf(e) !== '#text' && !nameOf(e).startsWith('?'));
  if (!top) return [];
  const element = elementOf(top);
  const { solved, findings } = solve(xmlShape(element), world);
  const root = xmlNode(solved, element.name);
  const indent = /\n( +)</.exec(text)?.[1]!.length ?? 0;
  return [
    {
      container: {
        kind: 'xml',
        ...(indent === 2 ? {} : { indent }),
        ...(text.startsWith('<?xml') ? {} : { declaration: false }),
        root,
      },
      findings,
    },
  ];
}

// Tables and lines.

const cellsOf = (line: string, mark: string): string[] | null => {
  const out: string[] = [];
  let rest = line;
  for (;;) {
    const quoted = /^"((?:[^"]|"")*)"/.exec(rest);
    const cell = quoted ? quoted[0] : rest.split(mark, 1)[0]!;
    if (quoted && rest.length > cell.length && !rest.startsWith(mark, cell.length)) return null;
    out.push(quoted ? quoted[1]!.replaceAll('""', '"') : cell);
    if (rest.length === cell.length) return out;
    rest = rest.slice(cell.length + mark.length);
  }
};
const NUMERIC = /^-?\d+([.,]\d+)?$/;

function describeTable(lines: readonly string[], world: World): Found[] {
  const out: Found[] = [];
  for (const mark of [',', ';', '\t', '|', ' ']) {
    const rows = lines.map((l) => cellsOf(l, mark));
    const width = rows.at(-1)?.length ?? 0;
    if (width < 2) continue;
    let from = lines.length;
    while (from > 0 && rows[from - 1]?.length === width) from--;
    const body = rows.slice(from) as string[][];
    if (body.length < 2) continue;
    for (const heading of [true, false]) {
      const head = heading ? body[0]! : null;
      const cells = heading ? body.slice(1) : body;
      if (cells.length === 0 || (head && head.some((c) => NUMERIC.test(c)))) continue;
      const comma = mark !== ',' && cells.some((r) => r.some((c) => /^-?\d+,\d+$/.test(c)));
      const decimal = comma ? (',' as const) : ('.' as const);
      const shape: Shape = {
        items: cells.map((r) => ({
          fields: r.map((c, i): [string, Shape] => [
            head?.[i] ?? `column ${i + 1}`,
            { leaf: c, plain: false, decimal },
          ]),
        })),
        always: true,
      };
      const { solved, findings } = solve(shape, world);
      if (!('each' in solved) || !('fields' in solved.item)) continue;
      const quotes = lines.slice(from).every((l) => l.startsWith('"') && l.endsWith('"'));
      const before = lines.slice(0, from).map((l) => onceParts(l, world));
      out.push({
        findings: [...before.flatMap((b) => b.findings), ...findings],
        container: {
          kind: 'table',
          ...(mark === ',' ? {} : { delimiter: mark }),
          ...(heading ? {} : { heading: false }),
          ...(quotes ? { quotes: 'always' as const } : {}),
          ...(comma ? { decimal } : {}),
          ...(before.length > 0 ? { before: before.map((b) => b.parts) } : {}),
          rows: solved.each,
          columns: solved.item.fields.map(([name, s], i) => ({
            name: head?.[i] ?? name,
            value: isLeaf(s) ? s.value : { is: 'constant', value: '' },
          })),
        },
      });
    }
  }
  return out;
}

const TOKEN = /(-?\d+(?:\.\d+)?%?|[A-Za-z_♯♭#]+-?\d*|[^\sA-Za-z0-9]+|\s+)/gu;
/** A line as values and what stands between them. */
const tokensOf = (line: string): string[] => line.match(TOKEN) ?? [];

/** A line that stands once: values where a fact is met, else letters. */
function onceParts(line: string, world: World): { parts: InlineNode[]; findings: Finding[] } {
  const findings: Finding[] = [];
  const title = world.facts.get('title') ?? '';
  const marked = [title, world.facts.get('file') ?? ''].filter((t) => t.length > 1);
  for (const words of marked) {
    const from = line.indexOf(words);
    if (from < 0) continue;
    const before = onceParts(line.slice(0, from), world);
    const behind = onceParts(line.slice(from + words.length), world);
    const key = words === title ? 'title' : 'file';
    return {
      parts: [...before.parts, { value: { is: 'fact', key } }, ...behind.parts],
      findings: [
        ...before.findings,
        { where: `line “${line.slice(0, 30)}”`, says: `the ${key}`, rows: 1, is: 'explained' },
        ...behind.findings,
      ],
    };
  }
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else parts.push(text);
  };
  // Numbers alone: a digit inside a word belongs to it.
  for (const piece of line.split(/((?<![\w.])-?\d+(?:\.\d+)?(?![\w.]))/)) {
    if (!NUMERIC.test(piece)) {
      if (piece !== '') add(piece);
      continue;
    }
    const { solved, findings: found } = solve({ leaf: piece, plain: false }, world);
    if (isLeaf(solved) && solved.sure) {
      parts.push({ value: solved.value });
      findings.push(...found.map((f) => ({ ...f, where: `line “${line.slice(0, 30)}”` })));
    } else add(piece);
  }
  return { parts, findings };
}

/** What two lines of one kind have in common: their marks, with their values left out. */
const kindOf = (line: string): string =>
  tokensOf(line)
    .map((t) => (/^-?\d/.test(t) ? '#' : /^[A-Ga-g][#♯b♭s]?-?\d$/u.test(t) ? '#' : t))
    .join('');

function describeLines(lines: readonly string[], world: World): Found[] {
  const counts = new Map<string, number>();
  for (const line of lines) counts.set(kindOf(line), (counts.get(kindOf(line)) ?? 0) + 1);
  const out: Found[] = [];
  // One kind of line for each row, between lines that stand once.
  for (const [kind, count] of [...counts].sort((a, b) => b[1] - a[1]).slice(0, 3)) {
    if (count < 2) continue;
    const from = lines.findIndex((l) => kindOf(l) === kind);
    const to = lines.findLastIndex((l) => kindOf(l) === kind) + 1;
    const body = lines.slice(from, to);
    const once = (l: string) => onceParts(l, world);
    const before = lines.slice(0, from).map(once);
    const behind = lines.slice(to).map(once);
    const wrap = (nodes: LineNode[], findings: readonly Finding[]): Found => ({
      findings: [...before, ...behind].flatMap((b) => b.findings).concat(findings),
      container: {
        kind: 'lines',
        lines: [
          ...before.map((b): LineNode => ({ parts: b.parts })),
          ...nodes,
          ...behind.map((b): LineNode => ({ parts: b.parts })),
        ],
      },
    });
    if (body.every((l) => kindOf(l) === kind)) {
      const rows = rowLines(body, world);
      if (rows) out.push(wrap([rows.node], rows.findings));
      continue;
    }
    const sections = sectionLines(body, kind, lines.slice(0, from), world);
    if (sections) {
      const dropped = sections.took;
      const found = wrap([sections.node], sections.findings);
      if (found.container.kind === 'lines')
        found.container.lines.splice(before.length - dropped, dropped);
      out.push(found);
    }
  }
  const lists = listLines(lines, world);
  if (lists) out.push(lists);
  return out;
}

/** Lines of one kind: values where they differ, letters where they do not. */
function rowLines(
  body: readonly string[],
  world: World,
): { node: LineNode; findings: readonly Finding[] } | null {
  const tokens = body.map(tokensOf);
  const width = tokens[0]!.length;
  if (tokens.some((t) => t.length !== width)) return null;
  const shape: Shape = {
    items: tokens.map((row) => ({
      fields: row.flatMap((t, i): [string, Shape][] =>
        tokens.some((o) => o[i] !== t) || /^-?\d/.test(t)
          ? [[`place ${i + 1}`, { leaf: t.replace(/%$/, ''), plain: false }]]
          : [],
      ),
    })),
    always: true,
  };
  const { solved, findings } = solve(shape, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  return {
    node: { each: solved.each, lines: [{ parts: partsOf(tokens, solved.item.fields) }] },
    findings,
  };
}

function partsOf(
  tokens: readonly string[][],
  fields: readonly (readonly [string, Solved])[],
): InlineNode[] {
  const byPlace = new Map(fields.map(([name, s]) => [Number(name.slice(6)) - 1, s]));
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else if (text !== '') parts.push(text);
  };
  tokens[0]!.forEach((t, i) => {
    const solved = byPlace.get(i);
    if (!solved || !isLeaf(solved)) return add(t);
    if (solved.value.is === 'constant') add(String(solved.value.value));
    else parts.push({ value: solved.value });
    if (t.endsWith('%')) add('%');
  });
  return parts;
}

/** Sections that begin with a line of their own: a seat or a part, and its rows. */
function sectionLines(
  body: readonly string[],
  kind: string,
  before: readonly string[],
  world: World,
): { node: LineNode; findings: readonly Finding[]; took: number } | null {
  const heads: number[] = [];
  const all = [...before, ...body];
  all.forEach((l, i) => {
    if (kindOf(l) !== kind && kindOf(all[i + 1] ?? '') === kind) heads.push(i);
  });
  const first = heads[0];
  if (first === undefined) return null;
  const took = before.length - first;
  if (took < 0 || took > 1) return null;
  const sections: { head: string; rows: string[] }[] = [];
  for (let i = first; i < all.length; i++)
    if (heads.includes(i)) sections.push({ head: all[i]!, rows: [] });
    else if (kindOf(all[i]!) === kind) sections.at(-1)!.rows.push(all[i]!);
    else return null;
  const tokens = sections.map((s) => s.rows.map(tokensOf));
  const width = tokens[0]![0]!.length;
  if (tokens.flat().some((t) => t.length !== width)) return null;
  const flat = tokens.flat();
  const varies = flat[0]!.map((t, i) => flat.some((o) => o[i] !== t) || /^-?\d/.test(t));
  const heading = common(sections.map((s) => s.head));
  const shape: Shape = {
    items: sections.map((s, n) => ({
      fields: [
        [
          'head',
          {
            leaf: s.head.slice(heading.before.length, s.head.length - heading.behind.length),
            plain: false,
          },
        ],
        [
          'rows',
          {
            always: true,
            items: tokens[n]!.map((row) => ({
              fields: row.flatMap((t, i): [string, Shape][] =>
                varies[i] ? [[`place ${i + 1}`, { leaf: t.replace(/%$/, ''), plain: false }]] : [],
              ),
            })),
          },
        ],
      ],
    })),
    always: true,
  };
  const { solved, findings } = solve(shape, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  const [head, rows] = solved.item.fields;
  if (!head || !rows || !isLeaf(head[1]) || !('each' in rows[1]) || !('fields' in rows[1].item))
    return null;
  return {
    took,
    findings,
    node: {
      each: solved.each,
      lines: [
        {
          parts: [heading.before, { value: head[1].value }, heading.behind].filter((p) => p !== ''),
        },
        { each: rows[1].each, lines: [{ parts: partsOf(flat, rows[1].item.fields) }] },
      ],
    },
  };
}

/** What all lines begin and end with; a name is left whole between them. */
function common(lines: readonly string[]): { before: string; behind: string } {
  const [first] = lines;
  let n = 0;
  while (n < first!.length && lines.every((l) => l[n] === first![n])) n++;
  let m = 0;
  while (
    m < first!.length - n &&
    lines.every((l) => l.length - m > n && l.at(-1 - m) === first!.at(-1 - m))
  )
    m++;
  const before = first!.slice(0, n).replace(/[A-Za-z0-9]+$/, '');
  const behind = m === 0 ? '' : first!.slice(first!.length - m).replace(/^[A-Za-z0-9]+/, '');
  return { before, behind };
}

/** A line for each strike, with its notes in a list inside it. */
function listLines(lines: readonly string[], world: World): Found | null {
  for (const between of ['+', ',', ' ', '/', '|', '-', ';'])
    for (const lead of [': ', ' = ', '=', '\t', ' ', ':', ';', ',']) {
      if (lead === between) continue;
      const split = (l: string) => {
        const at = l.indexOf(lead);
        return at < 0
          ? null
          : ([l.slice(0, at), l.slice(at + lead.length).split(between)] as const);
      };
      const from = lines.findIndex((l) => /^-?\d/.test(split(l)?.[0] ?? ''));
      const to = lines.findLastIndex((l) => /^-?\d/.test(split(l)?.[0] ?? '')) + 1;
      if (from < 0 || to - from < 2) continue;
      const body = lines.slice(from, to).map(split);
      if (body.some((b) => b === null) || !body.some((b) => b![1].length > 1)) continue;
      const shape: Shape = {
        items: body.map((b) => ({
          fields: [
            ['time', { leaf: b![0], plain: false }],
            [
              'notes',
              { items: b![1].map((t): Shape => ({ leaf: t, plain: false })), always: true },
            ],
          ],
        })),
        always: true,
      };
      const { solved, findings } = solve(shape, world);
      if (
        !('each' in solved) ||
        !('fields' in solved.item) ||
        findings.some((f) => f.is === 'unexplained')
      )
        continue;
      const [time, notes] = solved.item.fields;
      if (!time || !notes || !isLeaf(time[1]) || !('each' in notes[1]) || !isLeaf(notes[1].item))
        continue;
      const once = (l: string): LineNode => ({ parts: onceParts(l, world).parts });
      return {
        findings,
        container: {
          kind: 'lines',
          lines: [
            ...lines.slice(0, from).map(once),
            {
              each: solved.each,
              lines: [
                {
                  parts: [
                    { value: time[1].value },
                    lead,
                    { each: notes[1].each, between, parts: [{ value: notes[1].item.value }] },
                  ],
                },
              ],
            },
            ...lines.slice(to).map(once),
          ],
        },
      };
    }
  return null;
}
