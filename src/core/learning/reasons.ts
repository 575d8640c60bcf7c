import type { Claim } from './claims';
import type { Observed } from './observe';
import { roundBetween } from './round';
import type { Setting } from '../target/settle';

/** A file that somebody tried, and what became of it. */
export interface Trial {
  readonly name: string;
  readonly taken: boolean;
  readonly observed: Observed;
}

export const low = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b), Infinity);
export const high = (values: readonly number[]) =>
  values.reduce((a, b) => Math.max(a, b), -Infinity);

export const numbersOf = (t: Trial, of: string): readonly number[] =>
  t.observed.numbers.get(of) ?? [];

export interface Reason {
  readonly bound: number | readonly number[];
  readonly breaks: (t: Trial) => boolean;
  /** What the refused have, in words. */
  readonly text: string;
  readonly sets?: readonly Setting[];
}

const plain = (n: number) =>
  (Math.round(n * 100) / 100).toLocaleString('en-GB', { maximumFractionDigits: 2 });

/** All taken files, or the one that there is, with the verb that goes with it. */
export const sayTaken = (n: number, verb?: 'have'): string =>
  n === 1 ? `the one taken${verb ? ' has' : ''}` : `all ${n} taken${verb ? ' have' : ''}`;

/** In what share of the other taken files a value of a list stands, in the middle, at the least. */
const SHARED = 0.25;

/** How many different values may still be a list that somebody would write down. */
const LONGEST_LIST = 88;

/** Songs have keys of their own: several within so few pitch classes keep to a scale that is given. */
const MOST_CLASSES = 8;
const FEWEST_OF_SCALE = 3;

/** Pitch classes of keys, 0 a C. */
export const classesOf = (keys: readonly number[]): ReadonlySet<number> =>
  new Set(keys.map((key) => key % 12));

/** All keys of the scale that keys are of, from the lowest to the highest; null where they are of none. */
function keysOfScale(sorted: readonly number[]): number[] | null {
  const classes = classesOf(sorted);
  if (sorted.length <= MOST_CLASSES || classes.size > MOST_CLASSES) return null;
  const [from, to] = [sorted[0]!, sorted.at(-1)!];
  return Array.from({ length: to - from + 1 }, (_, i) => from + i).filter((k) =>
    classes.has(k % 12),
  );
}

/** The ways in which a claim may bound these files, the simplest first. */
export function reasonsOf(
  { bounds, says: what, unit, say = plain, of, listed = false }: Claim,
  taken: readonly Trial[],
  refused: readonly Trial[],
  values: (t: Trial) => readonly number[],
): Reason[] {
  const n = taken.length;
  const u = unit === '' ? '' : ` ${unit}`;
  const allTaken = taken.flatMap((t) => [...values(t)]);
  const allRefused = refused.flatMap((t) => [...values(t)]);
  if (allRefused.length === 0 && bounds !== 'has') return [];
  switch (bounds) {
    case 'least':
    case 'most': {
      if (allTaken.length === 0) return [];
      const isLeast = bounds === 'least';
      const limit = isLeast ? low(allTaken) : high(allTaken);
      const beyond = allRefused.filter((v) => (isLeast ? v < limit - 1e-6 : v > limit + 1e-6));
      if (beyond.length === 0) return [];
      const edge = isLeast ? high(beyond) : low(beyond);
      const bound = roundBetween(edge, limit);
      const [off, kept] = isLeast ? ['below', 'more'] : ['above', 'less'];
      return [
        {
          bound,
          breaks: (t) => values(t).some((v) => (isLeast ? v < bound - 1e-6 : v > bound + 1e-6)),
          text:
            `have ${what} ${off} ${plain(bound)}${u} (nearest ${plain(edge)}${u}); ` +
            `${sayTaken(n)} at ${plain(limit)}${u} or ${kept}`,
        },
      ];
    }
    case 'none':
      return [
        {
          bound: 0,
          breaks: (t) => values(t).some((v) => v > 0),
          text: `have ${what}; ${n === 1 ? 'the one taken has not' : `none of the ${n} taken has`}`,
        },
      ];
    case 'only':
    case 'inside': {
      const met = [...new Set(allTaken)].sort((a, b) => a - b);
      const scale = of === 'keys' && n >= FEWEST_OF_SCALE ? keysOfScale(met) : null;
      const known = scale ?? met;
      if (known.length === 0 || known.length > LONGEST_LIST) return [];
      // Where every file brings values of its own, a list of them is no rule; nor is that of one file.
      if (!listed && n === 1) return [];
      const times = taken.reduce((sum, t) => sum + new Set(values(t)).size, 0);
      if (!listed && !scale && times < known.length * (1 + (n - 1) * SHARED)) return [];
      const isKnown = (v: number) => known.some((k) => Math.abs(k - v) < 0.005);
      // Beyond the ends another claim says it with one number.
      const isMeant = (v: number) => bounds === 'only' || (v > known[0]! && v < known.at(-1)!);
      return [
        {
          bound: known,
          breaks: (t) => values(t).some((v) => isMeant(v) && !isKnown(v)),
          text: `have other ${what} than ${sayList(known.map(say))}, as ${sayTaken(n, 'have')}`,
        },
      ];
    }
    case 'has': {
      const [first, ...others] = taken;
      const common = values(first!).filter((v) => others.every((o) => values(o).includes(v)));
      const missing = common.filter((v) => refused.some((r) => !values(r).includes(v)));
      if (missing.length === 0) return [];
      return [
        {
          bound: missing,
          breaks: (t) => missing.some((v) => !values(t).includes(v)),
          text: `lack ${what}${missing.length > 1 ? 's' : ''} ${missing.join(', ')}; ${sayTaken(n, 'have')} that`,
        },
      ];
    }
    case 'ppq':
      return ppqReasons(allTaken, allRefused, n, (t) => numbersOf(t, of));
  }
}

/** The first of a long list, and how many more. */
const sayList = (words: readonly string[]): string =>
  words.length <= 12
    ? words.join(', ')
    : `${words.slice(0, 10).join(', ')} and ${words.length - 10} more`;

/** A common measure, a most, or a list: what says it most simply and breaks most. */
function ppqReasons(
  allTaken: readonly number[],
  others: readonly number[],
  n: number,
  values: (t: Trial) => readonly number[],
): Reason[] {
  const known = [...new Set(allTaken)].sort((a, b) => a - b);
  if (known.length === 0) return [];
  const multiple = known.reduce(gcd);
  const out: Reason[] = [];
  const most = high(known);
  if (known.length > 1 && multiple >= 24 && others.some((v) => v % multiple !== 0))
    out.push({
      bound: multiple,
      breaks: (t) => values(t).some((v) => v % multiple !== 0),
      text: `have a PPQ that is no multiple of ${multiple}, as ${sayTaken(n, 'have')}`,
      sets: [{ path: 'file.ppq', value: { multipleOf: multiple } }],
    });
  if (known.length > 1 && others.some((v) => v > most))
    out.push({
      bound: most,
      breaks: (t) => values(t).some((v) => v > most),
      text: `have a PPQ above ${most}`,
      sets: [{ path: 'file.ppq', value: { highest: most } }],
    });
  out.push({
    bound: known,
    breaks: (t) => values(t).some((v) => !known.includes(v)),
    text: `have another PPQ than ${known.join(', ')}, as ${sayTaken(n, 'have')}`,
    sets: [{ path: 'file.ppq', value: { only: known } }],
  });
  return out;
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
