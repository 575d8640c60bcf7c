import type { Claim } from './claims';
import { classesOf, high, low, numbersOf, type Trial } from './reasons';

/** What is weighed of a reason. */
export interface Weighed {
  readonly claim: Pick<Claim, 'id' | 'bounds' | 'of' | 'usual' | 'ordinary'>;
  readonly bound: number | readonly number[] | string;
  /** How many refused files it breaks. */
  readonly broken: number;
  readonly hasTwins: boolean;
  /** Controllers of all these files: each brings claims of its own. */
  readonly controllers: number;
}

/**
 * What each kind of sign is worth, in powers of two: found over made-up devices of one, two and three
 * rules, and files of many hands (`npm run bench learning`).
 */
const USUAL = 1.9;
/** Of what songs have or have not. */
const EVIDENCE = 0.6;
/** Of bounds, which fit the taken files by themselves. */
const EVIDENCE_OF_BOUNDS = 0.4;
/** That two files differ in nothing else. */
const TWINS = 10;
/** That it is a list, and for each further stretch of it. */
const LIST = -1.5;
const STRETCH = -0.5;
const MOST_STRETCHES = 8;
/** For each doubling of the controllers. */
const ONE_OF_MANY = -1.5;
/** For each digit behind the first. */
const DIGIT = -0.5;
const WIDTH = 0.5;
const AT_LIMIT = 0.25;

/**
 * How usual such a rule is, and how unlikely these files would be without it. A bound is learnt from
 * the taken files and fits them by itself: only the refused speak for it, and the more so, the seldomer
 * the next song would go beyond it anyway, which is estimated by how many taken ones go beyond all
 * others (Good and Turing). Of what songs have or have not it counts how common that is. Songs have
 * much in common, so that none of it counts whole.
 */
export function weightOf(
  { claim, bound, broken, hasTwins, controllers }: Weighed,
  taken: readonly Trial[],
  refused: readonly Trial[],
): number {
  const many = /^controller-\d/.test(claim.id) ? ONE_OF_MANY * Math.log2(controllers) : 0;
  return (
    USUAL * Math.log2(claim.usual) +
    evidenceOf(claim, broken, taken) +
    (hasTwins ? TWINS : 0) +
    saidShortly(claim, bound) +
    limitSigns(claim, taken, refused) +
    many
  );
}

const MOST_COUNTED = 8;

function evidenceOf(claim: Weighed['claim'], broken: number, taken: readonly Trial[]): number {
  const refused = Math.min(MOST_COUNTED, broken);
  const beyond = newIn(claim, taken);
  if (beyond !== null)
    return (
      EVIDENCE_OF_BOUNDS * refused * -Math.log2((beyond + 0.5) / (taken.length + 1)) +
      (claim.of === 'keys' ? scaleSign(claim, taken) : 0)
    );
  const chance = Math.min(0.95, Math.max(0.05, claim.ordinary));
  const kept = Math.min(MOST_COUNTED, taken.length) * -Math.log2(chance);
  return EVIDENCE * (kept + refused * -Math.log2(1 - chance));
}

/** Of a list of keys: how seldom so many songs keep to so few pitch classes, each in its own key. */
function scaleSign({ bounds }: Weighed['claim'], taken: readonly Trial[]): number {
  if (bounds !== 'inside') return 0;
  const { size } = classesOf(taken.flatMap((t) => [...numbersOf(t, 'keys')]));
  return EVIDENCE * Math.min(MOST_COUNTED, taken.length) * 2 * Math.log2(12 / Math.max(1, size));
}

/** Several that end at one number end at a limit, or by chance: many songs are as loud as can be. */
const SEVERAL = 0.75;

/** How many taken files would break it, had it been learnt from the others; null of what is no bound. */
function newIn({ bounds, of }: Weighed['claim'], taken: readonly Trial[]): number | null {
  if (bounds === 'none' || bounds === 'has' || taken.length < 2) return null;
  const all = taken.map((t) => numbersOf(t, of)).filter((values) => values.length > 0);
  if (bounds === 'least' || bounds === 'most') {
    const ends = all.map(bounds === 'least' ? low : high);
    const end = bounds === 'least' ? low(ends) : high(ends);
    return ends.filter((e) => e === end).length === 1 ? 1 : SEVERAL;
  }
  const files = new Map<number, number>();
  for (const values of all) for (const v of new Set(values)) files.set(v, (files.get(v) ?? 0) + 1);
  return all.filter((values) => values.some((v) => files.get(v) === 1)).length;
}

