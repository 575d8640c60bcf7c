import { isCase, partOf, rowsOf, seatOfNote, type Row } from './rows';
import type { World } from './world';
import type { Value } from '../../formats/own/schema';

/** A value as it is written: a number in whole steps of its last digit, or a text. */
export type Said =
  | { readonly whole: number; readonly decimals: number }
  | { readonly exact: number }
  | { readonly text: string }
  | { readonly plain: boolean | null };

/** What a value depends on beside its row. */
export interface Beside {
  readonly world: World;
  readonly inside: Row | null;
  /** The row before it in the same list. */
  readonly before: Row | null;
  readonly index: number;
  /** The decimal sign of the file, where it is no point. */
  readonly decimal?: string;
  /** How fine the finest of several that stand together is, in ms: the others follow its rounding. */
  readonly fineMs?: number;
}

const PITCH = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
const FLAT = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'];

export function keyName(key: number, middleC = 4, sharps = '#'): string {
  const flat = sharps === 'b' || sharps === '♭';
  const name = (flat ? FLAT : PITCH)[key % 12]!.replace(/[#b]$/, sharps);
  return `${name}${Math.floor(key / 12) - 5 + middleC}`;
}

function rounded(exact: number, decimals: number, round: string | undefined): number {
  const scaled = exact * 10 ** decimals;
  // Clock times are sums of quotients: what is a hair below a whole is the whole.
  const hair = Math.max(1e-9, Math.abs(scaled) * 1e-13);
  if (round === 'down') return Math.floor(scaled + hair);
  if (round === 'up') return Math.ceil(scaled - hair);
  return Math.floor(scaled + 0.5 + hair);
}

type Uncased = Exclude<Value, { is: 'case' }>;
type TimeValue = Extract<Value, { is: 'time' }>;

/** Milliseconds per unit of the clock. */
const CLOCK_MS: Readonly<Record<string, number>> = {
  hours: 3_600_000,
  minutes: 60_000,
  seconds: 1000,
  ms: 1,
  us: 0.001,
};

/** A tick in the unit of a value, exactly; `exactMs` where it stands between ticks. */
function amountAt(
  v: TimeValue,
  tick: number,
  { maps, ppq }: World,
  fineMs?: number,
  exactMs?: number,
): number {
  switch (v.unit) {
    case 'ticks':
      return v.ppq === undefined ? tick : (tick * v.ppq) / ppq;
    case 'quarters':
      return tick / ppq;
    case 'beats': {
      const { bars } = maps;
      let beats = 0;
      const { meters } = bars;
      for (const [i, m] of meters.entries()) {
        const until = Math.min(tick, meters[i + 1]?.tick ?? Infinity);
        if (until > m.tick) beats += ((until - m.tick) * m.denominator) / (4 * ppq);
      }
      return beats;
    }
    case 'bars': {
      const bar = maps.bars.barAt(tick);
      const start = maps.bars.barStart(bar);
      return bar + (tick - start) / (maps.bars.barStart(bar + 1) - start);
    }
    case 'bar':
      return maps.bars.placeAt(tick).bar - 1;
    case 'beat':
      return maps.bars.placeAt(tick).beat - 1;
    case 'tick-of-beat': {
      const own = maps.bars.placeAt(tick).tick;
      return v.ppq === undefined ? own : (own * v.ppq) / ppq;
    }
    default: {
      const ms = exactMs ?? maps.clock.msAt(tick);
      if (v.unit === 'frames') return (ms * (v.rate ?? 25)) / 1000;
      if (fineMs === undefined) return ms / CLOCK_MS[v.unit]!;
      return (Math.floor(ms / fineMs + 0.5 + 1e-9) * fineMs) / CLOCK_MS[v.unit]!;
    }
  }
}

const CLOCK_SECONDS: Readonly<Record<string, number>> = { hour: 3600, minute: 60, second: 1 };

/** What is left of an hour, a minute or a second, in whole steps of the last digit. */
function withinClock(v: TimeValue, whole: number, decimals: number): number {
  const seconds = CLOCK_SECONDS[v.from ?? ''];
  if (seconds === undefined) return whole;
  const perSecond = v.unit === 'frames' ? (v.rate ?? 25) : 1000 / (CLOCK_MS[v.unit] ?? 1000);
  const modulo = Math.round(seconds * perSecond * 10 ** decimals);
  return whole - Math.floor(whole / modulo) * modulo;
}

function timeOf(v: TimeValue, row: Row, { world, before, inside, fineMs }: Beside): Said {
  const decimals = v.decimals ?? 0;
  const isPlace = v.unit === 'bar' || v.unit === 'beat' || v.unit === 'bars';
  const base = isPlace ? (v.first ?? 1) : 0;
  const down = v.unit === 'minutes' || v.unit === 'hours' ? 'down' : undefined;
  const absolute = (r: Row) => {
    const [tick, ms] = v.of === 'end' ? [r.endTick, r.ms?.[1]] : [r.tick, r.ms?.[0]];
    const amount = amountAt(v, tick, world, fineMs, ms) + base + (v.add ?? 0);
    return rounded(amount, decimals, v.round ?? down);
  };
  if (v.exact) {
    const at = (r: Row) =>
      amountAt(v, v.of === 'end' ? r.endTick : r.tick, world) + base + (v.add ?? 0);
    if (v.of === 'length') {
      const counted = v.unit === 'quarters' || v.unit === 'ticks';
      // Ticks are subtracted before they are divided: so every digit is that of the quotient.
      const length = counted
        ? amountAt(v, row.endTick - row.tick, world)
        : amountAt(v, row.endTick, world) - amountAt(v, row.tick, world);
      return { exact: length + (v.add ?? 0) };
    }
    if (v.from === 'last') return { exact: at(row) - (before ? at(before) : (v.add ?? 0)) };
    return { exact: at(row) };
  }
  if (v.of === 'length' && v.addsUp) {
    const at = (tick: number, ms?: number) =>
      rounded(amountAt(v, tick, world, fineMs, ms), decimals, v.round);
    const length = at(row.endTick, row.ms?.[1]) - at(row.tick, row.ms?.[0]);
    return { whole: length + rounded(v.add ?? 0, decimals, v.round), decimals };
  }
  if (v.of === 'length') {
    const [from, to] = row.ms ?? [];
    const exact =
      amountAt(v, row.endTick, world, undefined, to) -
      amountAt(v, row.tick, world, undefined, from);
    const step = fineMs === undefined ? undefined : fineMs / (CLOCK_MS[v.unit] ?? NaN);
    const fine = step ? Math.floor(exact / step + 0.5 + 1e-9) * step : exact;
    const whole = rounded(fine + (v.add ?? 0), decimals, v.round ?? down);
    return { whole: withinClock(v, whole, decimals), decimals };
  }
  if (v.from === 'last') {
    // Differences of what was rounded: nothing drifts.
    const zero = rounded(v.add ?? 0, decimals, v.round);
    return { whole: absolute(row) - (before ? absolute(before) : zero), decimals };
  }
  // Rounded first: 59.9996 s is the next minute, and then its minute says so too.
  if (CLOCK_SECONDS[v.from ?? ''])
    return { whole: withinClock(v, absolute(row), decimals), decimals };
  if (v.from === 'bar') {
    const tick = v.of === 'end' ? row.endTick : row.tick;
    const start =
      inside?.of === 'bars' ? inside.tick : world.maps.bars.barStart(world.maps.bars.barAt(tick));
    const exact = amountAt(v, tick, world) - amountAt(v, start, world);
    return { whole: rounded(exact + (v.add ?? 0), decimals, v.round), decimals };
  }
  return { whole: absolute(row), decimals };
}

const whole = (n: number): Said => ({ whole: n, decimals: 0 });

function keyOf(v: Extract<Value, { is: 'key' }>, row: Row, world: World): Said {
  const key = row.key ?? world.notes.key[row.note!]!;
  const first = v.first ?? 0;
  if (v.as === 'bits') {
    const own = new Set((row.notes ?? [row.note!]).map((i) => world.notes.key[i]!));
    return whole((v.keys ?? []).reduce((sum, k, bit) => sum + (own.has(k) ? 2 ** bit : 0), 0));
  }
  if (v.as === 'number') return whole(key - (v.from ?? 0));
  if (v.as === 'name') {
    if (!v.names) return { text: keyName(key, v.middleC, v.sharps) };
    return { text: `${v.names[key % 12]!}${Math.floor(key / 12) - 5 + (v.middleC ?? 4)}` };
  }
  if (v.as === 'word') return { text: v.words?.[String(key)] ?? String(key) };
  const seat = row.seat ?? (row.note === undefined ? undefined : seatOfNote(world, row.note));
  const list =
    v.keys ??
    (v.as === 'lane' && seat?.kind === 'laneGroup' ? seat.laneNotes : seat?.accepts?.only);
  return whole((list ? list.indexOf(key) : key - (v.from ?? 0)) + first);
}

/** The note of a strike that has a key. */
const noteWith = (key: number, row: Row, { notes }: World): number | undefined =>
  (row.notes ?? [row.note!]).find((i) => notes.key[i] === key);

/** The value that is meant for a row, where one of several stands there. */
export function meantOf(v: Value, row: Row | null, { inside, world }: Beside): Uncased {
  let at = v;
  while (at.is === 'case') {
    const own = at.cases.find((c) => isCase(c.when, row, inside, world));
    at = own?.value ?? at.otherwise;
  }
  return at;
}

/** The value of a row; null where the row has none of its kind. */
export function valueOf(said: Value, row: Row | null, beside: Beside): Said | null {
  const { world } = beside;
  const v = meantOf(said, row, beside);
  const note = row?.note ?? beside.inside?.note;
  switch (v.is) {
    case 'time':
      return row ? timeOf(v, row, beside) : null;
    case 'key':
      return row?.note === undefined && row?.key === undefined ? null : keyOf(v, row, world);
    case 'velocity': {
      if (row?.note === undefined && row?.cell === undefined) return null;
      // A cell in which nothing begins is struck with nothing.
      const of = v.key === undefined ? row.note : noteWith(v.key, row, world);
      const own = of === undefined ? 0 : world.notes.velocity[of]!;
      const at = row.on === false ? 0 : own;
      const { least = 0, most = 127, decimals = 0 } = v;
      const exact = least + ((most - least) * at) / 127;
      if (v.exact) return { exact };
      return { whole: rounded(exact, decimals, v.round), decimals };
    }
    case 'seat':
    case 'part':
    case 'track':
    case 'channel':
    case 'program':
    case 'rung':
      return whoOf(v, row, beside);
    case 'flags': {
      const own = note === undefined ? [] : (world.flags.get(world.notes.id[note]!) ?? []);
      if (v.flag !== undefined) return { text: (own.includes(v.flag) ? v.yes : v.no) ?? '' };
      if (v.bits) return whole(own.reduce((sum, f) => sum + 2 ** (v.bits![f] ?? 32), 0) % 2 ** 32);
      return { text: own.map((f) => v.words?.[f] ?? f).join(v.between ?? ' ') };
    }
    case 'struck': {
      if (!row) return null;
      if (!row.cell) {
        if (v.key === undefined || row.note === undefined) return null;
        return { text: noteWith(v.key, row, world) === undefined ? v.no : v.yes };
      }
      const state = row.cell.grid.stateAt(row.cell.at, v.key ?? row.key);
      if (state === 'last') return { text: v.last ?? v.held ?? v.no };
      return { text: state === 'held' ? (v.held ?? v.no) : v[state] };
    }
    case 'on-off':
      return { text: row?.on === false ? v.off : v.on };
    case 'bpm':
    case 'us-per-quarter': {
      if (row?.of === 'changes' && row.tempo === undefined) return null;
      const us = row?.tempo ?? world.maps.clock.tempoAt(row?.tick ?? 0);
      const { decimals = 0 } = v;
      const exact = v.is === 'bpm' ? 60_000_000 / us : us;
      return { whole: rounded(exact, decimals, v.round), decimals };
    }
    case 'numerator':
    case 'denominator':
    case 'denominator-power': {
      if (row?.of === 'changes' && row.meter === undefined) return null;
      const { numerator, denominator } = row?.meter ?? { numerator: 4, denominator: 4 };
      if (v.is === 'numerator') return whole(numerator);
      return whole(v.is === 'denominator' ? denominator : Math.round(Math.log2(denominator)));
    }
    case 'signature':
      return row?.signature === undefined ? null : { text: row.signature };
    case 'marker': {
      const { markers } = world.piece.score.conductor;
      const at = row?.tick ?? 0;
      const last = markers.findLastIndex((m) => m.tick <= at);
      const said = last < 0 ? '' : markers[last]!.text;
      return { text: said.replaceAll('\n', v.lineBreak ?? ' ') };
    }
    case 'text':
      if (row?.of === 'changes' && row.text === undefined) return null;
      return { text: (row?.text ?? '').replaceAll('\n', v.lineBreak ?? ' ') };
    case 'controller':
      return row?.controller ? whole(row.controller[0]) : null;
    case 'value':
      return row?.controller ? whole(row.controller[1]) : null;
    case 'count':
      return whole(rowsOf(v.of, world, row).length + (v.add ?? 0));
    case 'row-number':
      return whole(beside.index + (v.first ?? 0) + (v.add ?? 0));
    case 'fact': {
      const told = v.told ? world.piece.delivery.metadata?.[v.key] : world.facts.get(v.key);
      if (v.told && told === undefined && v.otherwise === undefined) return null;
      const said = told ?? v.otherwise ?? '';
      if (v.kind !== 'number') return { text: said };
      const { decimals = 0 } = v;
      const n = Number(said) * (v.times ?? 1);
      return said === '' || !Number.isFinite(n)
        ? { text: v.otherwise ?? '' }
        : { whole: rounded(n, decimals, v.round), decimals };
    }
    case 'constant':
      if (typeof v.value === 'number') return numberSaid(v.value);
      return typeof v.value === 'string' ? { text: v.value } : { plain: v.value };
    case 'joined': {
      const own = v.parts.filter((p) => typeof p !== 'string');
      // Of what did not change nothing is said, nor what would stand around it.
      if (row?.of === 'changes' && own.every((p) => valueOf(p, row, beside) === null)) return null;
      return { text: together(v.parts, row, beside) };
    }
    case 'list': {
      const entries: string[] = [];
      let before: Row | null = null;
      for (const [index, own] of rowsOf(v.each, world, row).entries()) {
        entries.push(together(v.parts, own, { ...beside, inside: row, before, index }));
        before = own;
      }
      return { text: entries.join(v.between) };
    }
    // Known when everything is written.
    case 'offset':
    case 'size':
    case 'checksum':
      return whole(0);
  }
}

/** Values in one place, with what stands between them. */
function together(parts: readonly (string | Value)[], row: Row | null, beside: Beside): string {
  const fine = fineMsOf(parts);
  const own = fine === null ? beside : { ...beside, fineMs: fine };
  return parts
    .map((p) => (typeof p === 'string' ? p : textSaid(p, row, own, beside.decimal ?? '.')))
    .join('');
}

/** The last digit of the finest clock time among several; null where they hold none. */
function fineMsOf(parts: readonly (string | Value)[]): number | null {
  let fine: number | null = null;
  for (const p of parts) {
    if (typeof p === 'string' || p.is !== 'time') continue;
    const per = p.unit === 'frames' ? 1000 / (p.rate ?? 25) : CLOCK_MS[p.unit];
    if (per === undefined || (p.round !== undefined && p.round !== 'nearest')) continue;
    const step = per / 10 ** (p.decimals ?? 0);
    if (p.unit !== 'hours' && p.unit !== 'minutes' && (fine === null || step < fine)) fine = step;
  }
  return fine;
}

/** A number with as many decimals as it is written with. */
export function numberSaid(n: number): Said {
  const text = String(n);
  if (/e/i.test(text)) return { text };
  const decimals = text.split('.')[1]?.length ?? 0;
  return { whole: Math.round(n * 10 ** decimals), decimals };
}

function whoOf(
  v: Extract<Value, { is: 'seat' | 'part' | 'track' | 'channel' | 'program' | 'rung' }>,
  row: Row | null,
  { world, inside }: Beside,
): Said | null {
  const all = row?.channel === undefined ? inside : row;
  if (all?.channel !== undefined && row?.note === undefined) {
    if (v.is === 'channel') return whole(all.channel - 1 + (v.first ?? 1));
    if (v.is === 'part' && v.as !== 'number') return { text: partsOf(world, all) };
  }
  const note = row?.note ?? inside?.note;
  const part = row?.part ?? inside?.part ?? (note === undefined ? undefined : partOf(world, note));
  const seat =
    row?.seat ?? inside?.seat ?? (note === undefined ? undefined : seatOfNote(world, note));
  const first = v.first ?? 0;
  const named = (name: string | undefined, number: number): Said | null => {
    if (v.as === 'word') return { text: v.words?.[name ?? ''] ?? name ?? '' };
    if (v.as === 'number') return whole(number + first);
    return { text: name ?? '' };
  };
  switch (v.is) {
    case 'seat':
      return named(
        seat?.name,
        world.target.seats.findIndex((s) => s === seat),
      );
    case 'part':
      return named(part?.name, part ? world.notes.parts.indexOf(part) : -1);
    case 'track':
      return named(part?.ref.track ?? undefined, part?.track ?? 0);
    case 'channel':
      return part ? whole(part.channel - 1 + (v.first ?? 1)) : null;
    case 'program': {
      const at = part ? part.events.kind.indexOf(0xc0) : -1;
      return whole((at < 0 ? 0 : part!.events.data1[at]!) + first);
    }
    case 'rung': {
      const own = row?.rung ?? inside?.rung ?? (seat?.kind === 'laneGroup' ? seat.rung : undefined);
      const rung = own ?? 1;
      return v.as === 'word'
        ? { text: v.words?.[String(rung)] ?? String(rung) }
        : whole(rung - 1 + (v.first ?? 1));
    }
  }
}

/** What a value of a row is in a text. */
export function textSaid(v: Value, row: Row | null, beside: Beside, decimal: string): string {
  const own = meantOf(v, row, beside);
  return writeSaid(valueOf(own, row, beside), own, decimal);
}

/** The names of the parts on a channel, each once. */
function partsOf(world: World, { notes = [] }: Row): string {
  const names = new Set(notes.map((i) => partOf(world, i).name));
  return [...names].join(' + ').slice(0, MOST_NAME);
}
const MOST_NAME = 200;

/** What stands in the file: digits, padding, the decimal sign. */
export function writeSaid(said: Said | null, v: Value, decimal = '.'): string {
  let text: string;
  if (said === null) text = '';
  else if ('plain' in said) text = String(said.plain);
  else if ('exact' in said) text = String(said.exact).replace('.', decimal);
  else if ('text' in said) text = said.text;
  else if (v.hex && said.decimals === 0) text = hexOf(said.whole, v.digits ?? 1, v.hex);
  else text = digitsOf(said.whole, said.decimals, v.digits ?? 1, decimal, v.trim ?? false);
  if (v.width === undefined) return text;
  return v.align === 'left' ? text.padEnd(v.width) : text.padStart(v.width);
}

function hexOf(n: number, least: number, letters: 'small' | 'capital'): string {
  const digits = Math.abs(n).toString(16).padStart(least, '0');
  return (n < 0 ? '-' : '') + (letters === 'capital' ? digits.toUpperCase() : digits);
}

export function digitsOf(
  n: number,
  decimals: number,
  least: number,
  decimal: string,
  trim: boolean,
): string {
  const sign = n < 0 ? '-' : '';
  const all = String(Math.abs(n)).padStart(decimals + 1, '0');
  const whole = all.slice(0, all.length - decimals).padStart(least, '0');
  if (decimals === 0) return sign + whole;
  const rest = trim ? all.slice(-decimals).replace(/0+$/, '') : all.slice(-decimals);
  return rest === '' ? sign + whole : `${sign}${whole}${decimal}${rest}`;
}

export const numberOf = (said: Said | null): number =>
  said !== null && 'whole' in said
    ? said.whole / 10 ** said.decimals
    : said !== null && 'exact' in said
      ? said.exact
      : said !== null && 'text' in said
        ? Number(said.text) || 0
        : 0;
