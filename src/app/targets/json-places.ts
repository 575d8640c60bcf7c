import { findNodeAtLocation, getLocation, parseTree } from 'jsonc-parser';

/** `seats[0].channel` as keys and indices. */
export function pathOf(said: string): (string | number)[] {
  return [...said.matchAll(/([^.[\]]+)|\[(\d+)\]/g)].map((m) =>
    m[2] === undefined ? m[1]! : Number(m[2]),
  );
}

/** Where in the text a path stands; the nearest that is there where the path ends earlier. */
export function placeOf(
  text: string,
  path: readonly (string | number)[],
): { from: number; to: number } {
  const root = parseTree(text);
  for (let depth = path.length; root && depth > 0; depth--) {
    const node = findNodeAtLocation(root, path.slice(0, depth));
    if (!node) continue;
    // A property is shown by its name, an item of a list by itself.
    const shown = node.parent?.type === 'property' ? node.parent.children![0]! : node;
    return { from: shown.offset, to: shown.offset + shown.length };
  }
  return { from: 0, to: Math.min(1, text.length) };
}

/** The path of the object that a place stands in, and whether a key or a value is meant there. */
export function pathAt(
  text: string,
  pos: number,
): { path: (string | number)[]; wants: 'key' | 'value'; from: number } {
  const typed = /["A-Za-z0-9-]*$/.exec(text.slice(0, pos))![0];
  const { path, isAtPropertyKey } = getLocation(text, pos);
  return {
    // At a key the last of the path is what stands there so far.
    path: isAtPropertyKey ? path.slice(0, -1) : path,
    wants: isAtPropertyKey ? 'key' : 'value',
    from: pos - typed.length,
  };
}