/** People write round numbers and short lists; by chance it is any number, and whatever was met. */
function saidShortly({ id, bounds }: Weighed['claim'], bound: Weighed['bound']): number {
  if (bounds === 'none') return 0;
  if (bounds === 'least' || bounds === 'most') return DIGIT * (digitsOf(bound) - 1);
  if (typeof bound !== 'object' || id === 'format') return LIST;
  const stretches = CONTIGUOUS.has(id) ? stretchesOf(bound) : bound.length;
  return LIST + STRETCH * Math.min(MOST_STRETCHES, stretches - 1);
}

/** Lists of which numbers that follow each other are said in one. */
const CONTIGUOUS: ReadonlySet<string> = new Set([
  'channels',
  'only-keys',
  'controller-numbers',
  'program-numbers',
]);

/** Keys may be those of a scale. */
function stretchesOf(list: readonly number[]): number {
  const classes = classesOf(list);
  const inList = runsOf(list);
  return classes.size < 12 ? Math.min(inList, runsOf([...classes])) : inList;
}

function runsOf(list: readonly number[]): number {
  const sorted = [...new Set(list)].sort((a, b) => a - b);
  return sorted.filter((v, i) => i === 0 || v !== sorted[i - 1]! + 1).length;
}

/** Digits from the first that counts to the last: 1 of 400, 3 of 1.25. */
function digitsOf(bound: Weighed['bound']): number {
  if (typeof bound !== 'number' || bound === 0) return 1;
  const [digits] = Math.abs(bound).toPrecision(12).split('e');
  return Math.max(1, digits!.replace('.', '').replace(/^0+|0+$/g, '').length);
}

/**
 * Of a limit there is room between the taken files and the refused ones, and those that were made to
 * keep it end at one number, where other files seldom do.
 */
function limitSigns(
  { bounds, of }: Weighed['claim'],
  taken: readonly Trial[],
  refused: readonly Trial[],
): number {
  if (bounds !== 'least' && bounds !== 'most') return 0;
  const [end, isBeyond] =
    bounds === 'least'
      ? [low, (a: number, b: number) => a < b]
      : [high, (a: number, b: number) => a > b];
  const endsOf = (trials: readonly Trial[]) =>
    trials.map((t) => end(numbersOf(t, of))).filter(Number.isFinite);
  const [kept, others] = [endsOf(taken), endsOf(refused)];
  const limit = end(kept);
  const beyond = others.filter((e) => isBeyond(e, limit));
  if (kept.length === 0 || beyond.length === 0) return 0;
  const nearest = (bounds === 'least' ? high : low)(beyond);
  return (
    WIDTH * widthOf(limit, nearest, [...kept, ...others]) +
    AT_LIMIT *
      endTogether(kept.filter((e) => e === limit).length, [
        ...kept.filter((e) => e !== limit),
        ...others,
      ])
  );
}

const NARROWEST = 0.03;

/**
 * The room between two numbers as a share of all that was met: 0 where it is all of it. By ratios, but
 * for what is far below them: that something begins at once is not infinitely early.
 */
function widthOf(a: number, b: number, all: readonly number[]): number {
  const scaleOf = (n: number) => Math.log2(Math.max(0, n) + Math.max(a, b) / 4);
  const scaled = all.map(scaleOf);
  const spread = high(scaled) - low(scaled) || 1;
  return Math.log2(Math.abs(scaleOf(a) - scaleOf(b)) / spread + NARROWEST);
}

/** How much less likely than among the others it is that so many end at one number. */
function endTogether(n: number, others: readonly number[]): number {
  if (n < 2) return 0;
  let [same, pairs] = [0.5, 3];
  others.forEach((a, i) => {
    for (let j = 0; j < i; j++) {
      pairs++;
      if (others[j] === a) same++;
    }
  });
  return (n - 1) * -Math.log2(same / pairs);
}
