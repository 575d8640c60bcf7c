/**
 * Keys for rows of lists whose items are replaced when they change: a row keeps its key while it is
 * edited, and those behind one that is taken away keep theirs, with what was typed in them.
 */
export function rowKeys() {
  let next = 0;
  const lists = new Map<string, number[]>();
  return {
    of(list: string, count: number): readonly number[] {
      const keys = lists.get(list) ?? [];
      while (keys.length < count) keys.push(next++);
      if (keys.length > count) keys.length = count;
      lists.set(list, keys);
      return keys;
    },
    drop(list: string, i: number): void {
      lists.get(list)?.splice(i, 1);
    },
  };
}
