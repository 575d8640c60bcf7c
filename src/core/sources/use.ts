import * as z from 'zod';
import { LATEST_TICK } from '../smf/file';
import { firstInForce } from '../time/tempo-map';
import type { SourceScore } from './source';

/**
 * How a source takes part. `together`: its parts join the one score; `file`: it is a piece of its
 * own. One of those that are together rules the conductor; the others follow it by bars (their ticks
 * scaled) or by the clock, later by an offset.
 */
export const SourceUseSchema = z.strictObject({
  source: z.string().min(1).max(100),
  as: z.enum(['together', 'file']),
  follows: z.enum(['bars', 'clock']).optional(),
  /** By bars: in ticks of the source itself. By the clock: in microseconds. */
  offset: z.int().min(-LATEST_TICK).max(LATEST_TICK).optional(),
  rules: z.boolean().optional(),
  /** The seat of kind `file` that a piece of its own takes. */
  place: z.string().max(100).optional(),
});
export type SourceUse = Readonly<z.infer<typeof SourceUseSchema>>;

/** A use with everything said. */
export interface ResolvedUse {
  readonly source: SourceScore;
  readonly as: 'together' | 'file';
  readonly follows: 'bars' | 'clock';
  readonly offset: number;
  readonly rules: boolean;
  readonly place: string | null;
}

const conducts = ({ score: { conductor: c } }: SourceScore) =>
  c.tempos.length + c.meters.length + c.markers.length + c.keys.length;

/** Whichever way they came in: who conducts most, then by name and by what the bytes are. */
const inOrder = (a: SourceScore, b: SourceScore): number =>
  conducts(b) - conducts(a) ||
  compareText(a.name, b.name) ||
  compareText(a.sha256, b.sha256) ||
  compareText(a.key, b.key);

const compareText = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/**
 * The use of every source, in the order in which they are merged: the ruling one, those that are
 * together with it, files of their own. What the plan does not say: all are together, the one that
 * conducts most rules, and one follows by bars where its tempo is the ruling one's or none.
 */
export function usesOf(
  sources: readonly SourceScore[],
  said: readonly SourceUse[] = [],
): ResolvedUse[] {
  const of = (s: SourceScore) => said.find((u) => u.source === s.key);
  const sorted = [...sources].sort(inOrder);
  const together = sorted.filter((s) => of(s)?.as !== 'file');
  const ruling = together.find((s) => of(s)?.rules) ?? together[0];
  const ranked = [
    ...(ruling ? [ruling] : []),
    ...together.filter((s) => s !== ruling),
    ...sorted.filter((s) => of(s)?.as === 'file'),
  ];
  return ranked.map((source) => {
    const use = of(source);
    return {
      source,
      as: use?.as ?? 'together',
      follows: followsOf(source, ruling, use?.follows),
      offset: use?.offset ?? 0,
      rules: source === ruling,
      place: use?.place ?? null,
    };
  });
}

/** Frames have no bars to follow by. */
function followsOf(
  source: SourceScore,
  ruling: SourceScore | undefined,
  said: 'bars' | 'clock' | undefined,
): 'bars' | 'clock' {
  const framed = [source, ruling].some((s) => s?.score.division.kind === 'smpte');
  if (framed) return 'clock';
  if (said) return said;
  const own = source.score.conductor.tempos;
  const first = firstInForce(ruling?.score.conductor.tempos ?? [])?.microsecondsPerQuarter;
  const begins = firstInForce(own)?.microsecondsPerQuarter;
  return begins === undefined || begins === (first ?? 500_000) ? 'bars' : 'clock';
}
