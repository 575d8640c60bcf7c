import type { SetRow, SongRow, SongSet } from './set';

/** What a set becomes by one thing that is done to it; undone by going back to the one before. */
export type SetChange =
  | { readonly is: 'title'; readonly title: string }
  | { readonly is: 'folders'; readonly folders: SongSet['folders'] }
  | { readonly is: 'recipe'; readonly recipe: SongSet['recipe'] }
  /** At the place of a row, or at the end. */
  | { readonly is: 'add'; readonly rows: readonly SetRow[]; readonly before?: string }
  | { readonly is: 'order'; readonly keys: readonly string[] }
  | { readonly is: 'remove'; readonly keys: readonly string[] }
  | { readonly is: 'aside'; readonly keys: readonly string[]; readonly aside: boolean }
  /** What songs are for. */
  | { readonly is: 'target'; readonly keys: readonly string[]; readonly target: string }
  | { readonly is: 'text'; readonly key: string; readonly text: string }
  /** File names by song; null gives the job’s own back. */
  | { readonly is: 'names'; readonly names: Readonly<Record<string, string | null>> };

const withName = ({ name: _, ...row }: SongRow, name: string | null): SongRow =>
  name === null ? row : { ...row, name };

function withAside({ aside: _, ...row }: SongRow, aside: boolean): SongRow {
  return aside ? { ...row, aside } : row;
}

export function changeSet(set: SongSet, change: SetChange): SongSet {
  const each = (of: (row: SetRow) => SetRow) => ({ ...set, rows: set.rows.map(of) });
  switch (change.is) {
    case 'title':
      return { ...set, title: change.title };
    case 'folders':
      return { ...set, folders: change.folders };
    case 'recipe':
      return { ...set, recipe: change.recipe };
    case 'add': {
      const at = set.rows.findIndex((r) => r.key === change.before);
      return { ...set, rows: set.rows.toSpliced(at < 0 ? set.rows.length : at, 0, ...change.rows) };
    }
    case 'order': {
      const place = new Map(change.keys.map((k, i) => [k, i]));
      // What the order does not name stays behind those that it names, as it was.
      const of = (r: SetRow) => place.get(r.key) ?? change.keys.length;
      return { ...set, rows: set.rows.toSorted((a, b) => of(a) - of(b)) };
    }
    case 'remove':
      return { ...set, rows: set.rows.filter((r) => !change.keys.includes(r.key)) };
    case 'aside':
      return each((r) =>
        r.is === 'song' && change.keys.includes(r.key) ? withAside(r, change.aside) : r,
      );
    case 'target':
      return each((r) =>
        r.is === 'song' && change.keys.includes(r.key) ? { ...r, target: change.target } : r,
      );
    case 'text':
      return each((r) =>
        r.is === 'text' && r.key === change.key ? { ...r, text: change.text } : r,
      );
    case 'names':
      return each((r) => {
        const name = change.names[r.key];
        return r.is === 'song' && name !== undefined ? withName(r, name) : r;
      });
  }
}
