import type { Problem } from '../../diagnostic/say-problems';
import { candidatesOf } from './candidates';
import { isFree, isNumber, struckWords } from './patterns';
import { fixedCount } from './read-grid';
import { fixedSize } from './read-binary';
import { inlineParts } from './read-row';
import type {
  BinaryNode,
  Format,
  InlineNode,
  JsonNode,
  LineNode,
  Rows,
  Value,
  XmlNode,
} from './schema';

/**
 * What of a description cannot be read back without doubt: two values side by side, a unit that
 * stands nowhere, rows of which nothing says how many. Each with its place in the description.
 */
export function doubtsOf(format: Format): Problem[] {
  const out: Problem[] = [];
  format.files.forEach((file, i) => {
    const at = `files[${i}].container`;
    const say = (path: string, says: string) => out.push({ path: `${at}.${path}`, says });
    const { container } = file;
    const seen: Seen[] = [];
    switch (container.kind) {
      case 'table': {
        (container.before ?? []).forEach((parts, n) =>
          inline(parts, `before[${n}]`, null, say, seen),
        );
        container.columns.forEach((c, n) =>
          seen.push({ value: c.value, path: `columns[${n}]`, rows: container.rows }),
        );
        if (container.widths && container.widths.length !== container.columns.length)
          say('widths', 'There has to be a width for each column.');
        const { decimal = '.', delimiter = ',', quotes = 'needed' } = container;
        if (decimal === delimiter && !container.widths)
          say('delimiter', 'Decimals and columns are told apart by the same sign.');
        if (quotes === 'never' && !container.widths)
          container.columns.forEach((c, n) => {
            const parts = c.value.is === 'list' && c.value.between.includes(delimiter);
            if ((parts || isFree(c.value)) && container.columns.length > 1)
              say(`columns[${n}]`, 'A text may hold what parts the columns, and has no quotes.');
          });
        break;
      }
      case 'lines':
        lines(container.lines, 'lines', null, say, seen);
        break;
      case 'json':
        json(container.root, 'root', null, seen);
        break;
      case 'xml':
        xml(container.root, 'root', null, seen);
        break;
      case 'binary':
        binary(container.fields, 'fields', null, say, seen, [], true);
    }
    const open = seen.flatMap((s) => parted(s, say));
    cases(open, say);
    const each = open
      .flatMap((s) => candidatesOf(s.value).map((c): Seen => ({ ...s, value: c.value })))
      .flatMap((s) => parted(s, say));
    units(each, say);
    grids(container, [], '', say);
  });
  return out;
}

interface Seen {
  readonly value: Value;
  readonly path: string;
  readonly rows: Rows | null;
  /** The place that it shares with others. */
  readonly inside?: Value;
}
type Say = (path: string, says: string) => void;

/** Several values in one place: each for itself, and what stands between them. */
function parted(one: Seen, say: Say): Seen[] {
  if (one.value.is !== 'joined' && one.value.is !== 'list') return [one];
  const inner: Seen[] = [];
  const { value } = one;
  const parts = inlineParts(value.parts);
  const all = value.is === 'list' ? [{ each: value.each, between: value.between, parts }] : parts;
  inline(all, one.path, one.rows, say, inner);
  return inner.map((s) => ({ ...s, path: one.path, inside: one.value }));
}

/** A value that ends where it is said to, whatever follows. */
const isFixed = (v: Value): boolean =>
  v.width !== undefined ||
  (v.is === 'constant' && typeof v.value !== 'number') ||
  v.is === 'on-off' ||
  (v.is === 'struck' && struckWords(v).every((w) => w.length === v.yes.length && w !== '')) ||
  (v.is === 'flags' && v.flag !== undefined && v.yes?.length === v.no?.length);

function inline(
  parts: readonly InlineNode[],
  path: string,
  rows: Rows | null,
  say: Say,
  seen: Seen[],
): void {
  parts.forEach((part, n) => {
    if (typeof part === 'string') return;
    const here = `${path}[${n}]`;
    const next = parts[n + 1];
    if ('each' in part) {
      inline(part.parts, `${here}.parts`, part.each, say, seen);
      if (
        part.between === '' &&
        !part.parts.every((p) => typeof p === 'string' || ('value' in p && isFixed(p.value)))
      )
        say(here, 'Nothing stands between the entries of this list.');
      const inner = part.parts.find(
        (p) => typeof p !== 'string' && 'value' in p && isFree(p.value),
      );
      if (inner && part.between.trim() === '')
        say(here, 'An entry may hold what stands between the entries.');
      if (next !== undefined && typeof next !== 'string')
        say(here, 'A list and what follows it stand side by side without anything between them.');
      return;
    }
    seen.push({ value: part.value, path: here, rows });
    if (next === undefined || isFixed(part.value)) return;
    if (typeof next !== 'string')
      return say(here, 'Two values stand side by side without anything between them.');
    const more = parts.slice(n + 2).some((p) => typeof p !== 'string');
    if (isFree(part.value) && more && next.trim() === '')
      say(here, 'A text may hold the space behind it, and another value follows.');
    // So many decimals as are said end a number; where zeros are left out they may go on.
    const isOpen = 'decimals' in part.value && part.value.decimals && part.value.trim;
    const goesOn = isOpen ? /^[\d.,]/ : /^\d/;
    if (isNumber(part.value) && goesOn.test(next))
      say(here, 'What follows this number could be its next digit.');
  });
}

