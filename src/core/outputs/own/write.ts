import type { Piece } from '../../score/piece';
import { plainName } from '../../smf/name';
import type { Target } from '../../target/schema';
import { eachRow, rootOf, type Here } from './each-row';
import { encode } from '../../formats/own/encoding';
import { isCase, rowsOf, worldOf, type Row } from './rows';
import type { World } from './world';
import type {
  Container,
  Format,
  InlineNode,
  JsonNode,
  LineNode,
  OwnFile,
  Value,
  When,
  XmlNode,
} from '../../formats/own/schema';
import { meantOf, numberOf, textSaid, valueOf, writeSaid } from './values';
import { writeBinary } from './write-binary';

export interface WrittenFile {
  readonly path: string;
  readonly bytes: Uint8Array;
  /** Index of the piece that it is of. */
  readonly piece: number;
}

/** The files of a rendition in a format of somebody's own, in the order of the description. */
export function writeFormat(
  format: Format,
  pieces: readonly Piece[],
  target: Target,
): { files: WrittenFile[]; lost: string[] } {
  const files: WrittenFile[] = [];
  const lost = new Set<string>();
  for (const file of format.files)
    for (const { world, piece, names } of worldsOf(file, pieces, target)) {
      const path = pathOf(file.path, names, files.length + 1);
      const { container } = file;
      if (container.kind === 'binary') {
        const here = rootOf(world);
        const text = (value: string) => {
          const { bytes, lost: gone } = encode(value, file.encoding);
          for (const letter of gone) lost.add(letter);
          return bytes;
        };
        files.push({ path, piece, bytes: writeBinary(container, here, text) });
        continue;
      }
      const end = { lf: '\n', crlf: '\r\n', cr: '\r' }[file.lineEnd ?? 'lf'];
      const lines = textOf(container, world);
      const whole = lines.join(end) + (file.lastLineEnd === false ? '' : end);
      const { bytes, lost: gone } = encode(whole, file.encoding);
      for (const letter of gone) lost.add(letter);
      files.push({ path, piece, bytes });
    }
  return { files, lost: [...lost] };
}

type Names = Readonly<Record<string, string>>;

function worldsOf(
  { per = 'piece' }: OwnFile,
  pieces: readonly Piece[],
  target: Target,
): { world: World; piece: number; names: Names }[] {
  const all = pieces.map((piece, index) => ({
    world: worldOf(piece, target),
    piece: index,
    names: namesOf(piece),
  }));
  if (per === 'delivery') return all.slice(0, 1);
  if (per === 'piece') return all;
  const of = { seat: 'seats', part: 'parts', rung: 'rungs' } as const;
  return all.flatMap(({ world, piece, names }) =>
    rowsOf({ of: of[per] }, world, null).map((row, n) => ({
      world: onlyNotes(world, row, pieces[piece]!, target),
      piece,
      names: {
        ...names,
        seat: row.seat?.name ?? '',
        part: row.part?.name ?? '',
        rung: String(row.rung ?? n + 1),
      },
    })),
  );
}

/** The same piece with the notes of one row alone. */
function onlyNotes(world: World, row: Row, piece: Piece, target: Target): World {
  const ids = new Set((row.notes ?? []).map((i) => world.notes.id[i]!));
  const parts = piece.score.parts.map((p) =>
    p.notes.id.subarray(0, p.notes.count).some((id) => ids.has(id)) ? p : { ...p, leftOut: true },
  );
  return worldOf({ ...piece, score: { ...piece.score, parts } }, target);
}

function namesOf(piece: Piece): Names {
  const file = piece.delivery.fileName.replace(/\.[^.]*$/, '');
  return {
    file,
    title: piece.delivery.metadata?.title ?? file,
    place: piece.delivery.place ?? '',
  };
}

