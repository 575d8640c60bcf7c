import { factKey, factWords } from '../../../core/target/facts';
import { runs } from '../../../core/target/strictness';
import { noteName } from '../../../core/target/words';
import { choicesOf, kindOf, type Shape } from '../../kit/shapes';

/** What is typed in a field, read: its value, or why it is none. */
export type ReadValue =
  | { readonly value: unknown; readonly wrong?: undefined }
  | { readonly wrong: string; readonly value?: undefined };

/** How a field of a sentence is asked for. */
export type SentenceFieldKind =
  | 'number'
  | 'text'
  | 'numbers'
  | 'texts'
  | 'choice'
  | 'choices'
  | 'key'
  | 'keys'
  | 'named-keys'
  | 'meters'
  | 'seats'
  | 'seat'
  | 'controllers'
  | 'program'
  | 'fact'
  | 'lines'
  | 'format'
  | 'format-files';

export function fieldKind(
  part: { readonly kind: string | null; readonly choices: readonly unknown[] },
  shape: Shape | null,
): SentenceFieldKind {
  if (part.kind) return part.kind as SentenceFieldKind;
  if (part.choices.length > 0) return shape?.type === 'array' ? 'choices' : 'choice';
  if (!shape) return 'text';
  const kind = kindOf(shape);
  if (kind === 'numbers') return 'numbers';
  if (kind === 'texts') return 'texts';
  return kind === 'whole' || kind === 'number' ? 'number' : 'text';
}

/** The shape at a dotted path; of several forms the first that has it. */
export function shapeAtPath(shape: Shape, path: string): Shape | null {
  let here: Shape | undefined = shape;
  for (const key of path.split('.')) {
    const forms: readonly Shape[] = here?.oneOf ?? here?.anyOf ?? (here ? [here] : []);
    here = forms.map((f) => f.properties?.[key]).find((f) => f !== undefined);
  }
  return here ?? null;
}

const NAMES: Readonly<Record<string, number>> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };

