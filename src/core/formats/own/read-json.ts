import { parseTree, type Node, type ParseError } from 'jsonc-parser';
import { keyGivenTwice } from '../define-format';
import { takeCase } from './take-case';
import { readPlain } from './patterns';
import { takeText } from './read-row';
import { newRow, Unread, type ReadRow } from './row';
import type { JsonNode, Value } from './schema';

const at = (text: string, offset: number) => `line ${text.slice(0, offset).split('\n').length}`;

/** Reads JSON by its description: every key in its place, none that is not described. */
export function readJsonTree(root: JsonNode, text: string): ReadRow {
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors, {
    disallowComments: true,
    allowTrailingComma: false,
    allowEmptyContent: false,
  });
  if (!tree || errors.length > 0)
    throw new Unread(at(text, errors[0]?.offset ?? 0), 'This is not JSON.');
  const twice = keyGivenTwice(text);
  if (twice) throw new Unread(`line ${twice.line}`, `The key ${twice.key} is given twice.`);
  const into = newRow(null);
  take(root, tree, into, text);
  return into;
}

type ValueNode = Extract<JsonNode, { value: Value }>;

/** What stands there as the value that is described; false where it is none. */
function takeValue({ value, as }: ValueNode, json: Node, into: ReadRow): boolean {
  if (value.is === 'case')
    return takeCase(value, into, (own, row) => takeValue({ value: own, as }, json, row));
  const [from, to] = [json.offset, json.offset + json.length];
  const plain: unknown =
    json.type === 'array' || json.type === 'object' ? undefined : (json.value as unknown);
  if (value.is === 'joined' || value.is === 'list') {
    const place = { from: from + 1, to: to - 1, decimal: '.' };
    return typeof plain === 'string' && takeText(into, value, plain, place);
  }
  const said = readPlain(value, plain, as);
  if (said === undefined) return false;
  into.values.push({ value, said, from, to });
  return true;
}

function take(node: JsonNode, json: Node, into: ReadRow, text: string): void {
  const wrong = (says: string): never => {
    throw new Unread(at(text, json.offset), says);
  };
  if ('value' in node) {
    if (!takeValue(node, json, into))
      wrong(`${text.slice(json.offset, json.offset + 40)} is no such value.`);
    return;
  }
  if ('object' in node) {
    if (json.type !== 'object') return wrong('An object is described here.');
    const members = json.children ?? [];
    const keys = members.map((m) => String(m.children![0]!.value));
    const wanted = node.object.map((o) => o.key);
    const strange = keys.find((k) => !wanted.includes(k));
    if (strange !== undefined) return wrong(`“${strange}” is not described.`);
    const missing = node.object.find((o) => !o.when && !keys.includes(o.key));
    if (missing !== undefined) return wrong(`“${missing.key}” is missing.`);
    const there = node.object.filter((o) => !o.when || keys.includes(o.key));
    if (keys.join('\n') !== there.map((o) => o.key).join('\n'))
      return wrong('Its keys stand in another order.');
    there.forEach((o, i) => take(o.node, members[i]!.children![1]!, into, text));
    for (const { key, when } of node.object)
      if (when) into.told.push({ when, is: keys.includes(key) });
    return;
  }
  if ('list' in node) {
    const items = json.children ?? [];
    if (json.type !== 'array' || items.length !== node.list.length)
      return wrong(`A list of ${node.list.length} is described here.`);
    node.list.forEach((o, i) => take(o, items[i]!, into, text));
    return;
  }
  if ('key' in node) {
    if (json.type !== 'object')
      return wrong('An object with a key for each row is described here.');
    for (const member of json.children ?? []) {
      const [key, value] = member.children as [Node, Node];
      const name = String(key.value);
      const row = newRow(node.each);
      const place = { from: key.offset, to: key.offset + key.length, decimal: '.' };
      if (!takeText(row, node.key, name, place))
        wrong(`The key “${name}” is not as it is described.`);
      take(node.node, value, row, text);
      into.rows.push(row);
    }
    return;
  }
  if (json.type !== 'array') return wrong('A list is described here.');
  for (const item of json.children ?? []) {
    const row = newRow(node.each);
    take(node.node, item, row, text);
    into.rows.push(row);
  }
}
