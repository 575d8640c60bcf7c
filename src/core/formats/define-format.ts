import type * as z from 'zod';
import { problemsOf, sayPath, type Problem } from '../diagnostic/say-problems';

/** One of our own open formats. Versions stand in the file, or in the name of its columns. */
export interface FormatDefinition<T = unknown> {
  readonly id: string;
  readonly title: string;
  readonly summary: string;
  /** What files of it are called, for people: `name.chart.json`. */
  readonly file: string;
  readonly kind: 'json' | 'csv' | 'text' | 'svg' | 'wav';
  /** JSON: the whole file. CSV: one row, by its columns. Others have none. */
  readonly schema: z.ZodType<T> | null;
  /** Of a CSV, in their order; they are its version. */
  readonly columns?: readonly string[];
  /** A file of it in plain words, for what a schema cannot say. */
  readonly notes: readonly string[];
  /** Plain JavaScript that reads one from `bytes` and leaves what it found in `found`. */
  readonly reader: string;
}

export const defineFormat = <T>(format: FormatDefinition<T>): FormatDefinition<T> => format;

export type Checked<T> =
  | { readonly data: T; readonly problems: readonly [] }
  | { readonly data?: undefined; readonly problems: readonly Problem[] };

/** The longest file of a format that is read, in characters. */
export const LONGEST_TEXT = 400_000_000;

/** Reads a JSON format; what is wrong is said with its place. */
export function readJson<T>(format: FormatDefinition<T>, text: string): Checked<T> {
  if (text.length > LONGEST_TEXT) return fault('', 'The file is too long to be read.');
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fault('', `This is not JSON: ${(error as Error).message}`);
  }
  const twice = keyGivenTwice(text);
  if (twice) return fault(`line ${twice.line}`, `The key ${twice.key} is given twice.`);
  const head = data as { format?: unknown; version?: unknown } | null;
  if (typeof head !== 'object' || head === null || head.format !== format.id)
    return fault(
      'format',
      `This is not a ${format.title.toLowerCase()}: "format" is not "${format.id}".`,
    );
  const problems: Problem[] = [];
  const rest = checkLong(format.schema as unknown as Shaped, data, [], problems);
  const result = format.schema!.safeParse(rest);
  if (!result.success) problems.push(...problemsOf(format.schema!, result.error.issues));
  // JSON formats change nothing of what they read: the data is its own result.
  return problems.length > 0 ? { problems } : { data: data as T, problems: [] };
}

/**
 * RFC 8259, section 4: names within an object should be unique; readers take the last, the first or
 * none. @param text well-formed JSON. @returns the first that is not, as it is written, with its line
 */
export function keyGivenTwice(text: string): { key: string; line: number } | null {
  const open: (Set<string> | null)[] = [];
  let line = 1;
  // The last string, which is a key where a colon follows.
  let word = '';
  for (let i = 0; i < text.length; i++) {
    switch (text.charCodeAt(i)) {
      case 34: {
        const from = i;
        do if (text.charCodeAt(++i) === 92) i += 2;
        while (text.charCodeAt(i) !== 34);
        word = text.slice(from, i + 1);
        break;
      }
      case 58: {
        const keys = open.at(-1)!;
        // However it is written: an escape spells the same letter.
        const key = word.includes('\\') ? JSON.stringify(JSON.parse(word)) : word;
        if (keys!.has(key)) return { key, line };
        keys!.add(key);
        break;
      }
      case 123:
        open.push(new Set());
        break;
      case 91:
        open.push(null);
        break;
      case 125:
      case 93:
        open.pop();
        break;
      case 10:
        line++;
    }
  }
  return null;
}

interface Shaped {
  shape?: Record<string, Shaped>;
  element?: z.ZodType & Shaped;
  unwrap?: () => Shaped;
  _zod?: { def: { checks?: readonly { _zod: { def: { check: string; maximum?: number } } }[] } };
}

/** The longest that a list may be. */
export const mostEntries = (schema: Shaped): number =>
  (schema._zod?.def.checks ?? []).reduce((most, { _zod: { def } }) => {
    return def.check === 'max_length' ? Math.min(most, def.maximum ?? Infinity) : most;
  }, Infinity);

const LONG = 256;
const MOST_PROBLEMS = 50;

/**
 * Checks the entries of long lists one by one, so that no second list is made of them. @returns the
 * data with one entry of each left, for its schema
 */
function checkLong(
  schema: Shaped | undefined,
  value: unknown,
  path: readonly PropertyKey[],
  problems: Problem[],
): unknown {
  let bare = schema;
  while (bare?.unwrap && !bare.shape && !bare.element) bare = bare.unwrap();
  if (Array.isArray(value) && bare?.element) {
    const { element } = bare;
    // A long list is not given to its schema: its own limits are held here.
    const most = mostEntries(bare);
    if (value.length > LONG && value.length > most) {
      problems.push({
        path: sayPath(path),
        says: `There are ${value.length} entries; ${most} is the most.`,
      });
      return value.slice(0, 1);
    }
    if (value.length <= LONG)
      return value.map((v, i) => checkLong(element, v, [...path, i], problems));
    for (let i = 0; i < value.length && problems.length < MOST_PROBLEMS; i++) {
      const result = element.safeParse(value[i]);
      if (result.success) continue;
      const issues = result.error.issues.map((issue) => ({
        ...issue,
        path: [...path, i, ...issue.path],
      }));
      problems.push(...problemsOf(element, issues as z.core.$ZodIssue[]));
    }
    return value.slice(0, 1);
  }
  if (typeof value !== 'object' || value === null || !bare?.shape) return value;
  const { shape } = bare;
  return Object.fromEntries(
    Object.entries(value).map(([key, v]) => [
      key,
      checkLong(shape[key], v, [...path, key], problems),
    ]),
  );
}

export const fault = (path: string, says: string): { readonly problems: readonly Problem[] } => ({
  problems: [{ path, says }],
});

/** Rows of a CSV format, each checked; `Papa` or another reader gives the cells. */
export function readRows<T>(
  format: FormatDefinition<T>,
  cells: readonly (readonly string[])[],
): Checked<readonly T[]> {
  const columns = format.columns!;
  const head = cells[0] ?? [];
  if (head.join() !== columns.join()) {
    const other = [';', '\t'].find((mark) => head.length === 1 && head[0]!.split(mark).length > 1);
    return fault(
      'line 1',
      other
        ? `The columns are parted by ${other === ';' ? 'semicolons' : 'tabs'}; this format parts them by commas.`
        : `The columns have to be ${columns.join(', ')}.`,
    );
  }
  const rows: T[] = [];
  const problems: Problem[] = [];
  for (let line = 1; line < cells.length && problems.length < 50; line++) {
    const row = cells[line]!;
    const path = `line ${line + 1}`;
    if (row.length !== columns.length) {
      problems.push({ path, says: `${columns.length} cells are needed; there are ${row.length}.` });
      continue;
    }
    const named = Object.fromEntries(columns.map((c, i) => [c, row[i]!]));
    const result = format.schema!.safeParse(named);
    if (result.success) rows.push(result.data);
    else
      for (const p of problemsOf(format.schema!, result.error.issues))
        problems.push({ path: `${path}, ${p.path}`, says: p.says });
  }
  return problems.length > 0 ? { problems } : { data: rows, problems: [] };
}
