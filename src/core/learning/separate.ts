import { CLAIMS, controllerClaims, type Claim } from './claims';
import { weightOf, type Weighed } from './likely';
import { low, numbersOf, reasonsOf, sayTaken, type Trial } from './reasons';
import { FACTS, sharedNotes } from './prints';
import { parseTarget } from '../target/parse';
import type { Data } from '../target/sentences';
import { settle, type Setting } from '../target/settle';
import { UNSAID } from '../target/unsaid';

/** Why files may have been refused: what all taken keep and a refused one breaks. */
export interface Proposal {
  /** The claim, by its id. */
  readonly claim: string;
  readonly says: string;
  /** Refused files that break it, by name. */
  readonly broken: readonly string[];
  /** How many were refused. */
  readonly of: number;
  /** The taken file that lies nearest to the limit, and the refused one. */
  readonly nearest: { readonly taken: string; readonly refused: string };
  /** Two files that differ in this alone. */
  readonly twins: { readonly taken: string; readonly refused: string } | null;
  /** The number that people would have chosen; what was taken, or has to be there. */
  readonly bound: number | readonly number[] | string;
  /** What a click says in a target. */
  readonly sets: readonly Setting[];
  /** The path that it sets: marked as learnt. */
  readonly path: string;
}

export interface Separated {
  /** The likeliest reason first; those behind it are first for what it leaves unexplained. */
  readonly proposals: readonly Proposal[];
  /** Refused files that nothing separates from those that were taken. */
  readonly unexplained: readonly string[];
  /** What to try next, where nothing separates. */
  readonly advice: string | null;
}

/** What became of the others: not taken at all, or taken and not played as they should be. */
export type Amiss = 'refused' | 'played wrongly';

/** What tells taken files from the others, the likeliest reason first. */
export function separate(trials: readonly Trial[], amiss: Amiss = 'refused'): Separated {
  const taken = trials.filter((t) => t.taken);
  const refused = trials.filter((t) => !t.taken);
  if (taken.length === 0 || refused.length === 0)
    return {
      proposals: [],
      unexplained: [],
      advice:
        taken.length === 0
          ? 'At least one file that was taken is needed: all others are held against it.'
          : null,
    };
  const controllers = new Set(trials.flatMap((t) => numbersOf(t, 'controller-numbers')));
  const weigh = (claim: Weighed['claim'], { bound, broken, twins }: Proposal) =>
    weightOf(
      {
        claim,
        bound,
        broken: broken.length,
        hasTwins: twins !== null,
        controllers: controllers.size,
      },
      taken,
      refused,
    );
  const found: Found[] = [];
  for (const claim of [...CLAIMS, ...controllerClaims([...controllers])]) {
    const one = proposalOf(claim, taken, refused, amiss);
    if (one && canBeSaid(one)) found.push({ claim, proposal: one, weight: weigh(claim, one) });
  }
  const marker = markerOf(taken, refused, amiss);
  if (marker) found.push({ ...marker, weight: weigh(MARKER, marker.proposal) });
  const proposals = inOrder(found, refused.length);
  const explained = new Set(proposals.flatMap((p) => p.broken));
  const unexplained = refused.map((r) => r.name).filter((n) => !explained.has(n));
  return {
    proposals,
    unexplained,
    advice:
      unexplained.length > 0
        ? `Nothing that is measured tells ${unexplained[0]} from the files that were taken. Take ` +
          'one that was taken, change one thing of it after the other towards it, and try each.'
        : null,
  };
}

/** Whether a target has a word for it: a file may hold what lies beyond all that one can say. */
const canBeSaid = ({ sets }: Proposal): boolean =>
  parseTarget(settle(UNSAID as unknown as Data, sets)).target !== undefined;

interface Found {
  readonly claim: Pick<Claim, 'kind'>;
  readonly proposal: Proposal;
  /** How much speaks for it, whatever else does: in powers of two. */
  readonly weight: number;
}

/** What it is worth to explain all that is not explained yet. */
const EXPLAINS = 9;
/** How much less a second claim of one kind is worth, which says nearly the same. */
const AGAIN = 4;

