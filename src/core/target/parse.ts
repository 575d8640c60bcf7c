import type * as z from 'zod';
import { sayIssue } from '../diagnostic/say-issue';
import { TargetSchema, type Target } from './schema';
import { SeatSchema } from './seat-schema';

/** Why a piece of data is no target: where, and what to do. */
export interface TargetProblem {
  /** As in `tempo.lowestBpm` or `seats[0].channel`. */
  readonly path: string;
  readonly says: string;
}

export type TargetResult =
  | { readonly target: Target; readonly problems: readonly [] }
  | { readonly target?: undefined; readonly problems: readonly TargetProblem[] };

/** Largest target file that is read, in characters. */
export const LONGEST_TARGET = 1_000_000;

/** Checks data against the schema; an unknown key is answered with the nearest known one. */
export function parseTarget(data: unknown): TargetResult {
  const result = TargetSchema.safeParse(data);
  if (!result.success) return { problems: result.error.issues.flatMap(explain) };
  const problems = contradictions(result.data);
  return problems.length > 0 ? { problems } : { target: result.data, problems: [] };
}

export function parseTargetText(text: string): TargetResult {
  if (text.length > LONGEST_TARGET)
    return { problems: [{ path: '', says: 'The file is too long to be a target.' }] };
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { problems: [{ path: '', says: `This is not JSON: ${(error as Error).message}` }] };
  }
  return parseTarget(data);
}

function explain(issue: z.core.$ZodIssue): TargetProblem[] {
  if (issue.code === 'unrecognized_keys') {
    return issue.keys.map((key) => {
      const near = nearest(key, keysAt(issue.path));
      const hint = near === null ? '' : ` The nearest known key is "${near}".`;
      return { path: sayPath([...issue.path, key]), says: `"${key}" is not a known key.${hint}` };
    });
  }
  return [{ path: sayPath(issue.path), says: sayIssue(issue) }];
}

const sayPath = (path: readonly PropertyKey[]): string =>
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
  unwrap?: () => Shaped;
  element?: Shaped;
}

/** The keys that the schema knows at a path. */
export function keysAt(path: readonly PropertyKey[]): string[] {
  if (path[0] === 'seats' && path.length === 2)
    return [...new Set(SeatSchema.options.flatMap((o) => Object.keys(o.shape)))];
  let schema = TargetSchema as unknown as Shaped | undefined;
  for (const key of path) {
    schema = bare(schema);
    schema = typeof key === 'number' ? schema?.element : schema?.shape?.[String(key)];
  }
  return Object.keys(bare(schema)?.shape ?? {});
}

function bare(schema: Shaped | undefined): Shaped | undefined {
  while (schema?.unwrap && !schema.shape && !schema.element) schema = schema.unwrap();
  return schema;
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

/** What the shape alone cannot say: numbers that contradict one another. */
function contradictions(target: Target): TargetProblem[] {
  const out: TargetProblem[] = [];
  const ordered = (path: string, low: number | undefined, high: number | undefined) => {
    if (low !== undefined && high !== undefined && low > high)
      out.push({ path, says: `The lowest (${low}) is above the highest (${high}).` });
  };
  ordered('tempo.lowestBpm', target.tempo?.lowestBpm, target.tempo?.highestBpm);
  ordered('notes.lowest', target.notes?.lowest, target.notes?.highest);
  ordered('file.ppq.lowest', target.file?.ppq?.lowest, target.file?.ppq?.highest);
  const ids = target.seats.map((s) => s.id);
  ids.forEach((id, i) => {
    if (ids.indexOf(id) !== i)
      out.push({ path: `seats[${i}].id`, says: `The seat id "${id}" is used twice.` });
  });
  const { formats, deliverFormat } = target.file ?? {};
  if (formats && deliverFormat !== undefined && !formats.includes(deliverFormat))
    out.push({
      path: 'file.deliverFormat',
      says: `Format ${deliverFormat} would be delivered but is not accepted.`,
    });
  return out;
}
