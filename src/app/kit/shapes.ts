/** Fields from a JSON Schema: of a step's parameters, and of a target. */

/** What is needed of a JSON Schema to make fields of it. */
export interface Shape {
  readonly type?: string;
  readonly const?: unknown;
  readonly enum?: readonly (string | number)[];
  readonly anyOf?: readonly Shape[];
  readonly oneOf?: readonly Shape[];
  readonly items?: Shape;
  readonly properties?: Readonly<Record<string, Shape>>;
  readonly required?: readonly string[];
  readonly minimum?: number;
  readonly maximum?: number;
  readonly description?: string;
  readonly pattern?: string;
}

export type FieldKind =
  | 'whole'
  | 'number'
  | 'text'
  | 'yes'
  | 'one-of'
  | 'some-of'
  | 'numbers'
  | 'texts'
  | 'words-or-numbers'
  | 'group'
  | 'list'
  | 'kinds'
  | 'data';

const literals = (shape: Shape): readonly (string | number)[] | null => {
  if (shape.enum) return shape.enum;
  const all = shape.anyOf ?? shape.oneOf;
  if (!all?.every((s) => s.const !== undefined)) return null;
  return all.map((s) => s.const as string | number);
};

/** How a part of the schema is asked for. */
export function kindOf(shape: Shape): FieldKind {
  if (literals(shape)) return 'one-of';
  if (shape.oneOf?.every((s) => s.properties)) return 'kinds';
  if (shape.anyOf) {
    const words = shape.anyOf.some((s) => s.enum);
    const numbers = shape.anyOf.some((s) => s.type === 'array');
    if (words && numbers) return 'words-or-numbers';
    return shape.anyOf.every((s) => s.type === 'integer' || typeof s.const === 'number')
      ? 'number'
      : 'data';
  }
  if (shape.type === 'boolean') return 'yes';
  if (shape.type === 'integer') return 'whole';
  if (shape.type === 'number') return 'number';
  if (shape.type === 'string') return 'text';
  if (shape.type === 'object') return shape.properties ? 'group' : 'data';
  if (shape.type === 'array' && shape.items) {
    const items = kindOf(shape.items);
    if (items === 'group' || items === 'kinds') return 'list';
    if (items === 'whole' || items === 'number') return 'numbers';
    if (items === 'one-of')
      return typeof literals(shape.items)![0] === 'number' ? 'numbers' : 'some-of';
    return items === 'text' ? 'texts' : 'data';
  }
  return 'data';
}

export const choicesOf = (shape: Shape): readonly (string | number)[] =>
  literals(shape) ?? (shape.items ? literals(shape.items) : null) ?? [];

/** Of a list of several kinds, the one that a value is of. */
export const shapeOfKind = (shape: Shape, kind: unknown): Shape =>
  shape.oneOf?.find((s) => s.properties?.['kind']?.const === kind) ?? shape.oneOf?.[0] ?? shape;

/** A first value that the schema may still refuse: the fields say what is missing. */
export function firstValue(shape: Shape): unknown {
  if (shape.const !== undefined) return shape.const;
  const choices = literals(shape);
  if (choices) return choices[0];
  if (shape.oneOf) return firstValue(shape.oneOf[0]!);
  if (shape.type === 'boolean') return true;
  if (shape.type === 'integer' || shape.type === 'number') return shape.minimum ?? 0;
  if (shape.type === 'array') return kindOf(shape) === 'some-of' ? [choicesOf(shape)[0]] : [];
  if (shape.type === 'object') {
    const out: Record<string, unknown> = {};
    for (const key of shape.required ?? [])
      out[key] = firstValue(shape.properties?.[key] ?? { type: 'string' });
    return out;
  }
  return '';
}

/**
 * What a form begins with, so that it can be applied where a sensible first value is known: the first
 * of several, yes, one row. A number or a text that is needed is for somebody to give.
 */
export function knownValues(shape: Shape): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const key of shape.required ?? []) {
    const of = shape.properties?.[key];
    if (!of) continue;
    const kind = kindOf(of);
    if (kind === 'one-of' || kind === 'some-of' || kind === 'yes') out[key] = firstValue(of);
    if (kind === 'list') out[key] = [knownValues(of.items!)];
  }
  return out;
}

const UNITS: readonly (readonly [RegExp, string])[] = [
  [/Ms$/, 'ms'],
  [/Bpm$/, 'BPM'],
  [/Bars$/, 'bars'],
  [/Bytes$/, 'bytes'],
  [/Mm$/, 'mm'],
  [/Beats$/, 'beats'],
  [/ASecond$|perSecond$|PerSecond$/, 'a second'],
  [/Semitones$/, 'semitones'],
  [/Frames$/, 'frames'],
  [/^(lowest|highest|noteNumber|chordLowest|chordHighest|triggerLowest|triggerHighest)$/, ''],
];

/** The unit of a key, shown behind its field. */
export const unitOf = (key: string): string => UNITS.find(([p]) => p.test(key))?.[1] ?? '';

/** `sameKeyApartMs` → "Same key apart". */
export function labelOf(key: string): string {
  if (key === 'ppq') return 'PPQ';
  const bare = key.replace(/(Ms|Bpm|Mm)$/, '');
  const spaced = bare.replace(/([a-z0-9])([A-Z])/g, '$1 $2').toLowerCase();
  return spaced.charAt(0).toUpperCase() + spaced.slice(1);
}

const lower = (text: string) =>
  /^[A-Z][a-z ]/.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;

/** The key in words with what its schema says of it: "Bars: how many". */
export function describedLabel(key: string, { description }: Shape): string {
  const spaced = key.replace(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`);
  const words = spaced.charAt(0).toUpperCase() + spaced.slice(1);
  return description ? `${words}: ${lower(description)}` : words;
}
