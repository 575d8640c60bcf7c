import { sayLater } from '../diagnostic/later-version';
import { keysAt as keysOf, problemsOf, type Problem } from '../diagnostic/say-problems';
import { TargetSchema, type Target } from './schema';

/** Why a piece of data is no target: where, as in `tempo.lowestBpm`, and what to do. */
export type TargetProblem = Problem;

export type TargetResult =
  | { readonly target: Target; readonly problems: readonly [] }
  | { readonly target?: undefined; readonly problems: readonly TargetProblem[] };

/** Largest target file that is read, in characters. */
export const LONGEST_TARGET = 1_000_000;

/** Checks data against the schema; an unknown key is answered with the nearest known one. */
export function parseTarget(data: unknown): TargetResult {
  const later = sayLater(data, 'schemaVersion', 1);
  if (later !== null) return { problems: [{ path: 'schemaVersion', says: later }] };
  const result = TargetSchema.safeParse(data);
  if (!result.success) return { problems: problemsOf(TargetSchema, result.error.issues) };
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

/** The keys that a target may have at a path. */
export const keysAt = (path: readonly PropertyKey[]): string[] => keysOf(TargetSchema, path);
