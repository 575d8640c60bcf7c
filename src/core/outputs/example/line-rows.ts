import type { InlineNode } from '../../formats/own/schema';
import type { Lexer } from './line-parts';
import { isLeaf, type Shape, type SolvedField } from './solve';

// Lines of one kind as rows: their values as places with names, and back as parts of a line.

export const fieldsOf = (
  tokens: readonly string[],
  varies: readonly boolean[],
  { isValue, listOf }: Lexer,
): [string, Shape][] =>
  tokens.flatMap((t, i): [string, Shape][] => {
    const leaf = (text: string): Shape => ({ leaf: text.replace(/%$/, ''), plain: false });
    const list = listOf(t);
    if (list) return [[`place ${i + 1}`, { items: list.entries.map(leaf), always: true }]];
    return varies[i] || isValue(t) ? [[`place ${i + 1}`, leaf(t)]] : [];
  });

/** The places where lines of one kind differ; null where they are not cut alike. */
export function variesIn(tokens: readonly (readonly string[])[]): boolean[] | null {
  const [first] = tokens;
  if (!first || tokens.some((t) => t.length !== first.length)) return null;
  return first.map((t, i) => tokens.some((o) => o[i] !== t));
}

export function partsOf(
  tokens: readonly string[],
  fields: readonly SolvedField[],
  { listOf }: Lexer,
): InlineNode[] {
  const byPlace = new Map(fields.map(([name, s]) => [Number(name.slice(6)) - 1, s]));
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else if (text !== '') parts.push(text);
  };
  tokens.forEach((t, i) => {
    const solved = byPlace.get(i);
    const list = listOf(t);
    if (solved && list && 'each' in solved && isLeaf(solved.item))
      return void parts.push({
        each: solved.each,
        between: list.between,
        parts: [{ value: solved.item.value }],
      });
    if (!solved || !isLeaf(solved)) return add(t);
    if (solved.value.is === 'constant') add(String(solved.value.value));
    else parts.push({ value: solved.value });
    if (t.endsWith('%')) add('%');
  });
  return parts;
}
