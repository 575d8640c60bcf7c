import { withValue, type Data } from '../target/sentences';
import { FEATURE_IDS, FEATURES, type FeatureId } from './features';

/** A file that somebody tried, and what became of it. */
export interface Trial {
  readonly name: string;
  readonly taken: boolean;
  readonly features: ReadonlyMap<FeatureId, readonly number[]>;
}

/** Why files may have been refused: what all taken keep and a refused one breaks. */
export interface Proposal {
  readonly feature: FeatureId;
  readonly says: string;
  /** How many refused files break it, of all. */
  readonly breaks: number;
  /** Those that break it, by name. */
  readonly broken: readonly string[];
  readonly of: number;
  /** The taken file that lies nearest to the limit, and the refused one. */
  readonly nearest: { readonly taken: string; readonly refused: string };
  /** Two files that differ in this alone. */
  readonly twins: { readonly taken: string; readonly refused: string } | null;
  /** The number that people would have chosen. */
  readonly bound: number | readonly number[];
  /** What a click does to a target. */
  readonly gives: (target: Data) => Data;
  /** The path that it sets: marked as learnt. */
  readonly path: string;
}

export interface Separated {
  readonly proposals: readonly Proposal[];
  /** Refused files that nothing separates from those that were taken. */
  readonly unexplained: readonly string[];
  /** What to try next, where nothing separates. */
  readonly advice: string | null;
}

const low = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b), Infinity);
const high = (values: readonly number[]) => values.reduce((a, b) => Math.max(a, b), -Infinity);

/** Of all numbers between two the one that people would choose: the roundest, nearest the middle. */
export function roundBetween(above: number, upTo: number): number {
  const [from, to] = above < upTo ? [above, upTo] : [upTo, above];
  const inside = (n: number) =>
    above < upTo ? n > from + 1e-9 && n <= to + 1e-9 : n >= from - 1e-9 && n < to - 1e-9;
  for (const step of [1000, 500, 250, 200, 100, 50, 25, 24, 12, 20, 10, 8, 5, 4, 2, 1, 0.5]) {
    const all: number[] = [];
    for (let n = Math.ceil(from / step) * step; n <= to + 1e-9 && all.length < 50; n += step)
      if (inside(n)) all.push(n);
    if (all.length > 0) return all[Math.floor((all.length - 1) / 2)]!;
  }
  return upTo;
}

const plain = (n: number) =>
  (Math.round(n * 100) / 100).toLocaleString('en-GB', { maximumFractionDigits: 2 });

