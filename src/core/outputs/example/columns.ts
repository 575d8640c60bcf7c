import type { Rows, Value } from '../../formats/own/schema';
import type { Row } from '../own/rows';
import { type World } from '../own/world';
import { meantOf, valueOf, writeSaid } from '../own/values';
import type { Attempt, Candidate, Column, Explained } from './candidates';
import { cases } from './column-cases';
import { lists } from './column-lists';
import { times, type Form } from './column-times';
import { keyByKey } from './column-keys';
import { clockPart, clockParts, texts, words } from './column-words';

export const NUMBER = /^-?\d+(?:[.,]\d+)?(?:e-?\d+)?$/;

export const isNumeric = (column: Column): boolean => column.cells.every((c) => NUMBER.test(c));

export const toNumber = (c: string) => Number(c.replace(',', '.'));

export const decimalsOf = (c: string) => /[.,](\d+)$/.exec(c)?.[1]!.length ?? 0;

/** How a number is written in a column: how many digits, and whether zeros stand at the end. */
function formOf({ cells, plain }: Column): {
  decimals: number;
  trim: boolean;
  digits?: number;
} {
  const all = cells.map(decimalsOf);
  const decimals = all.reduce((a, b) => Math.max(a, b), 0);
  const trim = all.some((d) => d !== decimals);
  const whole = cells.map((c) => c.replace('-', '').split(/[.,]/)[0]!);
  const padded = !plain && whole.some((w) => w.length > 1 && w.startsWith('0'));
  const least = Math.min(...whole.map((w) => w.length));
  return { decimals, trim, ...(padded ? { digits: least } : {}) };
}

/** How a number of a column is written, as values say it. */
function shapeOf(column: Column): Form {
  const { decimals, trim, digits } = formOf(column);
  return {
    // More digits than anybody rounds to are those of a number that nobody rounded.
    ...(decimals > 9 ? { exact: true } : decimals > 0 ? { decimals } : {}),
    ...(trim && !column.plain && decimals <= 9 ? { trim: true } : {}),
    ...(digits !== undefined && digits > 1 ? { digits } : {}),
  };
}

/** The same value with as many digits as the column has. */
function inForm(value: Value, column: Column): Value {
  if (value.is !== 'time') return value;
  const { is, of, unit, ppq, rate, round, add, first } = value;
  const own = { ppq, rate, round, add, first };
  const said = Object.entries(own).filter(([, v]) => v !== undefined);
  return { is, of, unit, ...Object.fromEntries(said), ...shapeOf(column) } as Value;
}

/** Whether a value says what stands in every row. */
export function agrees(value: Value, column: Column, { at, rows }: Candidate): boolean {
  for (let i = 0; i < at.length; i++) {
    const said = valueOf(value, at[i]!.row, at[i]!.beside);
    if (said === null && column.cells[i] === '' && rows.of === 'changes') continue;
    if (said === null) return false;
    const own = meantOf(value, at[i]!.row, at[i]!.beside);
    const text = writeSaid(said, own, column.decimal);
    if (column.plain && 'whole' in said && own.digits === undefined) {
      if (Number(text) !== toNumber(column.cells[i]!)) return false;
    } else if (text !== column.cells[i]) return false;
  }
  return true;
}

/**
 * Everything that explains a column, the simplest first: each value and unit is tried against every
 * row, its factor, offset and rounding solved from the rows themselves.
 */
export function explain(column: Column, candidate: Candidate): Explained[] {
  const hex = hexOf(column);
  const found = explainAs(column, candidate);
  if (!hex || found.some((e) => e.value.is !== 'constant' && !isTable(e))) return found;
  return [...explainHex(column, candidate, hex), ...found];
}

