import type { LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Explained } from './candidates';
import { onceParts, type Lexer } from './line-parts';
import { fieldsOf, partsOf, variesIn } from './line-rows';
import { type Finding, type Shape, type Solved, solve } from './solve';

/** Lines of an example and what they are, with how their rows are solved. */
export interface Told {
  readonly nodes: readonly LineNode[];
  readonly findings: readonly Finding[];
  readonly solved?: Solved;
}
/** How rows elsewhere tell where they begin. */
export type Usual = readonly Explained[] | undefined;

/** More lines that stand once are not looked at as rows of another kind. */
export const MOST_ONCE = 16;

/** A line that stands once, with the facts in it. */
export function plainly(line: string, world: World): Told {
  const { parts, findings } = onceParts(line, world);
  return { nodes: [{ parts }], findings };
}

/** Numbers stand in it that nothing explains. */
export const isOpen = ({ nodes }: Told): boolean =>
  nodes.some(({ parts }) => parts?.some((p) => typeof p === 'string' && /\d/.test(p)));
/** What might be a part of more than itself. */
export const isLoose = (t: Told): boolean => isOpen(t) || t.solved !== undefined;
/** One row of which every number is explained. */
export const isRow = ({ findings }: Told): boolean =>
  findings.some((f) => f.is === 'explained') &&
  findings.every((f) => f.is === 'explained' || (f.is === 'constant' && !/\d/.test(f.says)));

/** A line that stands once; where a fact says less of it than a row of its own, it is a list of one. */
export function tellOnce(line: string, world: World, lexer: Lexer, usual: Usual): Told {
  const own = plainly(line, world);
  const tokens = lexer.tokensOf(line);
  const list = tokens.some(lexer.listOf) ? listOnce(tokens, world, lexer, usual) : null;
  if (list) return list;
  if (isOpen(own) || tokens.some((t) => lexer.isValue(t) && !/^-?\d/.test(t))) {
    const row = rowLines([line], world, lexer, usual);
    if (row && isRow(row)) return row;
  }
  return own;
}

/** A line with a long list in it; around it stands what stands once. */
function listOnce(
  tokens: readonly string[],
  world: World,
  lexer: Lexer,
  usual: Usual,
): Told | null {
  const at = tokens.findIndex((t) => lexer.listOf(t));
  const before = onceParts(tokens.slice(0, at).join(''), world);
  const behind = onceParts(tokens.slice(at + 1).join(''), world);
  const [[, shape]] = fieldsOf([tokens[at]!], [true], lexer) as [[string, Shape]];
  const { solved, findings } = solve(shape, world, usual);
  if (!('each' in solved)) return null;
  const list = partsOf([tokens[at]!], [['place 1', solved]], lexer);
  return {
    solved,
    findings: [...before.findings, ...findings, ...behind.findings],
    nodes: [{ parts: [...before.parts, ...list, ...behind.parts] }],
  };
}

/** Lines of one kind: values where they differ, letters where they do not. */
export function rowLines(
  body: readonly string[],
  world: World,
  lexer: Lexer,
  usual: Usual,
): Told | null {
  const tokens = body.map(lexer.tokensOf);
  const varies = variesIn(tokens);
  if (!varies) return null;
  const items = tokens.map((row): Shape => ({ fields: fieldsOf(row, varies, lexer) }));
  const { solved, findings } = solve({ items, always: true }, world, usual);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  return {
    solved,
    findings,
    nodes: [
      { each: solved.each, lines: [{ parts: partsOf(tokens[0]!, solved.item.fields, lexer) }] },
    ],
  };
}
