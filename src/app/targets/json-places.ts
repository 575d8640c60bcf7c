import { syntaxTree } from '@codemirror/language';
import type { EditorState } from '@codemirror/state';
import type { SyntaxNode } from '@lezer/common';

/** `seats[0].channel` as keys and indices. */
export function pathOf(said: string): (string | number)[] {
  return [...said.matchAll(/([^.[\]]+)|\[(\d+)\]/g)].map((m) =>
    m[2] === undefined ? m[1]! : Number(m[2]),
  );
}

const nameOf = (state: EditorState, property: SyntaxNode): string => {
  const name = property.getChild('PropertyName');
  return name ? state.sliceDoc(name.from + 1, name.to - 1) : '';
};

const VALUES = new Set(['Object', 'Array', 'String', 'Number', 'True', 'False', 'Null']);
const valuesIn = (node: SyntaxNode): SyntaxNode[] => {
  const out: SyntaxNode[] = [];
  for (let child = node.firstChild; child; child = child.nextSibling)
    if (VALUES.has(child.name)) out.push(child);
  return out;
};

/** Where in the text a path stands; the nearest that is there where the path ends earlier. */
export function placeOf(
  state: EditorState,
  path: readonly (string | number)[],
): { from: number; to: number } {
  let node: SyntaxNode | null = valuesIn(syntaxTree(state).topNode)[0] ?? null;
  let best = { from: 0, to: Math.min(1, state.doc.length) };
  for (const key of path) {
    if (!node) break;
    if (typeof key === 'number') {
      node = valuesIn(node)[key] ?? null;
      if (node) best = { from: node.from, to: node.to };
      continue;
    }
    const property: SyntaxNode | undefined = node
      .getChildren('Property')
      .find((p) => nameOf(state, p) === key);
    if (!property) break;
    const name = property.getChild('PropertyName');
    best = name ? { from: name.from, to: name.to } : { from: property.from, to: property.to };
    node = valuesIn(property)[0] ?? null;
  }
  return best;
}

/** The path of the object that a place stands in, and whether a key or a value is meant there. */
export function pathAt(
  state: EditorState,
  pos: number,
): { path: (string | number)[]; wants: 'key' | 'value'; from: number } {
  const path: (string | number)[] = [];
  let node: SyntaxNode | null = syntaxTree(state).resolveInner(pos, -1);
  const word = state.doc.lineAt(pos);
  const typed = /["A-Za-z0-9-]*$/.exec(state.sliceDoc(word.from, pos))![0];
  const from = pos - typed.length;
  let wants: 'key' | 'value' = 'key';
  let first = true;
  for (; node; node = node.parent) {
    if (node.name === 'Property') {
      const name = node.getChild('PropertyName');
      const behind = name !== null && pos > name.to;
      if (first && behind) wants = 'value';
      if (!first || behind) path.unshift(nameOf(state, node));
      first = false;
    } else if (node.name === 'Array') {
      const inside = valuesIn(node).findIndex((v) => v.to >= pos);
      path.unshift(inside < 0 ? valuesIn(node).length : inside);
      if (first) wants = 'value';
      first = false;
    } else if (node.name === 'Object') first = false;
  }
  return { path, wants, from };
}
