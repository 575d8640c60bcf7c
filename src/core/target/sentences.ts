import { DELIVERY } from './sentences/delivery';
import { EVENTS } from './sentences/events';
import { IDENTITY } from './sentences/identity';
import { NOTES } from './sentences/notes';
import { TIME } from './sentences/time';
import type { Sentence, Subject } from './sentences/sentence';

export { SEVERITY_WORDS, type Cards, type Sentence, type Subject } from './sentences/sentence';

/** What a target can say, by subject, in the order of the page. */
export const SUBJECTS: readonly Subject[] = [
  ...IDENTITY,
  ...NOTES,
  ...TIME,
  ...EVENTS,
  ...DELIVERY,
];

/** A field in a sentence, or the words between two of them. */
export type SentencePart =
  | string
  | {
      readonly path: string;
      readonly kind: string | null;
      /** Value, as text, and what is said for it. */
      readonly choices: readonly (readonly [value: string, words: string])[];
    };

export function partsOf({ text }: Sentence): SentencePart[] {
  return text
    .split(/(\{[^}]*\})/)
    .filter((t) => t !== '')
    .map((t) => {
      if (!t.startsWith('{')) return t;
      const [head, ...choices] = t.slice(1, -1).split('|');
      const [path, kind = null] = head!.split(':');
      return {
        path: path!,
        kind,
        choices: choices.map((c): [string, string] => {
          const at = c.indexOf('=');
          return [c.slice(0, at), c.slice(at + 1)];
        }),
      };
    });
}

/** Every path that a sentence sets: of its fields, and of what is said without one. */
export function pathsOf(sentence: Sentence): string[] {
  const fields = partsOf(sentence).flatMap((p) => (typeof p === 'string' ? [] : [p.path]));
  return [...new Set([...fields, ...Object.keys(sentence.first)])];
}

export type Data = Readonly<Record<string, unknown>>;

export function valueAt(data: Data, path: string): unknown {
  let here: unknown = data;
  for (const key of path.split('.'))
    here = typeof here === 'object' && here !== null ? (here as Data)[key] : undefined;
  return here;
}

const isEmptied = (value: unknown) =>
  typeof value === 'object' &&
  value !== null &&
  !Array.isArray(value) &&
  Object.keys(value).every((k) => k === 'severity');

/** The data with one value set, or taken out with the blocks that it leaves empty. */
export function withValue(data: Data, path: string, value: unknown): Data {
  const [key, ...rest] = path.split('.') as [string, ...string[]];
  const next = { ...data };
  if (rest.length === 0) {
    if (value === undefined) delete next[key];
    else next[key] = value;
    return next;
  }
  const inner = withValue((data[key] ?? {}) as Data, rest.join('.'), value);
  if (value === undefined && isEmptied(inner)) delete next[key];
  else next[key] = inner;
  return next;
}

/** What always stands there is said; a sentence without a field is when its value is. */
export function isSaid(data: Data, sentence: Sentence): boolean {
  if (sentence.offer === undefined) return true;
  const plain = Object.entries(sentence.first).filter(([, v]) => v === true);
  if (plain.length > 0) return plain.every(([path]) => valueAt(data, path) === true);
  return pathsOf(sentence).some((path) => valueAt(data, path) !== undefined);
}

export function say(data: Data, sentence: Sentence, among: readonly Sentence[] = []): Data {
  const before = among.find((o) => o.offer === sentence.needs && o.offer !== undefined);
  let next = before && !isSaid(data, before) ? say(data, before) : data;
  for (const [path, value] of Object.entries(sentence.first)) {
    // One of two ends that is there already is not overwritten.
    if (valueAt(next, path) === undefined || value === true) next = withValue(next, path, value);
  }
  return next;
}

export const unsay = (data: Data, sentence: Sentence): Data =>
  sentence.whole === undefined
    ? pathsOf(sentence).reduce((d, path) => withValue(d, path, undefined), data)
    : withValue(data, sentence.whole, undefined);

/** A sentence in plain words, without its fields' frames: for what reads it aloud or lists it. */
export const plainText = (sentence: Sentence, data: Data): string =>
  partsOf(sentence)
    .map((p) => {
      if (typeof p === 'string') return p;
      const value = valueAt(data, p.path);
      if (value === undefined) return '…';
      return p.choices.find(([v]) => v === String(value))?.[1] ?? String(value);
    })
    .join('');

/** Where a problem of the data belongs: the subject, and the sentence in words; null for the whole. */
export function placeOf(path: string): { subject: Subject; sentence: Sentence | null } | null {
  const bare = path.replace(/\[\d+\]/g, '');
  const isAt = (own: string) =>
    bare === own || bare.startsWith(`${own}.`) || own.startsWith(`${bare}.`);
  for (const subject of SUBJECTS) {
    const sentence = subject.sentences.find((o) => pathsOf(o).some(isAt));
    if (sentence) return { subject, sentence };
    if (subject.cards?.some((c) => isAt(c.path))) return { subject, sentence: null };
  }
  return null;
}
