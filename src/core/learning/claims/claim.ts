import type { LimitOver, MeasureId } from '../../target/limit-schema';
import type { Fact } from '../prints';
import type { Setting } from '../../target/settle';

/**
 * How a number bounds: never below, never above, no such thing, nothing but what was taken, nothing
 * else between the least and the most that was, or what all taken have.
 */
export type Bounds = 'least' | 'most' | 'none' | 'only' | 'inside' | 'ppq' | 'has';

/** One thing that a target may be strict about. */
export interface Claim {
  readonly id: string;
  /** The number of the file that it is about. */
  readonly of: string;
  readonly bounds: Bounds;
  /** What is measured, in words. */
  readonly says: string;
  readonly unit: string;
  /** The path that it sets, for marks of what was learnt. */
  readonly path: string;
  /** How usual it is that a target is strict about this, of ten. */
  readonly usual: number;
  /** The share of songs that keep it by themselves: how little it says that all taken ones do. */
  readonly ordinary: number;
  /** What may differ between two files that differ in this alone. */
  readonly facts: readonly Fact[];
  /** Claims of one kind say nearly the same. */
  readonly kind: string;
  /** A list of its values is usual, however few files share one. */
  readonly listed?: boolean;
  readonly sets: (bound: number | readonly number[]) => readonly Setting[];
  /** Says a value as people do; a number where nothing is said. */
  readonly say?: (value: number) => string;
}

export const NOTES: readonly Fact[] = [
  'rhythm',
  'lengths',
  'keys',
  'velocities',
  'channels',
  'tracks',
];
export const TIMES: readonly Fact[] = ['rhythm', 'tempo', 'lengths', 'keys', 'velocities', 'end'];
export const ALL: readonly Fact[] = [...NOTES, 'start', 'end', 'markers', 'texts', 'controllers'];

export type Rest = Partial<Pick<Claim, 'unit' | 'sets' | 'say' | 'kind' | 'of' | 'listed'>>;
export const claim = (
  id: string,
  bounds: Bounds,
  says: string,
  path: string,
  usual: number,
  ordinary: number,
  facts: readonly Fact[],
  rest: Rest = {},
): Claim => ({
  id,
  of: id,
  bounds,
  says,
  unit: '',
  path,
  usual,
  ordinary,
  facts,
  kind: id,
  sets: (bound) => [{ path, value: bound }],
  ...rest,
});

export const alone = (path: string, value: unknown) => ({ sets: () => [{ path, value }] });
export const ms = { unit: 'ms' };

/** A limit of one's own, in words of who has only seen files refused. */
export const limit = (
  measure: MeasureId,
  over: LimitOver,
  end: 'least' | 'most' | 'oneOf' | 'multipleOf',
  title: string,
): Pick<Claim, 'sets'> => ({
  sets: (bound) => [
    {
      path: 'limits',
      adds: { measure, over, [end]: bound, title, why: 'Files that break it were refused' },
    },
  ],
});
export const ofLimit = (
  id: string,
  bounds: 'least' | 'most',
  says: string,
  [measure, over, title]: [MeasureId, LimitOver, string],
  [usual, ordinary]: [number, number],
  facts: readonly Fact[],
  rest: Rest = {},
) =>
  claim(id, bounds, says, 'limits', usual, ordinary, facts, {
    ...limit(measure, over, bounds, title),
    ...rest,
  });

export const together = (bound: unknown, over: 'seat' | 'all'): Setting[] => [
  { path: 'polyphony.together', value: bound },
  { path: 'polyphony.over', value: over },
];
/** What else is said of voices has to say how many there are. */
export const ANY_VOICES: readonly Setting[] = [
  { path: 'polyphony.together', orElse: 128 },
  { path: 'polyphony.over', orElse: 'seat' },
];
export const bare = (bound: number | readonly number[]) =>
  typeof bound === 'number' ? bound : (bound[0] ?? 0);
export const meter = (code: number) => `${Math.floor(code / 1000)}/${code % 1000}`;
