import * as z from 'zod';
import { sayLater } from '../diagnostic/later-version';
import { sayIssue } from '../diagnostic/say-issue';
import { RecipeSchema } from '../plan/plan-schema';
import { isFileName } from '../smf/name';

/** A set of a later version than this is not read. */
export const SET_VERSION = 1;
export const MOST_ROWS = 1000;

const key = z.string().min(1).max(100);
const text = z.string().min(1).max(300);

const song = z.strictObject({
  is: z.literal('song'),
  key,
  /** The job, by its id; its plan for the target is the song. */
  job: z.string().min(1).max(100),
  target: z.string().min(1).max(100),
  /** What its files are called in this set, without an ending; the job’s own names where not said. */
  name: z
    .string()
    .min(1)
    .max(100)
    .refine(isFileName, 'It holds letters that no file name has.')
    .optional(),
  /** It stays in the list and is not handed over. */
  aside: z.literal(true).optional(),
});
const divider = z.strictObject({ is: z.literal('text'), key, text: z.string().max(300) });

/**
 * How the files of the songs stand beside each other: all as their targets name them, in a folder for
 * each song, or in one for each target.
 */
export const FOLDERS = ['none', 'song', 'target'] as const;

export const SetSchema = z.strictObject({
  schemaVersion: z.literal(SET_VERSION),
  id: key,
  title: text,
  folders: z.enum(FOLDERS),
  /** What new songs and newer exports go through first. */
  recipe: RecipeSchema.nullable(),
  rows: z.array(z.discriminatedUnion('is', [song, divider])).max(MOST_ROWS),
});

/** An ordered list of jobs that are handed over together, with texts between them. */
export type SongSet = Readonly<z.infer<typeof SetSchema>>;
export type SetRow = SongSet['rows'][number];
export type SongRow = Extract<SetRow, { is: 'song' }>;

export const newSet = (id: string, title: string): SongSet => ({
  schemaVersion: SET_VERSION,
  id,
  title,
  folders: 'none',
  recipe: null,
  rows: [],
});

/** The songs in the order in which they are played; those that were put aside are not among them. */
export const songsOf = (set: SongSet): SongRow[] =>
  set.rows.filter((r): r is SongRow => r.is === 'song' && !r.aside);

export type ReadSet =
  | { readonly set: SongSet; readonly problem?: undefined }
  | { readonly set?: undefined; readonly problem: string };

export function parseSet(content: string): ReadSet {
  let data: unknown;
  try {
    data = JSON.parse(content);
  } catch (error) {
    return { problem: `set.json is not whole (${(error as Error).message}). Save the set again.` };
  }
  const later = sayLater(data, 'schemaVersion', SET_VERSION);
  if (later !== null) return { problem: later };
  const result = SetSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    return { problem: `set.json, ${issue.path.join('.') || 'as a whole'}: ${sayIssue(issue)}` };
  }
  const keys = new Set(result.data.rows.map((r) => r.key));
  if (keys.size < result.data.rows.length) return { problem: 'set.json: two rows have one key.' };
  return { set: result.data };
}