/** What tells taken files from refused ones, the likeliest reason first. */
export function separate(trials: readonly Trial[]): Separated {
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
  const proposals: Proposal[] = [];
  for (const id of FEATURE_IDS) {
    const found = proposalOf(id, taken, refused);
    if (found) proposals.push(found);
  }
  proposals.sort((a, b) => likely(b, refused.length) - likely(a, refused.length));
  const explained = new Set<string>();
  for (const p of proposals) for (const name of p.broken) explained.add(name);
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

const likely = (p: Proposal, refused: number): number =>
  (p.breaks / refused) * 10 + (p.twins ? 12 : 0) + FEATURES[p.feature].usual / 3;

function proposalOf(
  id: FeatureId,
  taken: readonly Trial[],
  refused: readonly Trial[],
): Proposal | null {
  const { as, says: what, unit, path } = FEATURES[id];
  const values = (t: Trial) => t.features.get(id) ?? [];
  const allTaken = taken.flatMap((t) => [...values(t)]);
  if (allTaken.length === 0) return null;
  const nearestOf = (list: readonly Trial[], to: number) =>
    [...list]
      .filter((t) => values(t).length > 0)
      .sort(
        (a, b) =>
          low(values(a).map((v) => Math.abs(v - to))) - low(values(b).map((v) => Math.abs(v - to))),
      )[0]!;
  const build = (
    broken: (t: Trial) => boolean,
    bound: number | readonly number[],
    text: string,
    gives: (d: Data) => Data,
  ): Proposal | null => {
    const off = refused.filter(broken);
    if (off.length === 0 || taken.some(broken)) return null;
    const edge = typeof bound === 'number' ? bound : (bound[0] ?? 0);
    const twins = twinsOf(id, taken, off);
    const proposal: Proposal = {
      feature: id,
      says: `${off.length} of ${refused.length} refused ${text}`,
      breaks: off.length,
      broken: off.map((t) => t.name),
      of: refused.length,
      nearest: { taken: nearestOf(taken, edge).name, refused: nearestOf(off, edge).name },
      twins,
      bound,
      gives,
      path,
    };
    return proposal;
  };
  const u = unit === '' ? '' : ` ${unit}`;
  const set = (at: string, value: unknown) => (d: Data) => withValue(d, at, value);
  switch (as) {
    case 'least': {
      const limit = low(allTaken);
      const under = refused.flatMap((t) => [...values(t)]).filter((v) => v < limit - 1e-6);
      if (under.length === 0) return null;
      const bound = roundBetween(high(under), limit);
      return build(
        (t) => values(t).some((v) => v < bound - 1e-6),
        bound,
        `have ${what} below ${plain(bound)}${u} (nearest ${plain(high(under))}${u}); all ${taken.length} taken at ${plain(limit)}${u} or more`,
        set(path, bound),
      );
    }
    case 'most': {
      const limit = high(allTaken);
      const over = refused.flatMap((t) => [...values(t)]).filter((v) => v > limit + 1e-6);
      if (over.length === 0) return null;
      const bound = roundBetween(low(over), limit);
      const text = `have ${what} above ${plain(bound)}${u} (nearest ${plain(low(over))}${u}); all ${taken.length} taken at ${plain(limit)}${u} or less`;
      return build(
        (t) => values(t).some((v) => v > bound + 1e-6),
        bound,
        text,
        mostOf(id, path, bound),
      );
    }
    case 'none': {
      if (allTaken.some((v) => v > 0)) return null;
      const value = path === 'end.wholeBars' ? true : 'none';
      return build(
        (t) => values(t).some((v) => v > 0),
        0,
        `have ${what}; none of the ${taken.length} taken has`,
        set(path, value),
      );
    }
    case 'single': {
      if (allTaken.some((v) => v > 1)) return null;
      return build(
        (t) => values(t).some((v) => v > 1),
        1,
        `have several ${what}; all ${taken.length} taken have one`,
        set(path, true),
      );
    }
    case 'one-of':
    case 'all-of': {
      const known = [...new Set(allTaken)].sort((a, b) => a - b);
      const broken = (t: Trial) => values(t).some((v) => !known.includes(v));
      const gives =
        id === 'format'
          ? (d: Data) => withValue(withValue(d, path, known), 'file.deliverFormat', known[0])
          : set(path, known);
      return build(
        broken,
        known,
        `have another ${what} than ${known.join(', ')}, as all ${taken.length} taken have`,
        gives,
      );
    }
    case 'ppq': {
      const known = [...new Set(allTaken)].sort((a, b) => a - b);
      const others = refused.flatMap((t) => [...values(t)]);
      // A common measure, a most or a list: what says it most simply and breaks most.
      const multiple = known.reduce(gcd);
      const tries: (Proposal | null)[] = [];
      if (known.length > 1 && multiple >= 24 && others.some((v) => v % multiple !== 0))
        tries.push(
          build(
            (t) => values(t).some((v) => v % multiple !== 0),
            multiple,
            `have a PPQ that is no multiple of ${multiple}, as all ${taken.length} taken have`,
            set('file.ppq.multipleOf', multiple),
          ),
        );
      const over = others.filter((v) => v > high(known));
      if (known.length > 1 && over.length > 0)
        tries.push(
          build(
            (t) => values(t).some((v) => v > high(known)),
            high(known),
            `have a PPQ above ${high(known)}`,
            set('file.ppq.highest', high(known)),
          ),
        );
      tries.push(
        build(
          (t) => values(t).some((v) => !known.includes(v)),
          known,
          `have another PPQ than ${known.join(', ')}, as all ${taken.length} taken have`,
          set('file.ppq.only', known),
        ),
      );
      return (
        tries.filter((p): p is Proposal => p !== null).sort((a, b) => b.breaks - a.breaks)[0] ??
        null
      );
    }
  }
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

function mostOf(id: FeatureId, path: string, bound: number): (d: Data) => Data {
  if (id === 'together' || id === 'together-all')
    return (d) => ({
      ...d,
      polyphony: { together: bound, over: id === 'together' ? 'seat' : 'all' },
    });
  if (id === 'tempos' && bound === 1) return (d) => withValue(d, 'tempo.constant', true);
  if (id === 'run' || id === 'leap')
    return (d) => ({
      ...d,
      limits: [
        ...((d['limits'] as readonly unknown[] | undefined) ?? []),
        {
          measure: id === 'run' ? 'run' : 'interval',
          over: 'note',
          most: bound,
          title: id === 'run' ? 'Too many repeats' : 'Too wide an interval',
          why: 'Files with more were refused',
        },
      ],
    });
  return (d) => withValue(d, path, bound);
}

/** Which features follow from which: a file that begins later is longer by itself. */
const FOLLOWS: Readonly<Partial<Record<FeatureId, readonly FeatureId[]>>> = {
  'first-ms': ['first-bar', 'bars', 'bytes', 'whole-bars'],
  'first-bar': ['first-ms', 'bars', 'bytes', 'whole-bars'],
  'slowest-bpm': [
    'fastest-bpm',
    'first-ms',
    'same-key-ms',
    'apart-ms',
    'shortest-ms',
    'longest-ms',
    'strikes-second',
    'bytes',
  ],
  'fastest-bpm': [
    'slowest-bpm',
    'first-ms',
    'same-key-ms',
    'apart-ms',
    'shortest-ms',
    'longest-ms',
    'strikes-second',
    'bytes',
  ],
  tempos: [
    'slowest-bpm',
    'fastest-bpm',
    'bytes',
    'longest-ms',
    'shortest-ms',
    'same-key-ms',
    'apart-ms',
    'strikes-second',
  ],
  together: ['together-all', 'notes', 'bytes', 'lowest', 'highest', 'softest', 'hardest'],
  'together-all': ['together', 'notes', 'bytes', 'note-tracks'],
  lowest: ['leap', 'bytes'],
  highest: ['leap', 'bytes'],
  notes: ['bytes', 'run'],
  bars: ['bytes', 'notes'],
  format: ['note-tracks', 'bytes', 'track-names'],
  ppq: ['bytes', 'shortest-ms', 'first-ms', 'whole-bars'],
  channels: ['bytes', 'note-tracks'],
};
const ALWAYS: readonly FeatureId[] = ['bytes'];

/** Two files that differ in this one thing, and in what follows from it. */
function twinsOf(
  id: FeatureId,
  taken: readonly Trial[],
  refused: readonly Trial[],
): { taken: string; refused: string } | null {
  const free = new Set<FeatureId>([id, ...ALWAYS, ...(FOLLOWS[id] ?? [])]);
  const same = (a: Trial, b: Trial) =>
    FEATURE_IDS.every((f) => {
      if (free.has(f)) return true;
      const [x, y] = [a.features.get(f) ?? [], b.features.get(f) ?? []];
      return x.length === y.length && x.every((v, i) => Math.abs(v - y[i]!) < 1e-6);
    });
  for (const r of refused)
    for (const t of taken) if (same(t, r)) return { taken: t.name, refused: r.name };
  return null;
}
