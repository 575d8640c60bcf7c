import * as z from 'zod';
import { FormatSchema } from './schema';

const short = z.string().min(1).max(200);
const seat = z.strictObject({
  id: short,
  name: short,
  kind: short,
  laneNotes: z.array(z.int().min(0).max(127)).max(128).optional(),
  rung: z.int().min(1).max(16).optional(),
  channel: z.int().min(1).max(16).optional(),
});

/**
 * What is kept of a target beside a source that one of its formats read, so that the source is read
 * alike when the target has changed, or stands in another browser.
 */
export const KeptFormatsSchema = z.strictObject({
  target: short,
  name: short,
  formats: z.array(FormatSchema).min(1).max(20),
  seats: z.array(seat).max(256),
});
export type KeptFormats = z.infer<typeof KeptFormatsSchema>;

type SeatOf = { readonly [K in keyof z.infer<typeof seat>]: z.infer<typeof seat>[K] };
interface TargetLike {
  readonly id: string;
  readonly name: string;
  readonly formats?: readonly z.infer<typeof FormatSchema>[] | undefined;
  readonly seats: readonly { readonly id: string; readonly name: string; readonly kind: string }[];
}

/** The formats of a target with its seats as far as a file can name them; null where it has none. */
export const keptFormats = ({ id, name, formats, seats }: TargetLike): KeptFormats | null =>
  formats && formats.length > 0
    ? { target: id, name, formats: [...formats], seats: seats.map(asKept) }
    : null;

function asKept(one: { readonly id: string; readonly name: string; readonly kind: string }) {
  const { id, name, kind } = one;
  const { laneNotes, rung, channel } = one as SeatOf;
  return {
    id,
    name,
    kind,
    ...(laneNotes ? { laneNotes: [...laneNotes] } : {}),
    ...(rung === undefined ? {} : { rung }),
    ...(channel === undefined ? {} : { channel }),
  };
}

/** Endings of the files that formats of one's own make, as `.xml`. */
export const endingsOf = (paths: readonly string[]): ReadonlySet<string> =>
  new Set(paths.flatMap((path) => /\.[a-z0-9_-]{1,12}$/i.exec(path)?.[0].toLowerCase() ?? []));

/** Those that stand beside a source in a pack; null where they are not whole. */
export function parseKept(text: string): KeptFormats | null {
  try {
    return KeptFormatsSchema.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}
