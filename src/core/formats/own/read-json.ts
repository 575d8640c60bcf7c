import { parseTree, type Node, type ParseError } from 'jsonc-parser';
import { keyGivenTwice } from '../define-format';
import { takeCase } from './take-case';
import { patternOf, readPlain } from './patterns';
import { takeText } from './read-row';
import { newRow, Unread, type ReadRow } from './row';
import type { JsonNode } from './schema';

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

/** Whether it is as described. */
function taken(node: JsonNode, json: Node, into: ReadRow, text: string): boolean {
  try {
    take(node, json, into, text);
    return true;
  } catch (error) {
    if (error instanceof Unread) return false;
    throw error;
  }
}

function take(node: JsonNode, json: Node, into: ReadRow, text: string): void {
  const wrong = (says: string): never => {
    throw new Unread(at(text, json.offset), says);
  };
  if ('value' in node && node.value.is === 'case') {
    const { value } = node;
    if (!takeCase(value, into, (own, row) => taken({ ...node, value: own }, json, row, text)))
      wrong(`${text.slice(json.offset, json.offset + 40)} is no such value.`);
    return;
  }
  if ('value' in node) {
    const plain: unknown =
      json.type === 'array' || json.type === 'object' ? undefined : (json.value as unknown);
    if (node.value.is === 'joined' || node.value.is === 'list') {
      const place = { from: json.offset + 1, to: json.offset + json.length - 1, decimal: '.' };
      if (typeof plain !== 'string' || !takeText(into, node.value, plain, place))
        return wrong(`${text.slice(json.offset, json.offset + 40)} is no such value.`);
      return;
    }
    const said = readPlain(node.value, plain, node.as);
    if (said === undefined)
      return wrong(`${text.slice(json.offset, json.offset + 40)} is no such value.`);
    into.values.push({
      value: node.value,
      said,
      from: json.offset,
      to: json.offset + json.length,
    });
    return;
  }
  if ('object' in node) {
    if (json.type !== 'object') return wrong('An object is described here.');
    const members = json.children ?? [];
    const keys = members.map((m) => String(m.children![0]!.value));
    const wanted = node.object.map((o) => o.key);
    const strange = keys.find((k) => !wanted.includes(k));
    if (strange !== undefined) return wrong(`“${strange}” is not described.`);
    const missing = wanted.find((k) => !keys.includes(k));
    if (missing !== undefined) return wrong(`“${missing}” is missing.`);
    if (keys.join('\n') !== wanted.join('\n')) return wrong('Its keys stand in another order.');
    node.object.forEach((o, i) => take(o.node, members[i]!.children![1]!, into, text));
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
    const pattern = new RegExp(`^(?:${patternOf(node.key, '.')})$`, 'u');
    for (const member of json.children ?? []) {
      const [key, value] = member.children as [Node, Node];
      const name = String(key.value);
      if (!pattern.test(name)) wrong(`The key “${name}” is not as it is described.`);
      const row = newRow(node.each);
      row.values.push({
        value: node.key,
        said: name,
        from: key.offset,
        to: key.offset + key.length,
      });
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
