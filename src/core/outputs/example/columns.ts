import type { RowKind, Rows, Value } from '../../formats/own/schema';
import { rowsOf } from '../own/rows';
import { type World } from '../own/world';
import { meantOf, valueOf, writeSaid } from '../own/values';
import type { Attempt, Candidate, Column, Explained } from './candidates';
import { cases } from './column-cases';
import { lists } from './column-lists';
import { clockPart, clockParts, texts, words } from './column-words';

const NUMBER = /^-?\d+(?:[.,]\d+)?(?:e-?\d+)?$/;

export const isNumeric = (column: Column): boolean => column.cells.every((c) => NUMBER.test(c));

const toNumber = (c: string) => Number(c.replace(',', '.'));

const decimalsOf = (c: string) => /[.,](\d+)$/.exec(c)?.[1]!.length ?? 0;

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
  if (numeric) numbers(column, candidate, world, attempt);
  else {
    texts(column, candidate, world, attempt);
    together(column, candidate, attempt);
    lists(column, candidate, attempt, explain);
  }
  if (of === 'events' && new Set(column.cells).size === 2) {
    const on = candidate.list.findIndex((r) => r.on);
    const off = candidate.list.findIndex((r) => r.on === false);
    if (on >= 0 && off >= 0)
      attempt({ is: 'on-off', on: column.cells[on]!, off: column.cells[off]! }, 'on or off');
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
    const own = out.filter((e) => isIdentity(e.value));
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

const isIdentity = (v: Value): boolean =>
  (v.is === 'key' && v.as === 'number' && !v.from) ||
  (v.is === 'velocity' && v.least === undefined && v.most === undefined) ||
  v.is === 'on-off';

const PPQS = [24, 48, 96, 120, 192, 240, 384, 480, 960, 1000];

function numbers(
  column: Column,
  candidate: Candidate,
  world: World,
  attempt: (value: Value, says: string) => void,
): void {
  const { list, rows } = candidate;
  const form = formOf(column);
  const { decimals } = form;
  const shape = {
    // More digits than anybody rounds to are those of a number that nobody rounded.
    ...(decimals > 9 ? { exact: true } : decimals > 0 ? { decimals } : {}),
    ...(form.trim && !column.plain && decimals <= 9 ? { trim: true } : {}),
    ...(form.digits !== undefined && form.digits > 1 ? { digits: form.digits } : {}),
  };
  const bare = {
    ...(shape.digits === undefined ? {} : { digits: shape.digits }),
  };
  const values = column.cells.map(toNumber);
  const notes = rows.of === 'notes' || rows.of === 'events';

  if (notes && decimals === 0) {
    attempt({ is: 'key', as: 'number', ...bare }, 'note number');
    const off = world.notes.key[list[0]!.note!]! - values[0]!;
    attempt({ is: 'key', as: 'number', from: Math.max(0, off), ...bare }, `semitones from ${off}`);
  }
  if (notes) velocities(values, candidate, world, shape, attempt);
  times(values, candidate, world, shape, attempt);
  if (decimals === 0) {
    for (const first of [0, 1] as const) {
      attempt({ is: 'row-number', first, ...bare }, `number of the row, from ${first}`);
      if (notes) {
        attempt({ is: 'key', as: 'lane', first, ...bare }, `lane, from ${first}`);
        const keys = [...new Set(list.map((r) => world.notes.key[r.note!]!))].sort((a, b) => a - b);
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
    if (notes) words(column, candidate, world, attempt);
    attempt({ is: 'count', of: { of: 'notes' } }, 'how many notes');
  }
  if (rows.of === 'tempos' || rows.of === 'changes')
    for (const round of ['nearest', 'down', 'up'] as const) {
      const more = round === 'nearest' ? {} : { round };
      attempt({ is: 'bpm', ...shape, ...more }, 'BPM');
      attempt({ is: 'us-per-quarter', ...shape, ...more }, 'microseconds a quarter');
    }
}

type Shape = { decimals?: number; exact?: boolean; trim?: boolean; digits?: number };

function velocities(
  values: readonly number[],
  { list }: Candidate,
  world: World,
  shape: Shape,
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
        if (least >= most) continue;
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

function times(
  values: readonly number[],
  { list, at }: Candidate,
  world: World,
  shape: Shape,
  attempt: Attempt,
) {
  const ROUND_WORDS = { nearest: '', down: ', rounded down', up: ', rounded up' } as const;
  const scale = 10 ** (shape.decimals ?? 0);
  /** Offsets that are worth a try: none, and what the first row leaves over. */
  const tryAll = (make: Omit<Time, 'is' | 'of'>, says: string) => {
    for (const of of ['start', 'length', 'end'] as const)
      for (const from of ['start', 'last', 'bar'] as const) {
        if (from !== 'start' && of === 'length') continue;
        for (const round of ['nearest', 'down', 'up'] as const) {
          const value: Time = {
            is: 'time',
            of,
            ...make,
            ...(from === 'start' ? {} : { from }),
            ...(round === 'nearest' ? {} : { round }),
            ...shape,
          };
          const words = `${of} in ${says}${from === 'last' ? ' from the row before' : from === 'bar' ? ' from its bar' : ''}${ROUND_WORDS[round]}`;
          attempt(value, words);
          if (of === 'length')
            attempt({ ...value, addsUp: true }, `${words}, from rounded start to rounded end`);
          if (from !== 'start' || of === 'length') continue;
          const said = valueOf(value, at[0]!.row, at[0]!.beside);
          if (said === null || !('whole' in said)) continue;
          const add = Math.round((values[0]! - said.whole / scale) * scale) / scale;
          if (add !== 0 && Math.abs(add) < 1e7)
            attempt({ ...value, add }, `${words}, ${add} added`);
        }
      }
  };
  tryAll({ unit: 'ms' }, 'ms');
  tryAll({ unit: 'seconds' }, 'seconds');
  tryAll({ unit: 'us' }, 'microseconds');
  for (const of of ['start', 'end', 'length'] as const) clocks(of, shape, attempt);
  const ppqs = new Set([world.ppq, ...PPQS]);
  const far = list.findLastIndex((r) => r.tick > 0);
  if (far >= 0) {
    const ratio = Math.round((values[far]! * world.ppq) / list[far]!.tick);
    if (ratio > 0 && ratio <= 1_000_000) ppqs.add(ratio);
  }
  for (const ppq of ppqs) tryAll({ unit: 'ticks', ppq }, `ticks at PPQ ${ppq}`);
  tryAll({ unit: 'quarters' }, 'quarters');
  tryAll({ unit: 'beats' }, 'beats');
  for (const first of [0, 1] as const) {
    attempt({ is: 'time', of: 'start', unit: 'bar', first, ...shape }, `bar, from ${first}`);
    attempt(
      { is: 'time', of: 'start', unit: 'beat', first, ...shape },
      `beat of the bar, from ${first}`,
    );
  }
  for (const ppq of ppqs)
    attempt(
      { is: 'time', of: 'start', unit: 'tick-of-beat', ppq, ...shape },
      `tick of the beat at PPQ ${ppq}`,
    );
  const rates = new Set([10, 20, 24, 25, 30, 40, 50, 60, 100, 120]);
  const late = list.findLastIndex((r) => world.maps.clock.msAt(r.tick) > 0);
  if (late >= 0) {
    const rate = (values[late]! * 1000) / world.maps.clock.msAt(list[late]!.tick);
    if (rate > 0.1 && rate < 100_000)
      for (const near of [Math.round(rate), Math.round(rate * 2) / 2, Math.round(rate * 100) / 100])
        if (near > 0) rates.add(near);
  }
  const longest = list.reduce(
    (best, r, i) => (r.endTick - r.tick > list[best]!.endTick - list[best]!.tick ? i : best),
    0,
  );
  const ms =
    world.maps.clock.msAt(list[longest]!.endTick) - world.maps.clock.msAt(list[longest]!.tick);
  if (ms > 0) {
    const rate = Math.round((values[longest]! * 1000) / ms);
    if (rate > 0 && rate < 100_000) rates.add(rate);
  }
  for (const rate of rates) tryAll({ unit: 'frames', rate }, `frames at ${rate} a second`);
}

type Time = Extract<Value, { is: 'time' }>;
const OF_WORDS = { start: '', end: ', of its end', length: ', of its length' };

/** Parts of a clock: each says what is left of the part before it. */
function clocks(of: Time['of'], shape: object, attempt: Attempt): void {
  const part = (more: Pick<Time, 'unit'> & Partial<Time>, says: string) =>
    attempt({ is: 'time', of, ...more, ...shape }, `${says}${OF_WORDS[of]}`);
  part({ unit: 'hours' }, 'whole hours');
  part({ unit: 'minutes', from: 'hour' }, 'minutes of the hour');
  part({ unit: 'minutes' }, 'whole minutes');
  for (const unit of ['seconds', 'ms'] as const) {
    part({ unit, from: 'minute' }, `${unit} of the minute`);
    part({ unit, from: 'minute', round: 'down' }, `${unit} of the minute, rounded down`);
  }
  part({ unit: 'ms', from: 'second' }, 'ms of the second');
  for (const rate of [24, 25, 30, 50, 60, 100])
    part({ unit: 'frames', rate, from: 'second' }, `frames of the second, at ${rate} a second`);
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
  if (first.filter(isNumber).length < 2 || first.length > 9) return;
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
  // All times of one place are those of one moment, or of one length.
  for (const of of ['start', 'end', 'length'] as const) {
    const own = found.map((all) =>
      all?.filter(({ value }) => value.is !== 'time' || value.of === of),
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

/** What explains a value that stands once: a fact of the piece, a count, else what it says. */
export function explainOnce(
  cell: string,
  plain: boolean,
  world: World,
): Explained & { readonly sure: boolean } {
  const numeric = NUMBER.test(cell) && (plain || !/^0\d/.test(cell));
  if (numeric) {
    const n = toNumber(cell);
    const decimals = decimalsOf(cell);
    const counts: readonly RowKind[] = [
      'notes',
      'strikes',
      'events',
      'bars',
      'seats',
      'parts',
      'markers',
      'tempos',
    ];
    const facts = [
      'bpm',
      'ppq',
      'bars',
      'numerator',
      'denominator',
      'lengthMs',
      'lengthSeconds',
      'lengthTicks',
    ];
    for (const round of ['nearest', 'down', 'up'] as const)
      for (const key of facts) {
        // Small numbers are met by chance.
        if (Math.abs(n) < 5 && key !== 'numerator' && key !== 'denominator') continue;
        const value: Value = {
          is: 'fact',
          key,
          kind: 'number',
          ...(decimals > 0 ? { decimals } : {}),
          ...(round === 'nearest' ? {} : { round }),
        };
        const said = valueOf(value, null, { world, inside: null, before: null, index: 0 });
        if (said === null) continue;
        const text = writeSaid(said, value, cell.includes(',') ? ',' : '.');
        if (plain ? Number(text) === n : text === cell)
          return { value, says: `the ${FACTS[key]}`, sure: true };
      }
    for (const of of counts) {
      const rows: Rows = of === 'bars' ? { of, empty: true } : { of };
      const count = world.counts.get(of) ?? rowsOf(rows, world, null).length;
      world.counts.set(of, count);
      if (count === n && n > 3)
        return { value: { is: 'count', of: rows }, says: `how many ${of} there are`, sure: true };
    }
  }
  for (const key of ['title', 'file', 'maker'])
    if (world.facts.get(key) === cell && cell.length > 1)
      return { value: { is: 'fact', key }, says: `the ${key}`, sure: true };
  const constant: Value = { is: 'constant', value: plain && numeric ? toNumber(cell) : cell };
  return { value: constant, says: `always “${cell}”`, sure: false };
}

const FACTS: Readonly<Record<string, string>> = {
  bpm: 'first tempo in BPM',
  ppq: 'PPQ',
  bars: 'number of bars',
  numerator: 'beats of a bar',
  denominator: 'unit of a beat',
  lengthMs: 'length in ms',
  lengthSeconds: 'length in seconds',
  lengthTicks: 'length in ticks',
};
