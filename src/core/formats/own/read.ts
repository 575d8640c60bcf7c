import { decode } from './encoding';
import { checkVelocities } from './read-bounds';
import { checkGrid } from './read-grid';
import { takeLine, takeText, type TextLine } from './read-row';
import { newRow, Unread, type ReadResult, type ReadRow } from './row';
import { readBinary } from './read-binary';
import { readJsonTree } from './read-json';
import { readXmlTree } from './read-xml';
import { isNumber } from './patterns';
import type { Container, InlineNode, LineNode, OwnFile } from './schema';

const MOST_BYTES = 200_000_000;

/** Reads a file by its description alone: strictly, and with nothing of what wrote it. */
export function readFormat(file: OwnFile, bytes: Uint8Array): ReadResult {
  try {
    if (bytes.length > MOST_BYTES) throw new Unread('the file', 'It is too large to be read.');
    const root = readContainer(file, bytes);
    checkGrid(root);
    checkVelocities(root);
    return { file: root };
  } catch (error) {
    if (error instanceof Unread) return { problem: { at: error.at, says: error.says } };
    throw error;
  }
}

function readContainer(file: OwnFile, bytes: Uint8Array): ReadRow {
  const { container, encoding } = file;
  if (container.kind === 'binary') return readBinary(container, bytes, encoding);
  const text = decode(bytes, encoding);
  if (text === null)
    throw new Unread('the start', `The bytes are not ${encoding ?? 'utf-8'} as it is described.`);
  if (container.kind === 'json') return readJsonTree(container.root, text);
  if (container.kind === 'xml') return readXmlTree(container.root, text);
  return readText(container, linesIn(text, file));
}

/** The lines of a text; one that ends otherwise than described is a fault. */
function linesIn(text: string, { lineEnd = 'lf', lastLineEnd = true }: OwnFile): TextLine[] {
  const end = { lf: '\n', crlf: '\r\n', cr: '\r' }[lineEnd];
  const out: TextLine[] = [];
  let at = 0;
  for (const line of text.split(end)) {
    if (/[\r\n]/.test(line))
      throw new Unread(`line ${out.length + 1}`, 'The line end is not the one described.');
    out.push({ text: line, at });
    at += line.length + end.length;
  }
  if (!lastLineEnd) return out;
  if (out.at(-1)!.text !== '')
    throw new Unread(`line ${out.length}`, 'The last line has no end of its own.');
  out.pop();
  return out;
}

class Cursor {
  n = 0;
  constructor(readonly lines: readonly TextLine[]) {}
  get line(): TextLine | undefined {
    return this.lines[this.n];
  }
}

type TextContainer = Extract<Container, { kind: 'table' | 'lines' }>;

function readText(container: TextContainer, lines: readonly TextLine[]): ReadRow {
  const root = newRow(null);
  const cursor = new Cursor(lines);
  const decimal = container.decimal ?? '.';
  if (container.kind === 'lines') readLines(container.lines, cursor, root, decimal);
  else readTable(container, cursor, root, decimal);
  if (cursor.line)
    throw new Unread(
      `line ${cursor.n + 1}`,
      `“${cut(cursor.line.text)}” is not as it is described.`,
    );
  return root;
}

const cut = (text: string) => (text.length > 60 ? `${text.slice(0, 60)}…` : text);

function readLines(nodes: readonly LineNode[], cursor: Cursor, into: ReadRow, decimal: string) {
  let isOneThere = false;
  for (const node of nodes) {
    if (!node.when) isOneThere = false;
    // One that is for some rows alone and is not there says no 0.
    if (node.parts && node.skip && !node.when) {
      if (!cursor.line || !fits(node.parts, cursor.line, decimal)) {
        takeZero(node.parts, cursor, into);
        continue;
      }
    }
    if (node.parts && node.when) {
      // One of several that may stand there, or none.
      const { line } = cursor;
      if (isOneThere || !line || !fits(node.parts, line, decimal)) continue;
      takeLine(node.parts, line, into, decimal);
      into.told.push({ when: node.when, is: true });
      cursor.n++;
      isOneThere = true;
      continue;
    }
    if (node.parts) {
      const { line } = cursor;
      if (!line || !takeLine(node.parts, line, into, decimal))
        throw new Unread(
          `line ${cursor.n + 1}`,
          line ? `“${cut(line.text)}” is not as it is described.` : 'The file ends too early.',
        );
      cursor.n++;
      continue;
    }
    // A block goes on for as long as its first line is there.
    while (cursor.line) {
      const from = cursor.n;
      const row = newRow(node.each!);
      if (!startsHere(node.lines!, cursor.line, decimal)) break;
      readLines(node.lines!, cursor, row, decimal);
      if (cursor.n === from) break;
      into.rows.push(row);
    }
  }
}