/** Digits from 0 to f, in one case: what is a number of them in every row. */
function hexOf({ cells, plain }: Column): 'small' | 'capital' | null {
  if (plain || !cells.some((c) => /[a-f]/i.test(c))) return null;
  if (cells.every((c) => /^[0-9a-f]{1,13}$/.test(c))) return 'small';
  return cells.every((c) => /^[0-9A-F]{1,13}$/.test(c)) ? 'capital' : null;
}

function explainHex(column: Column, candidate: Candidate, hex: 'small' | 'capital'): Explained[] {
  const cells = column.cells.map((c) => String(Number.parseInt(c, 16)));
  const least = column.cells.reduce((n, c) => Math.min(n, c.length), Infinity);
  const digits = column.cells.some((c) => c.length > 1 && c.startsWith('0')) ? least : 1;
  return explainAs({ ...column, cells }, candidate)
    .filter((e) => !['constant', 'joined', 'list', 'case'].includes(e.value.is))
    .map(({ value, says }) => ({
      value: { ...value, hex, ...(digits > 1 ? { digits } : {}) } as Value,
      says: `${says}, in digits from 0 to f`,
    }))
    .filter((e) => agrees(e.value, column, candidate));
}

function explainAs(column: Column, candidate: Candidate): Explained[] {
  // Where nothing changes nothing stands: what is there is explained, and then all of it is held.
  if (candidate.rows.of === 'changes' && column.cells.includes('')) {
    const there = column.cells.flatMap((c, i) => (c === '' ? [] : [i]));
    if (there.length === 0) return [{ value: { is: 'constant', value: '' }, says: 'always empty' }];
    const cells = there.map((i) => column.cells[i]!);
    const { rows, list, at } = candidate;
    const some = { rows, list: there.map((i) => list[i]!), at: there.map((i) => at[i]!) };
    return explain({ ...column, cells }, some).filter((e) => agrees(e.value, column, candidate));
  }
  const { world } = candidate.at[0]!.beside;
  const out: Explained[] = [];
  const seen = new Set<string>();
  const attempt = (value: Value, says: string) => {
    const id = JSON.stringify(value);
    if (seen.has(id)) return;
    seen.add(id);
    if (agrees(value, column, candidate)) out.push({ value, says });
  };
  const numeric = isNumeric(column);
  const { of } = candidate.rows;
  const same = new Set(column.cells).size === 1;
  // What is told of time elsewhere in the file is likely to be told here in the same way.
  for (const { value, says } of candidate.usual ?? []) {
    attempt(value, says);
    if (numeric) attempt(inForm(value, column), says);
  }
  const usual = [...out];
  // Before numbers: two of them that part beginnings from ends are no lengths.
  if (of === 'events' && new Set(column.cells).size === 2) {
    const on = candidate.list.findIndex((r) => r.on);
    const off = candidate.list.findIndex((r) => r.on === false);
    if (on >= 0 && off >= 0)
      attempt({ is: 'on-off', on: column.cells[on]!, off: column.cells[off]! }, 'on or off');
  }
  if (of === 'strikes') keyByKey(column, candidate, attempt);
  if (numeric) numbers(column, candidate, world, attempt);
  else {
    texts(column, candidate, world, attempt);
    together(column, candidate, attempt);
    lists(column, candidate, attempt, explain);
  }
  // A note struck for short may stand there as something else.
  if (!same && out.every(isTable)) {
    // One edge says more than a table in which a few words come again and again.
    const tables = out.splice(0);
    const words = new Set(column.cells).size;
    cases(column, candidate, attempt, explain);
    const large = tables.every((e) => 'words' in e.value && tableSize(e.value) > words);
    if (large) out.push(...tables);
    else out.unshift(...tables);
  }
  if (same) {
    const [cell] = column.cells;
    const constant: Value =
      column.plain && numeric
        ? { is: 'constant', value: toNumber(cell!) }
        : { is: 'constant', value: cell! };
    // A value that never changes says little of what it is; one that is itself says more.
    const own = out.filter(({ value }) => isIdentity(value) || isTempo(value, column, of));
    own.push(...usual);
    return [
      ...own,
      { value: constant, says: `always ${cell}` },
      ...out.filter((e) => !own.includes(e)),
    ];
  }
  return out;
}

