import type { Cased, Value, When } from './schema';

// Where one of several values can stand: which they are, and when each is meant.

export type Uncased = Exclude<Value, Cased>;

/** One that can stand there: all of these have to hold, and none of those. */
export interface Candidate {
  readonly value: Uncased;
  readonly when: readonly When[];
  readonly not: readonly When[];
}

const kept = new WeakMap<Cased, readonly Candidate[]>();
/** All that can stand in a place, in the order of the description. */
export function candidatesOf(v: Value): readonly Candidate[] {
  if (v.is !== 'case') return [{ value: v, when: [], not: [] }];
  const there = kept.get(v);
  if (there) return there;
  const within = (value: Value, when: readonly When[], not: readonly When[]) =>
    candidatesOf(value).map((c) => ({
      value: c.value,
      when: [...when, ...c.when],
      not: [...not, ...c.not],
    }));
  const whens = v.cases.map((c) => c.when);
  const made = [
    ...v.cases.flatMap((c, i) => within(c.value, [c.when], whens.slice(0, i))),
    ...within(v.otherwise, [], whens),
  ];
  kept.set(v, made);
  return made;
}
