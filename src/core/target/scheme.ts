import * as z from 'zod';
import { problemsOf } from '../diagnostic/say-problems';
import { line, noteNumber, slug } from './schema-values';
import type { Target } from './schema';

/**
 * How the keys of a foreign chart are to be read: which key is which lane of which seat, and which
 * keys are marks that flag the notes under them. Data, so that people can write their own.
 */
export const SCHEME_VERSION = 1;

const track = line
  .optional()
  .describe('Only on tracks of this name; on all where nothing is said.');

export const SchemeSchema = z.strictObject({
  schemeVersion: z.literal(SCHEME_VERSION),
  id: slug,
  name: line,
  target: slug.describe('The target whose seats it names.'),
  rows: z
    .array(
      z.strictObject({
        track,
        seat: slug,
        keys: z.array(noteNumber).min(1).max(64).describe('The key of each lane, lane 1 first.'),
      }),
    )
    .min(1)
    .max(256),
  flags: z
    .array(z.strictObject({ track, key: noteNumber, flag: slug }))
    .max(64)
    .optional()
    .describe('A note on such a key flags all that begin while it sounds.'),
});
export type Scheme = z.infer<typeof SchemeSchema>;

export type ReadScheme =
  | { readonly scheme: Scheme; readonly problem?: undefined }
  | { readonly scheme?: undefined; readonly problem: string };

export function parseScheme(text: string): ReadScheme {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { problem: `This is not JSON: ${(error as Error).message}` };
  }
  const result = SchemeSchema.safeParse(data);
  if (result.success) return { scheme: result.data };
  const [first] = problemsOf(SchemeSchema, result.error.issues);
  return { problem: `${first!.path || 'the whole file'}: ${first!.says}` };
}

/** The parameters of the step “Read lanes” for a target; or why its seats are not those of the scheme. */
export function laneParams(
  { name, rows, flags = [] }: Scheme,
  { name: of, seats }: Target,
): { params: object; problem?: undefined } | { params?: undefined; problem: string } {
  const made = [];
  for (const row of rows) {
    const seat = seats.find((s) => s.id === row.seat);
    if (seat?.kind !== 'laneGroup') return { problem: `${of} has no seat ${row.seat} with lanes.` };
    if (row.keys.length > seat.laneNotes.length)
      return {
        problem: `${seat.name} has ${seat.laneNotes.length} lanes, not ${row.keys.length}.`,
      };
    made.push({
      ...(row.track === undefined ? {} : { track: row.track }),
      keys: row.keys,
      seat: seat.id,
      name: seat.name,
      channel: seat.channel,
      to: seat.track ?? seat.name,
      laneNotes: seat.laneNotes.slice(0, row.keys.length),
    });
  }
  return { params: { scheme: name, rows: made, flags } };
}

const upTo = (from: number, lanes: number) => Array.from({ length: lanes }, (_, i) => from + i);
const LANES = [2, 3, 5, 7, 7];

/** Those that ship with it: a chart whose levels are stacked by octaves, and one of two sides. */
export const schemes: readonly Scheme[] = [
  {
    schemeVersion: 1,
    id: 'rungs-by-octaves',
    name: 'Rungs stacked by octaves',
    target: 'reed-ladder',
    rows: ['Chanter', 'Drone', 'Bellows'].flatMap((part) =>
      LANES.map((lanes, rung) => ({
        track: part,
        seat: `${part.toLowerCase()}-${rung + 1}`,
        keys: upTo(36 + rung * 12, lanes),
      })),
    ),
    flags: [
      { key: 108, flag: 'feather' },
      { key: 109, flag: 'rooted' },
    ],
  },
  {
    schemeVersion: 1,
    id: 'sides-by-octaves',
    name: 'Two sides, an octave apart',
    target: 'marsh-duel',
    rows: [
      { seat: 'ebb', keys: upTo(48, 6) },
      { seat: 'flood', keys: upTo(60, 6) },
    ],
  },
];