/** The best first; then whatever explains best what it leaves; of one kind one, while others wait. */
function inOrder(found: readonly Found[], refused: number): Proposal[] {
  const waiting = [...found];
  const out: Proposal[] = [];
  const kinds = new Set<string>();
  const grid = new Set<string>();
  const open = new Set(found.flatMap((f) => f.proposal.broken));
  while (waiting.length > 0) {
    const among = open.size === 0 ? refused : open.size;
    const scoreOf = ({ claim, proposal, weight }: Found) => {
      const explains =
        open.size === 0
          ? proposal.broken.length
          : proposal.broken.filter((name) => open.has(name)).length;
      return weight + (explains / among) * EXPLAINS - (kinds.has(claim.kind) ? AGAIN : 0);
    };
    let best = 0;
    for (let i = 1; i < waiting.length; i++)
      if (scoreOf(waiting[i]!) > scoreOf(waiting[best]!)) best = i;
    const [next] = waiting.splice(best, 1);
    const { claim, proposal } = next!;
    // A finer grid says no more where it explains no more.
    const before = claim.kind === 'grid' ? grid : new Set<string>();
    if (proposal.broken.every((name) => before.has(name))) continue;
    out.push(proposal);
    kinds.add(claim.kind);
    for (const name of proposal.broken) {
      open.delete(name);
      if (claim.kind === 'grid') grid.add(name);
    }
  }
  return out;
}

/** What several have, said of one. */
const one = (text: string) => text.replace(/^have /, 'has ').replace(/^lack /, 'lacks ');

function proposalOf(
  claim: Claim,
  taken: readonly Trial[],
  refused: readonly Trial[],
  amiss: Amiss,
): Proposal | null {
  const values = (t: Trial) => numbersOf(t, claim.of);
  const tries = reasonsOf(claim, taken, refused, values)
    .map((reason) => ({ reason, off: refused.filter(reason.breaks) }))
    .filter(({ reason, off }) => off.length > 0 && !taken.some(reason.breaks))
    .sort((a, b) => b.off.length - a.off.length);
  const [best] = tries;
  if (!best) return null;
  const { bound, text, sets = claim.sets(bound) } = best.reason;
  const edge = typeof bound === 'number' ? bound : (bound[0] ?? 0);
  const nearest = (list: readonly Trial[]) => {
    const off = (t: Trial) => low(values(t).map((v) => Math.abs(v - edge)));
    return list.reduce((a, b) => (off(b) < off(a) ? b : a)).name;
  };
  return {
    claim: claim.id,
    says: `${best.off.length} of ${refused.length} ${amiss} ${best.off.length === 1 ? one(text) : text}`,
    broken: best.off.map((t) => t.name),
    of: refused.length,
    nearest: { taken: nearest(taken), refused: nearest(best.off) },
    twins: twinsOf(claim, taken, best.off),
    bound,
    sets,
    path: claim.path,
  };
}

const MARKER = {
  id: 'one-marker',
  kind: 'marker',
  of: 'markers',
  bounds: 'none',
  usual: 5,
  ordinary: 0.05,
  facts: ['markers'],
} as const;

/** A marker that every taken file has exactly once, and refused ones have not. */
function markerOf(
  taken: readonly Trial[],
  refused: readonly Trial[],
  amiss: Amiss,
): Omit<Found, 'weight'> | null {
  const [first, ...others] = taken;
  const common = first!.observed.once.filter((m) =>
    others.every((o) => o.observed.once.includes(m)),
  );
  const lacking = common
    .map((text) => ({ text, off: refused.filter((r) => !r.observed.once.includes(text)) }))
    .filter(({ off }) => off.length > 0)
    .sort((a, b) => b.off.length - a.off.length);
  const [best] = lacking;
  if (!best) return null;
  const proposal: Proposal = {
    claim: MARKER.id,
    says:
      `${best.off.length} of ${refused.length} ${amiss} ${best.off.length === 1 ? 'has' : 'have'} ` +
      `no single marker “${best.text}”; ` +
      `${sayTaken(taken.length, 'have')}`,
    broken: best.off.map((t) => t.name),
    of: refused.length,
    nearest: { taken: first!.name, refused: best.off[0]!.name },
    twins: twinsOf(MARKER, taken, best.off),
    bound: best.text,
    sets: [{ path: 'end.loopMarker', value: best.text }],
    path: 'end.loopMarker',
  };
  return { claim: MARKER, proposal };
}

/** Two files whose notes stand elsewhere are one song where they share at least so many. */
const ONE_SONG = 0.4;

/** Two files that differ in what this is about, and in nothing else; their names may. */
function twinsOf(
  { facts }: Pick<Claim, 'facts'>,
  taken: readonly Trial[],
  refused: readonly Trial[],
): { taken: string; refused: string } | null {
  const held = FACTS.filter((f) => !facts.includes(f));
  const same = (a: Trial, b: Trial) =>
    held.every((f) => a.observed.prints.of[f] === b.observed.prints.of[f]) &&
    (a.observed.prints.of.rhythm === b.observed.prints.of.rhythm ||
      sharedNotes(a.observed.prints, b.observed.prints) >= ONE_SONG);
  for (const r of refused)
    for (const t of taken) if (same(t, r)) return { taken: t.name, refused: r.name };
  return null;
}