/** A path of names that are checked: nothing of it leads out of the delivery. */
function pathOf(template: string, names: Names, number: number): string {
  return template
    .split('/')
    .map((step) =>
      plainName(
        step.replace(/\{(\w+)(?::(\d))?\}/g, (_, key: string, digits?: string) =>
          key === 'number'
            ? String(number).padStart(Number(digits ?? 1), '0')
            : (names[key] ?? key).replaceAll('/', '-'),
        ),
      ),
    )
    .filter((step) => step !== '' && step !== '.' && step !== '..')
    .join('/');
}

const said = (v: Value, { row, beside }: Here, decimal = '.') =>
  textSaid(v, row, decimal === '.' ? beside : { ...beside, decimal }, decimal);

function textOf(container: Exclude<Container, { kind: 'binary' }>, world: World): string[] {
  const root = rootOf(world);
  switch (container.kind) {
    case 'table':
      return tableOf(container, root);
    case 'lines': {
      const out: string[] = [];
      linesOf(container.lines, root, container.decimal ?? '.', out);
      return out;
    }
    case 'json':
      return jsonOf(container.root, root, container.indent ?? 0).split('\n');
    case 'xml': {
      const out: string[] = [];
      const { declaration = true, indent = 2, closing } = container;
      const told = declaration === true ? ' version="1.0" encoding="UTF-8"' : declaration;
      if (told !== false) out.push(`<?xml${told}?>`);
      xmlOf(container.root, root, { indent, closing: closing ? ' />' : '/>' }, 0, out);
      return out;
    }
  }
}

function inlineOf(parts: readonly InlineNode[], here: Here, decimal: string): string {
  let out = '';
  for (const p of parts) {
    if (typeof p === 'string') out += p;
    else if ('value' in p) out += said(p.value, here, decimal);
    else {
      const cells: string[] = [];
      eachRow(p.each, here.beside.world, here.row, (row, beside) =>
        cells.push(inlineOf(p.parts, { row, beside }, decimal)),
      );
      out += cells.join(p.between);
    }
  }
  return out;
}

/** Whether something stands there for this row. */
const stands = (when: When | undefined, { row, beside }: Here): boolean =>
  when === undefined || isCase(when, row, beside.inside, beside.world);

/** The first number of a line is 0. */
function isZero(parts: readonly InlineNode[], { row, beside }: Here): boolean {
  for (const part of parts) {
    if (typeof part === 'string' || !('value' in part)) continue;
    const said = valueOf(part.value, row, beside);
    if (said && 'whole' in said) return said.whole === 0;
  }
  return false;
}

function linesOf(nodes: readonly LineNode[], here: Here, decimal: string, out: string[]): void {
  // Of lines for some rows alone that stand behind each other one is written.
  let isOneThere = false;
  for (const node of nodes) {
    if (!node.when) isOneThere = false;
    if (node.parts) {
      if (isOneThere || !stands(node.when, here)) continue;
      if (node.skip && isZero(node.parts, here)) continue;
      out.push(inlineOf(node.parts, here, decimal));
      isOneThere = node.when !== undefined;
    } else
      eachRow(node.each!, here.beside.world, here.row, (row, beside) =>
        linesOf(node.lines!, { row, beside }, decimal, out),
      );
  }
}

function tableOf(t: Extract<Container, { kind: 'table' }>, root: Here): string[] {
  const { delimiter = ',', widths, quotes = 'needed', decimal = '.' } = t;
  const cell = (text: string, n: number): string => {
    if (widths) return text.slice(0, widths[n] ?? text.length).padEnd(widths[n] ?? 0);
    const plain = text.replace(/[\r\n]/g, ' ');
    if (quotes === 'never') return plain.replaceAll(delimiter, ' ');
    const needs = plain.includes(delimiter) || plain.includes('"');
    return quotes === 'always' || needs ? `"${plain.replaceAll('"', '""')}"` : plain;
  };
  const line = (cells: readonly string[]) => cells.map(cell).join(widths ? '' : delimiter);
  const out = (t.before ?? []).map((parts) => inlineOf(parts, root, decimal));
  if (t.heading !== false) out.push(line(t.columns.map((c) => c.name)));
  eachRow(t.rows, root.beside.world, root.row, (row, beside) => {
    out.push(line(t.columns.map((c) => said(c.value, { row, beside }, decimal))));
  });
  return out;
}

