import type * as z from 'zod';
import { sayIssue } from './say-issue';

/** Why data does not have its shape: where, and what to do. */
export interface Problem {
  /** As in `tempo.lowestBpm`, `seats[0].channel` or, in a text, `line 12`. */
  readonly path: string;
  readonly says: string;
}

/** What a schema found wrong; an unknown key is answered with the nearest known one. */
export const problemsOf = (schema: z.ZodType, issues: readonly z.core.$ZodIssue[]): Problem[] =>
  issues.flatMap((issue) => {
    if (issue.code !== 'unrecognized_keys')
      return [{ path: sayPath(issue.path), says: sayIssue(issue) }];
    return issue.keys.map((key) => {
      const near = nearest(key, keysAt(schema, issue.path));
      const hint = near === null ? '' : ` The nearest known key is "${near}".`;
      return { path: sayPath([...issue.path, key]), says: `"${key}" is not a known key.${hint}` };
    });
  });

export const sayPath = (path: readonly PropertyKey[]): string =>
  path.reduce<string>(
    (said, key) =>
      typeof key === 'number'
        ? `${said}[${key}]`
        : said === ''
          ? String(key)
          : `${said}.${String(key)}`,
    '',
  );

interface Shaped {
  shape?: Record<string, Shaped>;
  options?: readonly Shaped[];
  unwrap?: () => Shaped;
  element?: Shaped;
}

/** The keys that a schema knows at a path; of several forms those of all. */
export function keysAt(schema: z.ZodType, path: readonly PropertyKey[]): string[] {
  let here = formsOf(schema as unknown as Shaped);
  for (const key of path)
    here = here
      .map((s) => (typeof key === 'number' ? s.element : s.shape?.[String(key)]))
      .flatMap(formsOf);
  return [...new Set(here.flatMap((s) => Object.keys(s.shape ?? {})))];
}

function formsOf(schema: Shaped | undefined): Shaped[] {
  let bare = schema;
  while (bare?.unwrap && !bare.shape && !bare.element) bare = bare.unwrap();
  if (!bare) return [];
  return Array.isArray(bare.options) && !bare.shape ? bare.options.flatMap(formsOf) : [bare];
}

/** The known word with the fewest edits, where that is close enough to be meant. */
export function nearest(word: string, known: readonly string[]): string | null {
  let best: string | null = null;
  let least = Math.max(2, Math.ceil(word.length / 2)) + 1;
  for (const candidate of known) {
    const distance = edits(word.toLowerCase(), candidate.toLowerCase());
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

function edits(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      next.push(Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + same));
    }
    row = next;
  }
  return row[b.length]!;
}
