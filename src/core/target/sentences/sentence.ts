import { OVER_WORDS, type LimitOver } from '../limit-schema';

/**
 * A target as sentences: what it says is read and written where it stands. Data alone; the fields in
 * a sentence are `{path}`, and their bounds come from the schema.
 *
 * `{path:kind}` names a kind that the schema does not tell (key, keys, meters, seats, writer), and
 * `{path|value=words|…}` gives the words of each choice.
 */
export interface Sentence {
  readonly text: string;
  /** What is set when it is said; `true` for what is said without a field. */
  readonly first: Readonly<Record<string, unknown>>;
  /** How it is offered while it is not said; none for what always stands there. */
  readonly offer?: string;
  /** The block goes as a whole when this is taken back: the rest of it cannot stand alone. */
  readonly whole?: string;
  /** Said first, where it is not: another sentence of the subject, by its offer. */
  readonly needs?: string;
}

/** A list of things with sentences of their own: seats, kits, levels. */
export interface Cards {
  readonly path: string;
  /** What one is called, and how one more is asked for. */
  readonly one: string;
  readonly more: string;
  /** What a new one begins with; `n` counts from 1. */
  readonly first: (n: number) => Readonly<Record<string, unknown>>;
  /** By the kind of the card, where there are several; else those under ''. */
  readonly kinds: Readonly<Record<string, { name: string; sentences: readonly Sentence[] }>>;
  readonly cards?: readonly Cards[];
}

export interface Subject {
  readonly id: string;
  readonly title: string;
  /** "Says nothing of velocity" */
  readonly of: string;
  readonly sentences: readonly Sentence[];
  readonly cards?: readonly Cards[];
}

export const s = (
  text: string,
  first: Readonly<Record<string, unknown>>,
  offer?: string,
  more: Partial<Sentence> = {},
): Sentence => ({ text, first, ...(offer === undefined ? {} : { offer }), ...more });

export const choices = <T extends string>(
  all: readonly T[],
  words: (of: T) => string,
  of?: (one: T) => readonly string[],
) =>
  all
    .map((one) => {
      const said = words(one);
      // Two measures of one name are told apart by what they are taken of.
      const twin = of && all.some((o) => o !== one && words(o) === said);
      return `${one}=${said}${twin ? ` (${OVER_WORDS[of(one)[0] as LimitOver]})` : ''}`;
    })
    .join('|');
export const ANY = 'any=are taken|none=are refused';
export const GRAVE = 'stop=must|caution=should|remark=worth knowing';

/** How grave a breach is, in words that stand before the sentence. */
export const SEVERITY_WORDS: readonly (readonly [string, string])[] = [
  ['stop', 'must'],
  ['caution', 'should'],
  ['remark', 'worth knowing'],
];

export const named = s('It is called {name}', { name: '' });