/** The first line of a block, as what it can be taken for. */
function skeleton(node: LineNode | undefined): string | null {
  if (!node) return null;
  if (!node.parts) return skeleton(node.lines?.[0]);
  return node.parts
    .map((p) => {
      if (typeof p === 'string') return p;
      if ('value' in p) return isNumber(p.value) ? '#' : '*';
      // Cells side by side hold their few words and no others.
      return p.between === '' && p.parts.every((i) => isStruck(i)) ? '\u0001' : '*';
    })
    .join('');
}
const isStruck = (p: InlineNode): boolean =>
  typeof p !== 'string' && 'value' in p && p.value.is === 'struck';
/** Whether a line of one kind could be read as one of the other. */
function looksLike(a: string, b: string): boolean {
  const source = a
    .replace(/[.+?^${}()|[\]\\/]/g, '\\$&')
    .replaceAll('#', '-?[#\\d.]+')
    .replaceAll('*', '.*');
  return new RegExp(`^${source}$`, 'u').test(b);
}

function lines(
  nodes: readonly LineNode[],
  path: string,
  rows: Rows | null,
  say: Say,
  seen: Seen[],
): void {
  nodes.forEach((node, n) => {
    const here = `${path}[${n}]`;
    if (node.parts) {
      const behind = nodes[n + 1];
      const [own, next] = [skeleton(node), skeleton(behind)];
      if (node.when && own !== null && next !== null && looksLike(own, next))
        say(here, 'A line for some rows alone cannot be told from the line behind it.');
      return inline(node.parts, `${here}.parts`, rows, say, seen);
    }
    lines(node.lines!, `${here}.lines`, node.each!, say, seen);
    const own = skeleton(node);
    const next = skeleton(nodes[n + 1]);
    if (own !== null && next !== null && (looksLike(own, next) || looksLike(next, own)))
      say(here, 'Its first line cannot be told from the line behind the block.');
    // Inside: the last line of a block may repeat what begins the next.
    const inner = node.lines!.at(-1);
    const begin = skeleton(node.lines![0]);
    if (inner?.each && node.lines!.length > 1 && begin !== null) {
      const last = skeleton(inner);
      if (last !== null && (looksLike(last, begin) || looksLike(begin, last)))
        say(here, 'Where one block ends and the next begins cannot be told.');
    }
  });
}

function json(node: JsonNode, path: string, rows: Rows | null, seen: Seen[]): void {
  if ('value' in node) return void seen.push({ value: node.value, path, rows });
  if ('object' in node)
    return node.object.forEach((o, i) => json(o.node, `${path}.object[${i}].node`, rows, seen));
  if ('list' in node) return node.list.forEach((o, i) => json(o, `${path}.list[${i}]`, rows, seen));
  if ('key' in node) seen.push({ value: node.key, path: `${path}.key`, rows: node.each });
  json(node.node, `${path}.node`, node.each, seen);
}

function xml(node: XmlNode, path: string, above: Rows | null, seen: Seen[]): void {
  const rows = node.each ?? above;
  (node.attributes ?? []).forEach((a, i) =>
    seen.push({ value: a.value, path: `${path}.attributes[${i}]`, rows }),
  );
  if (node.text) seen.push({ value: node.text, path: `${path}.text`, rows });
  (node.children ?? []).forEach((c, i) => xml(c, `${path}.children[${i}]`, rows, seen));
}

function binary(
  fields: readonly BinaryNode[],
  path: string,
  rows: Rows | null,
  say: Say,
  seen: Seen[],
  counts: readonly string[],
  isLast: boolean,
): void {
  const own = [...counts];
  const blocks = new Set<string>();
  fields.forEach((node, n) => {
    const here = `${path}[${n}]`;
    const rest = fields.slice(n + 1);
    if ('value' in node) {
      seen.push({ value: node.value, path: here, rows });
      if (node.value.is === 'count') own.push(keyOf(node.value.of));
      if ('string' in node && node.string === 'padded' && node.size === undefined)
        say(here, 'A padded text needs its size.');
    } else if ('bits' in node)
      node.bits.forEach((b, i) => seen.push({ value: b.value, path: `${here}.bits[${i}]`, rows }));
    else if ('block' in node) {
      blocks.add(node.block);
      binary(
        node.fields,
        `${here}.fields`,
        rows,
        say,
        seen,
        own,
        isLast && n === fields.length - 1,
      );
    } else if ('each' in node) {
      binary(node.fields, `${here}.fields`, node.each, say, seen, own, false);
      const last = isLast && rest.every((f) => fixedSize(f) !== null);
      if (!own.includes(keyOf(node.each)) && !last && fixedCount(node.each, rows) === null)
        say(
          here,
          'How many rows there are is said nowhere before them, and they are not the last.',
        );
    }
  });
}
const keyOf = (rows: Rows) => JSON.stringify({ ...rows, order: undefined });

