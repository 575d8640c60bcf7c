import type { InlineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import { type Finding, isLeaf, solve } from './solve';

export const NUMERIC = /^-?\d+([.,]\d+)?$/;
/** Numbers that colons hold together, as a clock or a place, are one. */
const TOKEN =
  /(\d+(?::\d+)+(?:[.,;]\d+)?|-?\d+(?:\.\d+)?%?|[A-Za-z_♯♭#]+-?\d*|[^\sA-Za-z0-9]+|\s+)/gu;

/** A line as values and what stands between them. */
export const tokensOf = (line: string): string[] => line.match(TOKEN) ?? [];

/** A line that stands once: values where a fact is met, else letters. */
export function onceParts(
  line: string,
  world: World,
): { parts: InlineNode[]; findings: Finding[] } {
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