/** A key as a number or by its name, C4 = 60; null where it is neither. */
export function readKey(text: string): number | null {
  const said = text.trim();
  if (/^\d{1,3}$/.test(said)) return Number(said) <= 127 ? Number(said) : null;
  const named = /^([a-g])([#♯b♭]?)(-?\d)$/i.exec(said);
  if (!named) return null;
  const turned = /[#♯]/.test(named[2]!) ? 1 : named[2] === '' ? 0 : -1;
  const key = NAMES[named[1]!.toLowerCase()]! + turned + (Number(named[3]) + 1) * 12;
  return key >= 0 && key <= 127 ? key : null;
}

/** Keys in a row, by number or name, with stretches: `36–40, C4`. */
export function readKeys(text: string): ReadValue {
  const keys = new Set<number>();
  for (const word of text.split(/[,;\s]+/).filter(Boolean)) {
    const ends = word.split(/(?<=\w)\s*[–:]\s*|(?<=\d)-(?=\w)/).map(readKey);
    const [from, to = from] = ends;
    if (from === null || from === undefined || to === null || to === undefined || to < from)
      return { wrong: `“${word}” is no key: a number from 0 to 127, or a name such as C4.` };
    for (let key = from; key <= to; key++) keys.add(key);
  }
  return keys.size === 0
    ? { wrong: 'At least one key is needed.' }
    : { value: [...keys].sort((a, b) => a - b) };
}

const plainNumber = (text: string): number | null => {
  const said = text.trim().replace(/\s|,(?=\d{3}\b)/g, '');
  return /^[-+−]?\d+(\.\d+)?$/.test(said) ? Number(said.replace('−', '-')) : null;
};

const bounds = (shape: Shape | null) =>
  [shape?.minimum, shape?.maximum].map((n) => (n === undefined || Math.abs(n) > 9e9 ? null : n));

export function readNumber(text: string, shape: Shape | null): ReadValue {
  if (text.trim() === '') return { value: undefined };
  const value = plainNumber(text);
  if (value === null) return { wrong: `“${text.trim()}” is no number.` };
  const whole = shape?.type === 'integer';
  if (whole && !Number.isInteger(value)) return { wrong: 'A whole number is needed here.' };
  const [least, most] = bounds(shape);
  const under = least != null && value < least;
  if (under || (most != null && value > most))
    return { wrong: `It has to lie between ${least ?? '−∞'} and ${most ?? '∞'}.` };
  return { value };
}

export function readNumbers(text: string, shape: Shape | null): ReadValue {
  const out: number[] = [];
  for (const word of text.split(/[,;\s]+/).filter(Boolean)) {
    const range = /^(\d+)[–-](\d+)$/.exec(word);
    if (range) {
      const [from, to] = [Number(range[1]), Number(range[2])];
      if (to < from || to - from > 1000) return { wrong: `“${word}” is no stretch of numbers.` };
      for (let n = from; n <= to; n++) out.push(n);
      continue;
    }
    const value = plainNumber(word);
    if (value === null) return { wrong: `“${word}” is no number.` };
    out.push(value);
  }
  if (out.length === 0) return { wrong: 'At least one number is needed.' };
  const allowed = shape?.items ? choicesOf(shape.items) : [];
  const odd = out.find((n) => allowed.length > 0 && !allowed.includes(n));
  if (odd !== undefined) return { wrong: `${odd} is none of ${allowed.join(', ')}.` };
  return { value: [...new Set(out)] };
}

export function readTexts(text: string): ReadValue {
  const out = text
    .split(/[,\n]/)
    .map((t) => t.trim())
    .filter(Boolean);
  return out.length === 0 ? { wrong: 'At least one is needed.' } : { value: out };
}

export function readMeters(text: string): ReadValue {
  const out: { numerator: number; denominator: number }[] = [];
  for (const word of text.split(/[,;\s]+/).filter(Boolean)) {
    const said = /^(\d{1,3})\/(\d{1,3})$/.exec(word);
    if (!said || ![1, 2, 4, 8, 16, 32, 64, 128].includes(Number(said[2])))
      return { wrong: `“${word}” is no meter: 4/4, 6/8 and the like.` };
    out.push({ numerator: Number(said[1]), denominator: Number(said[2]) });
  }
  return out.length === 0 ? { wrong: 'At least one meter is needed.' } : { value: out };
}

type NamedKey = { noteNumber: number; name: string };

/** Rows of a spreadsheet, a key and its name each; lines that hold none are told. */
export function readNamedKeys(text: string): ReadValue {
  const out: NamedKey[] = [];
  for (const line of text.split(/\r?\n/).filter((l) => l.trim() !== '')) {
    const said = /^\s*([^\t,; ]+)\s*[\t,; ]\s*(.+?)\s*$/.exec(line);
    const key = said ? readKey(said[1]!) : null;
    if (key === null)
      return { wrong: `“${line.trim()}”: a key and its name are needed, such as 36 Bass drum.` };
    out.push({ noteNumber: key, name: said![2]! });
  }
  return out.length === 0 ? { wrong: 'At least one key is needed.' } : { value: out };
}

/** What a field shows of its value. */
export function shownOf(kind: SentenceFieldKind, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (kind === 'keys') return runs(value as number[]);
  if (kind === 'fact') return factWords(String(value));
  if (kind === 'program') return String((value as number) + 1);
  if (kind === 'meters')
    return (value as { numerator: number; denominator: number }[])
      .map((m) => `${m.numerator}/${m.denominator}`)
      .join(', ');
  if (kind === 'named-keys')
    return (value as NamedKey[]).map((k) => `${k.noteNumber}\t${k.name}`).join('\n');
  if (kind === 'lines') return (value as string[]).join('\n');
  if (kind === 'texts') return (value as string[]).join(', ');
  if (kind === 'numbers') return (value as number[]).join(', ');
  return String(value);
}

export function readField(kind: SentenceFieldKind, text: string, shape: Shape | null): ReadValue {
  switch (kind) {
    case 'key': {
      if (text.trim() === '') return { value: undefined };
      const key = readKey(text);
      return key === null
        ? { wrong: `“${text.trim()}” is no key: a number from 0 to 127, or a name such as C4.` }
        : { value: key };
    }
    case 'fact':
      return text.trim() === '' ? { value: undefined } : { value: factKey(text.trim()) };
    case 'program': {
      const read = readNumber(text, { type: 'integer', minimum: 1, maximum: 128 });
      return typeof read.value === 'number' ? { value: read.value - 1 } : read;
    }
    case 'keys':
      return readKeys(text);
    case 'number':
      return readNumber(text, shape);
    case 'numbers':
      return readNumbers(text, shape);
    case 'texts':
      return readTexts(text);
    case 'lines':
      return { value: text.split('\n').filter((l) => l.trim() !== '') };
    case 'meters':
      return readMeters(text);
    case 'named-keys':
      return readNamedKeys(text);
    default:
      return text.trim() === '' ? { value: undefined } : { value: text };
  }
}

/** The name that a key is shown with. */
export const keyShown = (key: unknown): string => (typeof key === 'number' ? noteName(key) : '');