const isTable = ({ value }: Explained): boolean => 'as' in value && value.as === 'word';
const tableSize = (v: Value): number => ('words' in v && v.words ? Object.keys(v.words).length : 0);

const PLAIN_DECIMALS = 3;

/** A tempo that is always the same: of notes only where the number is no round one. */
const isTempo = (v: Value, { cells }: Column, of: Rows['of']): boolean =>
  (v.is === 'us-per-quarter' || v.is === 'bpm') &&
  (of === 'tempos' || of === 'changes' || cells[0]!.includes('.') || toNumber(cells[0]!) % 10 > 0);

const isIdentity = (v: Value): boolean =>
  (v.is === 'key' && v.as === 'number' && !v.from) ||
  (v.is === 'velocity' && v.least === undefined && v.most === undefined) ||
  v.is === 'on-off' ||
  v.is === 'text' ||
  (v.is === 'velocity' && v.key !== undefined);

function numbers(
  column: Column,
  candidate: Candidate,
  world: World,
  attempt: (value: Value, says: string) => void,
): void {
  const { list, rows } = candidate;
  const shape = shapeOf(column);
  const decimals = shape.decimals ?? (shape.exact ? 10 : 0);
  const bare = {
    ...(shape.digits === undefined ? {} : { digits: shape.digits }),
  };
  const values = column.cells.map(toNumber);
  const notes = rows.of === 'notes' || rows.of === 'events';
  const keyed = notes || rows.of === 'lanes';
  const keyOf = (r: Row) => r.key ?? world.notes.key[r.note!]!;

  if (keyed && decimals === 0) {
    attempt({ is: 'key', as: 'number', ...bare }, 'note number');
    const off = keyOf(list[0]!) - values[0]!;
    attempt({ is: 'key', as: 'number', from: Math.max(0, off), ...bare }, `semitones from ${off}`);
  }
  if (notes) velocities(values, candidate, world, shape, attempt);
  times(values, candidate, world, shape, attempt);
  if (decimals === 0) {
    for (const first of [0, 1] as const) {
      attempt({ is: 'row-number', first, ...bare }, `number of the row, from ${first}`);
      if (keyed) {
        attempt({ is: 'key', as: 'lane', first, ...bare }, `lane, from ${first}`);
        const keys = [...new Set(list.map(keyOf))].sort((a, b) => a - b);
        attempt({ is: 'key', as: 'index', keys, first, ...bare }, `key in a list, from ${first}`);
      }
      for (const is of ['seat', 'part', 'track'] as const)
        attempt({ is, as: 'number', first, ...bare }, `${is} by its number, from ${first}`);
      attempt({ is: 'channel', first, ...bare }, `channel, from ${first}`);
      attempt({ is: 'rung', first, ...bare }, `rung, from ${first}`);
      attempt({ is: 'program', first, ...bare }, `program, from ${first}`);
    }
    if (rows.of === 'meters' || rows.of === 'changes') {
      attempt({ is: 'numerator' }, 'beats of a bar');
      attempt({ is: 'denominator' }, 'unit of a beat');
      attempt({ is: 'denominator-power' }, 'unit of a beat, as a power of two');
    }
    if (keyed) words(column, candidate, world, attempt);
    attempt({ is: 'count', of: { of: 'notes' } }, 'how many notes');
  }
  if (!['seats', 'parts', 'channels', 'markers', 'captions', 'meters'].includes(rows.of))
    for (const round of ['nearest', 'down', 'up'] as const) {
      const more = round === 'nearest' ? {} : { round };
      // A number of JSON has as many digits as it needs: a whole one may have more elsewhere.
      if (column.plain && decimals < PLAIN_DECIMALS)
        attempt({ is: 'bpm', ...shape, decimals: PLAIN_DECIMALS, ...more }, 'tempo in BPM');
      attempt({ is: 'bpm', ...shape, ...more }, 'tempo in BPM');
      if (decimals === 0)
        attempt({ is: 'us-per-quarter', ...bare, ...more }, 'tempo in microseconds a quarter');
    }
}