/** Grids: how long a cell is, where it stands, what it can hold. */
function grids(node: unknown, above: readonly Rows[], path: string, say: Say): void {
  if (typeof node !== 'object' || node === null) return;
  if (Array.isArray(node))
    return node.forEach((inner, i) => grids(inner, above, `${path}[${i}]`, say));
  const { each, rows, ...rest } = node as { each?: Rows; rows?: Rows } & Record<string, unknown>;
  const own = each ?? rows;
  const here = own ? [...above, own] : above;
  const value = rest as Partial<Extract<Value, { is: 'struck' }>>;
  if (own?.of === 'cells') {
    if (own.perBar === undefined && own.perQuarter === undefined)
      say(path, 'Cells of what length? Say how many there are to a quarter or to a bar.');
    if (!own.empty && !JSON.stringify(rest).includes('"is":"time"'))
      say(path, 'Cells without a note are left out, and nothing says where a cell stands.');
  }
  if (value.is === 'struck') {
    if (!here.some((r) => r.of === 'cells' || (r.of === 'strikes' && value.key !== undefined)))
      say(path, 'What is struck is said of the cells of a grid, and there are none around it.');
    if (value.yes === value.no) say(path, 'A note and nothing are told by the same word.');
  }
  for (const [key, inner] of Object.entries(rest))
    grids(inner, here, path === '' ? key : `${path}.${key}`, say);
}

const LATE = new Set<Value['is']>(['offset', 'size', 'checksum']);

/** Several values in one place: which of them stands there has to be told by something. */
function cases(seen: readonly Seen[], say: Say): void {
  for (const { value, path, rows } of seen) {
    if (value.is !== 'case') continue;
    const beside = seen.filter((s) => s.rows === rows).map((s) => s.value.is);
    const told: Readonly<Record<string, boolean>> = {
      seats: seen.some((s) => s.value.is === 'seat' || s.value.is === 'rung'),
      rungs: seen.some((s) => s.value.is === 'seat' || s.value.is === 'rung'),
      parts: seen.some((s) => s.value.is === 'part' || s.value.is === 'track'),
      keys: beside.includes('key'),
      flag: beside.includes('flags'),
      on: beside.includes('on-off'),
    };
    const all = candidatesOf(value);
    const varying = all.filter((c) => c.value.is !== 'constant');
    const isTold = varying.every(({ when, not }) =>
      [...when, ...not].every((w) => Object.keys(w).every((k) => told[k] ?? false)),
    );
    const alike =
      varying.filter((c) => isNumber(c.value)).length > 1 ||
      varying.filter((c) => !isNumber(c.value)).length > 1;
    if (all.some((c) => LATE.has(c.value.is)))
      say(path, 'Where a block begins, its size and its sum cannot stand there now and then.');
    if (alike && !isTold) say(path, 'Which of its values stands there cannot be told.');
  }
}

/** Units that the file does not hold, and places that need another to be told. */
function units(seen: readonly Seen[], say: Say): void {
  const facts = new Set(seen.flatMap(({ value }) => (value.is === 'fact' ? [value.key] : [])));
  for (const { value: v, path, rows } of seen) {
    if (v.is !== 'time') continue;
    const beside = seen.filter((s) => s.rows === rows && s.value.is === 'time').map((s) => s.value);
    const has = (unit: string) => beside.some((b) => b.is === 'time' && b.unit === unit);
    if (
      (v.unit === 'ticks' || v.unit === 'tick-of-beat') &&
      v.ppq === undefined &&
      !facts.has('ppq')
    )
      say(path, 'Ticks of which PPQ? Say it here, or let the file hold the fact ppq.');
    if (v.unit === 'frames' && v.rate === undefined) say(path, 'Frames at how many a second?');
    if (v.unit === 'beat' && !has('bar') && v.of === 'start')
      say(path, 'A beat of which bar? The bar stands nowhere in its row.');
    if (v.unit === 'tick-of-beat' && !(has('bar') && has('beat')))
      say(path, 'Ticks of which beat? Bar and beat stand nowhere in its row.');
    const inBars = rows?.of === 'bars' || seen.some((s) => s.rows?.of === 'bars');
    if (v.from === 'bar' && !has('bar') && !inBars)
      say(path, 'From which bar? The bar stands nowhere in its row, and rows are no bars.');
  }
}