function jsonOf(node: JsonNode, root: Here, indent: number): string {
  const pad = (deep: number) => (indent === 0 ? '' : `\n${' '.repeat(indent * deep)}`);
  const gap = indent === 0 ? '' : ' ';
  /** `deep` is null inside what stands in one line. */
  const wrap = (open: string, items: readonly string[], close: string, deep: number | null) => {
    if (items.length === 0) return open + close;
    if (deep !== null)
      return `${open}${items.map((i) => pad(deep + 1) + i).join(',')}${pad(deep)}${close}`;
    return open + items.join(indent === 0 ? ',' : ', ') + close;
  };
  const write = (n: JsonNode, here: Here, above: number | null): string => {
    if ('value' in n) return scalar(n, here);
    const deep = n.line ? null : above;
    const inner = deep === null ? null : deep + 1;
    const [open, close] = n.line === 'spaced' ? ['{ ', ' }'] : ['{', '}'];
    if ('object' in n)
      return wrap(
        open,
        n.object
          .filter((o) => stands(o.when, here))
          .map((o) => `${JSON.stringify(o.key)}:${gap}${write(o.node, here, inner)}`),
        close,
        deep,
      );
    if ('list' in n)
      return wrap(
        '[',
        n.list.map((o) => write(o, here, inner)),
        ']',
        deep,
      );
    const items: string[] = [];
    eachRow(n.each, here.beside.world, here.row, (row, beside) => {
      const item = write(n.node, { row, beside }, inner);
      items.push(
        'key' in n ? `${JSON.stringify(said(n.key, { row, beside }))}:${gap}${item}` : item,
      );
    });
    return 'key' in n ? wrap(open, items, close, deep) : wrap('[', items, ']', deep);
  };
  return write(node, root, 0);
}

function scalar(node: Extract<JsonNode, { value: Value }>, here: Here): string {
  const { as } = node;
  const v = meantOf(node.value, here.row, here.beside);
  const it = valueOf(v, here.row, here.beside);
  if (it === null) return 'null';
  if ('plain' in it) return String(it.plain);
  if ('exact' in it && as !== 'text') return JSON.stringify(it.exact);
  if ('text' in it) {
    if (as !== 'number') return JSON.stringify(writeSaid(it, v));
    return Number.isFinite(Number(it.text)) && it.text !== '' ? String(Number(it.text)) : 'null';
  }
  if (as === 'text' || v.digits !== undefined || v.width !== undefined || v.hex !== undefined)
    return JSON.stringify(writeSaid(it, v));
  // JSON knows no trailing zeros; a description may ask for them.
  return v.trim === false ? writeSaid(it, v) : String(numberOf(it));
}

const XML: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
};
const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => XML[c]!);

interface XmlLook {
  readonly indent: number;
  readonly closing: string;
}

function xmlOf(node: XmlNode, here: Here, look: XmlLook, deep: number, out: string[]): void {
  if (node.each) {
    const { each, ...one } = node;
    eachRow(each, here.beside.world, here.row, (row, beside) =>
      xmlOf(one, { row, beside }, look, deep, out),
    );
    return;
  }
  const pad = ' '.repeat(look.indent * deep);
  const attributes = (node.attributes ?? [])
    .filter((a) => stands(a.when, here))
    .map((a) => ` ${a.name}="${escaped(said(a.value, here))}"`)
    .join('');
  const inner: string[] = [];
  for (const child of node.children ?? []) xmlOf(child, here, look, deep + 1, inner);
  const text = node.text ? escaped(said(node.text, here)) : '';
  if (inner.length === 0) {
    out.push(
      text === '' && !node.text
        ? `${pad}<${node.name}${attributes}${look.closing}`
        : `${pad}<${node.name}${attributes}>${text}</${node.name}>`,
    );
    return;
  }
  out.push(`${pad}<${node.name}${attributes}>${text}`);
  for (const line of inner) out.push(line);
  out.push(`${pad}</${node.name}>`);
}