const fits = (parts: readonly InlineNode[], line: TextLine, decimal: string): boolean =>
  takeLine(parts, line, newRow(null), decimal);

/** A line that is left out says 0 all the same. */
function takeZero(parts: readonly InlineNode[], { line }: Cursor, into: ReadRow): void {
  for (const part of parts) {
    if (typeof part === 'string' || !('value' in part) || !isNumber(part.value)) continue;
    const at = line?.at ?? 0;
    return void into.values.push({ value: part.value, said: 0, from: at, to: at });
  }
}

function startsHere(nodes: readonly LineNode[], line: TextLine, decimal: string): boolean {
  for (const node of nodes) {
    if (node.parts && fits(node.parts, line, decimal)) return true;
    // What stands for some rows alone need not be there.
    if (node.parts && !node.when && !node.skip) return false;
    if (node.lines && startsHere(node.lines!, line, decimal)) return true;
  }
  return false;
}

function readTable(
  t: Extract<Container, { kind: 'table' }>,
  cursor: Cursor,
  root: ReadRow,
  decimal: string,
) {
  for (const parts of t.before ?? []) {
    if (!cursor.line || !takeLine(parts, cursor.line, root, decimal))
      throw new Unread(
        `line ${cursor.n + 1}`,
        'A line before the table is not as it is described.',
      );
    cursor.n++;
  }
  const where = () => `line ${cursor.n + 1}`;
  if (t.heading !== false) {
    const cells = cursor.line ? cellsOf(t, cursor.line, where()) : [];
    if (cells.length !== t.columns.length || cells.some((c, i) => c.text !== t.columns[i]!.name))
      throw new Unread(
        where(),
        `The columns have to be ${t.columns.map((c) => c.name).join(', ')}.`,
      );
    cursor.n++;
  }
  for (; cursor.line; cursor.n++) {
    const cells = cellsOf(t, cursor.line, where());
    if (cells.length !== t.columns.length)
      throw new Unread(where(), `It has ${cells.length} cells; ${t.columns.length} are described.`);
    const row = newRow(t.rows);
    t.columns.forEach(({ name, value }, i) => {
      const cell = cells[i]!;
      const { from, to } = cell;
      if (!takeText(row, value, cell.text, { from, to, decimal }))
        throw new Unread(`${where()}, ${name}`, `“${cut(cell.text)}” is no value of this column.`);
    });
    root.rows.push(row);
  }
}

interface Cell {
  readonly text: string;
  readonly from: number;
  readonly to: number;
}

function cellsOf(
  t: Extract<Container, { kind: 'table' }>,
  { text, at }: TextLine,
  where: string,
): Cell[] {
  const { delimiter = ',', quotes = 'needed', widths } = t;
  const out: Cell[] = [];
  if (widths) {
    let from = 0;
    for (const width of widths) {
      const said = text.slice(from, from + width);
      out.push({ text: said.trimEnd(), from: at + from, to: at + from + said.length });
      from += width;
    }
    if (from !== text.length) throw new Unread(where, 'The line is not as wide as described.');
    return out;
  }
  let i = 0;
  for (;;) {
    if (quotes !== 'never' && text[i] === '"') {
      const from = i++;
      let said = '';
      for (; i < text.length; i++) {
        if (text[i] !== '"') said += text[i]!;
        else if (text[i + 1] === '"') {
          said += '"';
          i++;
        } else break;
      }
      if (text[i] !== '"') throw new Unread(where, 'A quotation mark is not closed.');
      i++;
      out.push({ text: said, from: at + from, to: at + i });
    } else {
      const to = text.indexOf(delimiter, i);
      const end = to < 0 ? text.length : to;
      if (quotes === 'always')
        throw new Unread(where, 'A cell stands without its quotation marks.');
      out.push({ text: text.slice(i, end), from: at + i, to: at + end });
      i = end;
    }
    if (i === text.length) return out;
    if (!text.startsWith(delimiter, i))
      throw new Unread(where, 'A cell goes on behind its quotes.');
    i += delimiter.length;
  }
}