/** Fewer whole steps of a velocity are met by chance. */
const LEAST_STEPS = 3;

function velocities(
  values: readonly number[],
  { list }: Candidate,
  world: World,
  shape: Form,
  attempt: Attempt,
) {
  attempt({ is: 'velocity', ...shape }, 'velocity');
  const own = list.map((r) => (r.on === false ? 0 : world.notes.velocity[r.note!]!));
  const high = own.indexOf(Math.max(...own));
  const low = own.indexOf(Math.min(...own));
  const tops = new Set([1, 10, 15, 16, 31, 63, 100, 126, 128, 255, 1000, 1023, 65_535]);
  if (own[high]! > 0) tops.add(Math.round((values[high]! * 127) / own[high]!));
  const leasts = new Set([0, 1]);
  if (own[high] !== own[low]) {
    const slope = (values[high]! - values[low]!) / (own[high]! - own[low]!);
    leasts.add(Math.round(values[low]! - slope * own[low]!));
    tops.add(Math.round(values[low]! + slope * (127 - own[low]!)));
  }
  for (const round of ['nearest', 'down', 'up'] as const)
    for (const least of leasts)
      for (const most of tops) {
        if (least >= most || (shape.decimals === undefined && most - least < LEAST_STEPS)) continue;
        const value: Value = {
          is: 'velocity',
          ...(least === 0 ? {} : { least }),
          most,
          ...(round === 'nearest' ? {} : { round }),
          ...shape,
        };
        attempt(value, `velocity from ${least} to ${most}`);
      }
}

const PARTS = /\d+(?:\.\d+)?|[^\d]+/g;
const WHOLE_PARTS = /\d+|[^\d]+/g;
const POINTS = /\d\.\d+\.\d/;

/** Several numbers in one place, such as `1:2:120`: each explained for itself, then all together. */
function together(column: Column, candidate: Candidate, attempt: Attempt): void {
  // Where several points stand in a cell they part its numbers.
  const pattern = column.cells.some((c) => POINTS.test(c)) ? WHOLE_PARTS : PARTS;
  const rows = column.cells.map((c) => c.match(pattern) ?? []);
  const first = rows[0]!;
  const isNumber = (t: string) => /^\d/.test(t);
  const numbers = first.filter(isNumber).length;
  if (numbers === 0 || first.length < 2 || first.length > 9) return;
  const alike = rows.every(
    (r) =>
      r.length === first.length &&
      r.every((t, i) => isNumber(t) === isNumber(first[i]!) && (isNumber(t) || t === first[i])),
  );
  if (!alike) return;
  const found = first.map((t, i) =>
    isNumber(t)
      ? explain({ cells: rows.map((r) => r[i]!), plain: false, decimal: column.decimal }, candidate)
      : null,
  );
  // All times of one place are those of one moment or length; if not, from one to the other.
  for (const of of ['start', 'end', 'length', null] as const) {
    const own = found.map((all) =>
      all?.filter(({ value }) => of === null || value.is !== 'time' || value.of === of),
    );
    const clock = clockParts(own.filter((all) => all !== undefined));
    const parts: (string | Value)[] = [];
    const says: string[] = [];
    const whole = own.every((all, i) => {
      if (!all) return parts.push(first[i]!);
      const best = clock?.shift() ?? clockPart(all, parts);
      if (!best || (best.value.is === 'constant' && rows.length < 3)) return false;
      says.push(best.says);
      return parts.push(best.value.is === 'constant' ? first[i]! : best.value);
    });
    if (whole) attempt({ is: 'joined', parts: parts.filter((p) => p !== '') }, says.join(', '));
  }
}
