import { isNumber } from '../../formats/own/patterns';
import type { JsonNode, Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import { type Shape, type Solved, isLeaf, solve } from './solve';
import type { Found } from './found';

export function describeJson(text: string, world: World): Found[] {
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
  return (indents.length > 0 ? indents : [0])
    .flatMap((indent) => linings(root, text, indent))
    .map(({ indent, root: lined }) => ({
      container: { kind: 'json', ...(indent === 0 ? {} : { indent }), root: lined },
      findings,
    }));
}

const STYLES = ['tight', 'spaced'] as const;
/** From so deep on what is held may stand in one line. */
const DEPTHS = [1, 2, 3, 4];

/** A tree in the ways that it can be laid in lines: all spread, or from some depth on in one. */
function linings(root: JsonNode, text: string, indent: number) {
  const one = (style: 'tight' | 'spaced', depth: number, by = indent) => ({
    indent: by,
    root: inLine(root, style, depth),
  });
  // In one line: as short as can be, or with a space behind each comma and colon.
  if (indent === 0) return [{ indent, root }, ...STYLES.map((style) => one(style, 0, 1))];
  const spread = { indent, root };
  const several = /[^\s[{].*, *["[{\d-]/.test(text);
  if (!several) return [spread];
  return [
    spread,
    { indent, root: inLine(root, 'tight', Infinity) },
    ...DEPTHS.flatMap((depth) => STYLES.map((style) => one(style, depth))),
  ];
}

const isValue = (node: JsonNode): boolean => 'value' in node;

/** Lists of single values in one line, and everything from a depth on. */
function inLine(node: JsonNode, line: 'tight' | 'spaced', depth: number): JsonNode {
  if ('value' in node) return node;
  const lined = depth <= 0 ? { line } : {};
  if ('object' in node)
    return {
      object: node.object.map((o) => ({ ...o, node: inLine(o.node, line, depth - 1) })),
      ...lined,
    };
  if ('list' in node) {
    const own = node.list.every(isValue) ? { line } : lined;
    return { list: node.list.map((n) => inLine(n, line, depth - 1)), ...own };
  }
  const own = !('key' in node) && isValue(node.node) ? { line } : lined;
  return { ...node, node: inLine(node.node, line, depth - 1), ...own };
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
/** One object with every key that any of them has. */
function wholeOf(first: unknown, items: readonly unknown[]): unknown {
  const isObject = (v: unknown): v is object =>
    typeof v === 'object' && v !== null && !Array.isArray(v);
  if (!isObject(first)) return first;
  const out: Record<string, unknown> = { ...first };
  for (const item of items)
    if (isObject(item)) for (const [key, v] of Object.entries(item)) out[key] ??= v;
  return out;
}

function jsonNode(solved: Solved, shape: Shape, data: unknown): JsonNode {
  if (isLeaf(solved)) {
    const { value } = solved;
    if (value.is === 'constant' && (typeof data === 'boolean' || data === null))
      return { value: { is: 'constant', value: data } };
    // What stands for a word may be a number all the same.
    if (typeof data === 'number' && value.is !== 'constant' && !isNumber(value))
      return { value, as: 'number' };
    const isText = typeof data === 'string' && value.is !== 'constant';
    return { value, ...(isText && needsText(value) ? { as: 'text' as const } : {}) };
  }
  if ('fields' in solved) {
    const object = solved.fields.map(([key, s, when]) => {
      const inner = (data as Record<string, unknown>)[key];
      return { key, node: jsonNode(s, shapeOf(inner), inner), ...(when ? { when } : {}) };
    });
    return { object };
  }
  if ('list' in solved)
    return { list: solved.list.map((s, i) => jsonNode(s, shape, (data as unknown[])[i])) };
  const items: unknown[] = Array.isArray(data) ? data : Object.values(data as object);
  const inner = wholeOf(items.find((i) => !isEmptyList(i)) ?? items[0], items);
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
