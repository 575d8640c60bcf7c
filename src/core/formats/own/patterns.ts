import { candidatesOf } from './candidates';
import type { Value } from './schema';

// How each kind of value reads back. Nothing here is shared with what writes them.

const FREE = new Set(['fact', 'text', 'marker', 'seat', 'part', 'track', 'flags', 'signature']);

/** Whether a value is a number in the file. */
export function isNumber(v: Value): boolean {
  switch (v.is) {
    case 'key':
      return v.as === 'number' || v.as === 'index' || v.as === 'lane' || v.as === 'bits';
    case 'seat':
    case 'part':
    case 'track':
      return v.as === 'number';
    case 'rung':
      return v.as !== 'word';
    case 'flags':
      return v.bits !== undefined;
    case 'fact':
      return v.kind === 'number';
    case 'constant':
      return typeof v.value === 'number';
    case 'on-off':
    case 'struck':
    case 'text':
    case 'marker':
    case 'joined':
    case 'list':
    case 'signature':
      return false;
    case 'case':
      return candidatesOf(v).every((c) => isNumber(c.value));
    default:
      return true;
  }
}

const isExact = (v: Value): boolean => 'exact' in v && v.exact === true;
const decimalsOf = (v: Value): number => ('decimals' in v ? (v.decimals ?? 0) : 0);

/** Words that a value can have; null where it can be anything. */
export function wordsOf(v: Value): readonly string[] | null {
  if (v.is === 'case') {
    const all = candidatesOf(v).map((c) => wordsOf(c.value));
    return all.some((w) => w === null) ? null : all.flatMap((w) => w ?? []);
  }
  if (v.is === 'on-off') return [v.on, v.off];
  if (v.is === 'struck') return struckWords(v);
  if (v.is === 'key' && v.as === 'word') return null;
  if (v.is === 'flags' && v.flag !== undefined) return [v.yes ?? '', v.no ?? ''];
  if (v.is === 'constant' && typeof v.value !== 'number') return [String(v.value)];
  return null;
}

/** What a cell can hold. */
export const struckWords = (v: Extract<Value, { is: 'struck' }>): string[] => [
  ...new Set([v.yes, v.no, v.held ?? v.no, v.last ?? v.held ?? v.no]),
];

const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');
const oneOf = (words: readonly string[]) =>
  [...words]
    .sort((a, b) => b.length - a.length)
    .map(literal)
    .join('|');

function numberPattern(v: Value, decimal: string): string {
  if (v.is === 'constant') return literal(String(v.value).replace('.', decimal));
  if (isExact(v)) return `-?\\d+(?:${literal(decimal)}\\d+)?(?:e-?\\d+)?`;
  const digits = v.digits ?? 1;
  if (v.hex) return `-?[0-9${v.hex === 'small' ? 'a-f' : 'A-F'}]{${digits},}`;
  const decimals = decimalsOf(v);
  const whole = `-?\\d{${digits},}`;
  if (decimals === 0) return whole;
  const point = literal(decimal);
  return v.trim
    ? `${whole}(?:${point}\\d{0,${decimals - 1}}[1-9])?`
    : `${whole}${point}\\d{${decimals}}`;
}

/** The source of a pattern that takes exactly what the value can be. */
export function patternOf(v: Value, decimal: string): string {
  if (v.is === 'case') {
    const all = new Set(candidatesOf(v).map((c) => patternOf(c.value, decimal)));
    // What may be anything is everything else as well.
    return all.has('.*?') ? '.*?' : `(?:${[...all].join('|')})`;
  }
  const inner = (() => {
    if (isNumber(v)) {
      const optional = v.is === 'fact' && (v.otherwise !== undefined || v.told);
      const n = numberPattern(v, decimal);
      return optional ? `(?:${n}|${literal(v.otherwise ?? '')})` : n;
    }
    const words = wordsOf(v);
    if (words) return `(?:${oneOf(words)})`;
    if (v.is === 'joined')
      return v.parts
        .map((p) => (typeof p === 'string' ? literal(p) : patternOf(p, decimal)))
        .join('');
    if (v.is === 'key' && v.as === 'name' && v.names) return `(?:${oneOf(v.names)})-?\\d{1,2}`;
    if (v.is === 'key' && v.as === 'name') return '[A-G](?:[#♯s♭b])?-?\\d{1,2}';
    if (v.is === 'key') return `(?:${oneOf([...Object.values(v.words ?? {})])}|\\d{1,3})`;
    return '.*?';
  })();
  if (v.width === undefined) return inner;
  return v.align === 'left' ? `${inner} *` : ` *${inner}`;
}

/** Whether a value may hold anything at all. */
export const isFree = (v: Value): boolean =>
  v.is === 'case'
    ? candidatesOf(v).some((c) => isFree(c.value))
    : v.is === 'list'
      ? v.parts.some((p) => typeof p !== 'string' && isFree(p))
      : FREE.has(v.is) && !isNumber(v) && wordsOf(v) === null;

/** What a text says as this value; undefined where it is none of it. */
export function readSaid(
  v: Value,
  text: string,
  decimal: string,
): string | number | null | undefined {
  if (v.width !== undefined && text.length < v.width) return undefined;
  const bare =
    v.width === undefined ? text : v.align === 'left' ? text.trimEnd() : text.trimStart();
  const pattern = new RegExp(`^(?:${cached(v, decimal)})$`, 'u');
  if (!pattern.test(bare)) return undefined;
  if (!isNumber(v)) return bare;
  if (v.is === 'fact' && bare === (v.otherwise ?? '')) return null;
  const said = v.hex
    ? Number.parseInt(bare, 16)
    : Number(decimal === '.' ? bare : bare.replace(decimal, '.'));
  return Number.isFinite(said) ? said : undefined;
}

const sources = new Map<Value, string>();
function cached(v: Value, decimal: string): string {
  const there = sources.get(v);
  if (there !== undefined) return there;
  const made = patternOf({ ...v, width: undefined } as Value, decimal);
  sources.set(v, made);
  return made;
}

const VALUES_PER_JSON = new Set(['string', 'number', 'boolean']);

/** What a JSON value says as this value; undefined where it is none of it. */
export function readPlain(
  v: Value,
  plain: unknown,
  as: 'text' | 'number' | undefined,
): string | number | boolean | null | undefined {
  if (v.is === 'constant') return plain === v.value ? v.value : undefined;
  if (plain === null) return null;
  if (!VALUES_PER_JSON.has(typeof plain)) return undefined;
  const isText =
    as === 'text' || v.digits !== undefined || v.width !== undefined || v.hex !== undefined;
  if (isNumber(v) && !isText) {
    if (typeof plain !== 'number') return undefined;
    if (isExact(v)) return plain;
    const scaled = plain * 10 ** decimalsOf(v);
    // More digits than are described would be lost when it is written again.
    return Math.abs(scaled - Math.round(scaled)) > 1e-6 * Math.max(1, Math.abs(scaled))
      ? undefined
      : plain;
  }
  if (as === 'number') {
    const words = v.is === 'struck' ? struckWords(v) : wordsOf(v);
    const fits = words === null || words.includes(String(plain));
    // What stands for a word is one, whatever it is written with.
    return typeof plain === 'number' && fits ? String(plain) : undefined;
  }
  if (typeof plain !== 'string') return undefined;
  return readSaid(v, plain, '.');
}
