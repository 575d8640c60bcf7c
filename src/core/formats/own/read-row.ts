import { newRow, type ReadRow } from './row';
import { takeCase } from './take-case';
import { patternOf, readSaid, wordsOf } from './patterns';
import type { InlineNode, Rows, Value } from './schema';

/** Takes the value that a text says, or those that stand together in it; false where it says none. */
export function takeText(
  into: ReadRow,
  value: Value,
  text: string,
  { from, to, decimal }: { from: number; to: number; decimal: string },
): boolean {
  // Of what does not change at a place nothing stands there.
  if (text === '' && into.of?.of === 'changes') return true;
  if (value.is === 'case')
    return takeCase(value, into, (own, row) => takeText(row, own, text, { from, to, decimal }));
  if (value.is === 'joined') {
    const bare = value.width === undefined ? text : text.trim();
    const at = from + text.indexOf(bare);
    return takeLine(inlineParts(value.parts), { text: bare, at }, into, decimal);
  }
  if (value.is === 'list') {
    const { each, between } = value;
    const said = value.width === undefined ? text : text.trim();
    return takeList(into, { each, between, parts: inlineParts(value.parts) }, said, from, decimal);
  }
  const said = readSaid(value, text, decimal);
  if (said === undefined) return false;
  into.values.push({ value, said, from, to });
  return true;
}

export interface TextLine {
  readonly text: string;
  readonly at: number;
}

/** Whether a line is as it is described; what stands in it goes into the row. */
export function takeLine(
  parts: readonly InlineNode[],
  { text, at }: TextLine,
  into: ReadRow,
  decimal: string,
): boolean {
  const pattern = lineRegExp(parts, decimal);
  const found = pattern.exec(text);
  if (!found) return false;
  let group = 1;
  for (const part of parts) {
    if (typeof part === 'string') continue;
    const [from, to] = found.indices![group] ?? [0, 0];
    const said = found[group++] ?? '';
    if ('value' in part) {
      if (!takeText(into, part.value, said, { from: at + from, to: at + to, decimal }))
        return false;
      continue;
    }
    if (!takeList(into, part, said, at + from, decimal)) return false;
  }
  return true;
}

type ListNode = Extract<InlineNode, { each: Rows }>;

/** The entries of a list, each a row of its own; false where one is not as it is described. */
function takeList(
  into: ReadRow,
  part: ListNode,
  said: string,
  from: number,
  decimal: string,
): boolean {
  if (said === '') return true;
  let offset = from;
  for (const item of entriesOf(said, part)) {
    const row = newRow(part.each);
    if (!takeLine(part.parts, { text: item, at: offset }, row, decimal)) return false;
    into.rows.push(row);
    offset += item.length + part.between.length;
  }
  return true;
}

/** Values and what stands between them, as parts of a line; the same parts for the same values. */
export function inlineParts(parts: readonly (string | Value)[]): readonly InlineNode[] {
  const there = asInline.get(parts);
  if (there) return there;
  const made = parts.map((p): InlineNode => (typeof p === 'string' ? p : { value: p }));
  asInline.set(parts, made);
  return made;
}
const asInline = new WeakMap<readonly (string | Value)[], readonly InlineNode[]>();

/** Entries of a list; where nothing stands between them they are all of one length. */
function entriesOf(said: string, { between, parts }: ListNode) {
  const size = between === '' ? sizeOf(parts) : 0;
  if (size <= 1) return said.split(between);
  return Array.from({ length: Math.ceil(said.length / size) }, (_, i) =>
    said.slice(i * size, (i + 1) * size),
  );
}
const sizeOf = (parts: readonly InlineNode[]): number =>
  parts.reduce((sum, p) => {
    if (typeof p === 'string') return sum + p.length;
    if (!('value' in p)) return sum;
    return sum + (p.value.width ?? wordsOf(p.value)?.[0]?.length ?? 0);
  }, 0);

const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');
const kept = new Map<readonly InlineNode[], RegExp>();

/** One group for each value and each list in the line. */
function lineRegExp(parts: readonly InlineNode[], decimal: string): RegExp {
  const there = kept.get(parts);
  if (there) return there;
  const source = parts
    .map((p, i) => {
      if (typeof p === 'string') return literal(p);
      const own = 'value' in p ? patternOf(p.value, decimal) : '.*?';
      const next = parts[i + 1];
      // What may be anything ends where what follows it is met first: a line is gone through once.
      return own === '.*?' && typeof next === 'string' && next !== ''
        ? `((?:(?!${literal(next)}).)*)`
        : `(${own})`;
    })
    .join('');
  const made = new RegExp(`^${source}$`, 'du');
  kept.set(parts, made);
  return made;
}
