import { settleCases } from './settle-cases';
import type { ReadRow, ReadValue } from './row';
import {
  beginsBy,
  flagsFrom,
  keyFrom,
  onlyKey,
  seatFrom,
  struckKeys,
  whoseOf,
  type Seated,
} from './whose';
import {
  barsByCells,
  gridNotes,
  laneKey,
  nearest,
  pathsIn,
  type GridNote,
  type Path,
} from './interpret-grid';
import type { Value } from './schema';

/** A note as a file of somebody's own tells it. */
export interface ToldNote {
  /** Microseconds; null where the file says no time that the clock knows. */
  readonly startUs: number;
  readonly endUs: number | null;
  /** Quarters from the start, where the file counts in them. */
  readonly startQuarters: number | null;
  readonly endQuarters: number | null;
  readonly key: number | null;
  readonly velocity: number | null;
  /** Seat of the target, by its id. */
  readonly seat: string | null;
  readonly channel: number | null;
  readonly part: string | null;
  readonly flags: readonly string[];
  /** Where its row stands in the file. */
  readonly from: number;
  readonly to: number;
}

export interface ToldMusic {
  readonly notes: readonly ToldNote[];
  readonly tempos: readonly { quarters: number; microsecondsPerQuarter: number }[];
  readonly meters: readonly { quarters: number; numerator: number; denominator: number }[];
  readonly markers: readonly { quarters: number; us: number; text: string }[];
  readonly captions: readonly { us: number; text: string }[];
  readonly facts: ReadonlyMap<string, string>;
  /** Ticks to a quarter, where the file counts in ticks. */
  readonly ppq: number | null;
  /** Kinds that stand in the file, counted. */
  readonly velocities: number;
  readonly lengths: number;
  /** Its notes say their keys. */
  readonly keyed: boolean;
}

type Time = Extract<Value, { is: 'time' }>;

/** A part of a clock time, whose other parts stand beside it. */
const ofClock = ({ unit, from }: Time): boolean =>
  from === 'hour' ||
  from === 'minute' ||
  from === 'second' ||
  unit === 'minutes' ||
  unit === 'hours';

/** Half a second to a quarter where a file tells no tempo. */
const PLAIN_US = 500_000;

/** The clock of tempos, and back: microseconds from quarters, quarters from microseconds. */
export function clockOf(tempos: ToldMusic['tempos']): {
  usAt: (quarters: number) => number;
  quartersAt: (us: number) => number;
} {
  const sorted = [...tempos].sort((a, b) => a.quarters - b.quarters);
  const marks = [{ quarters: 0, us: 0, per: PLAIN_US }];
  for (const t of sorted) {
    const last = marks.at(-1)!;
    const us = last.us + (t.quarters - last.quarters) * last.per;
    marks.push({ quarters: t.quarters, us, per: t.microsecondsPerQuarter });
  }
  const inForce = (of: 'quarters' | 'us', at: number) => {
    let [low, high] = [0, marks.length];
    while (high - low > 1) {
      const mid = (low + high) >> 1;
      if (marks[mid]![of] <= at) low = mid;
      else high = mid;
    }
    return marks[low]!;
  };
  return {
    usAt: (quarters) => {
      const m = inForce('quarters', quarters);
      return m.us + (quarters - m.quarters) * m.per;
    },
    quartersAt: (us) => {
      const m = inForce('us', us);
      return m.quarters + (us - m.us) / m.per;
    },
  };
}

/** Nearer than that to a 48th of a quarter, a place that was told by the clock was one. */
const SNAP = 0.004;
/** Where a time lies under the tempos that were told before it. */
function quartersAfter(tempos: ToldMusic['tempos'], us: number): number {
  return snapped(tempos.length === 0 ? us / PLAIN_US : clockOf(tempos).quartersAt(us));
}
function snapped(exact: number): number {
  const near = Math.round(exact * 48) / 48;
  return Math.abs(exact - near) < SNAP ? near : exact;
}

/** What a file that was read says of music. Times add up where rows count from the one before. */
export function interpret(file: ReadRow, target: Seated): ToldMusic {
  settleCases(file, target);
  const facts = new Map<string, string>();
  const paths = [...pathsIn(file)];
  for (const { row } of paths)
    for (const { value, said } of row.values)
      if (value.is === 'fact' && said !== null && !facts.has(value.key))
        facts.set(value.key, String(value.times ? Number(said) / value.times : said));
  const ppq = Number(facts.get('ppq') ?? 480) || 480;

  /** Sums of values that count from the row before, by value and by the list that they are in. */
  const sums = new Map<ReadRow, Map<Value, number>>();
  const absolute = (path: Path, found: ReadValue): number => {
    const v = found.value as Time;
    const said = Number(found.said) - (v.from === 'last' ? 0 : (v.add ?? 0));
    if (v.from !== 'last') return said;
    const list = path.above?.row ?? file;
    const own = sums.get(list) ?? new Map<Value, number>();
    sums.set(list, own);
    const sum = (own.get(v) ?? 0) + said;
    own.set(v, sum);
    return sum;
  };
  const places = new Map<Path, Map<Value, number>>();
  let tickPpq: number | null = null;
  for (const path of paths)
    for (const found of path.row.values)
      if (found.value.is === 'time') {
        tickPpq ??= found.value.ppq ?? null;
        const own = places.get(path) ?? new Map<Value, number>();
        own.set(found.value, absolute(path, found));
        places.set(path, own);
      }

  const meters: { quarters: number; numerator: number; denominator: number }[] = [];
  const tempos: { quarters: number; microsecondsPerQuarter: number }[] = [];
  const firstMeter = {
    numerator: Number(facts.get('numerator') ?? 4) || 4,
    denominator: Number(facts.get('denominator') ?? 4) || 4,
  };
  const meterAtBar = { ...firstMeter };
  const barQuarters = () => (meterAtBar.numerator * 4) / meterAtBar.denominator;

  /** Whole seconds, with what is behind them in a value of its own. */
  const isSplit = (path: Path, v: Time): boolean =>
    [...(places.get(path)?.keys() ?? [])].some(
      (o) => o.is === 'time' && o.of === v.of && o.from === 'second',
    );

  /** A place of a row in quarters, or in microseconds. */
  const placeOf = (
    path: Path,
    of: 'start' | 'end' | 'length',
  ): { quarters?: number; us?: number } | null => {
    let quarters: number | undefined;
    let parts = 0;
    let isClock = false;
    for (let p: Path | null = path; p; p = p.above)
      for (const [value, n] of places.get(p) ?? []) {
        const v = value as Time;
        if (v.of !== of) continue;
        if (ofClock(v)) {
          // Hours, minutes, seconds and what is behind them add up.
          const per = {
            hours: 3600e6,
            minutes: 60e6,
            seconds: 1e6,
            ms: 1000,
            us: 1,
            frames: 1e6 / (v.rate ?? 25),
          };
          parts += n * (per[v.unit as 'ms'] ?? 0);
          isClock = true;
          continue;
        }
        if (v.unit === 'seconds' && isSplit(p, v)) {
          parts += n * 1e6;
          isClock = true;
          continue;
        }
        if (v.unit === 'seconds') return { us: n * 1e6 };
        if (v.unit === 'ms') return { us: n * 1000 };
        if (v.unit === 'us') return { us: n };
        if (v.unit === 'frames') return { us: (n / (v.rate ?? 25)) * 1e6 };
        const first = v.first ?? 1;
        const beat = 4 / meterAtBar.denominator;
        if (v.unit === 'bars') {
          // A fraction of its bar, or of as many as there were before it.
          const bars = v.of === 'length' || v.from === 'bar' ? n : n - first;
          quarters = (quarters ?? 0) + bars * barQuarters();
        } else if (v.unit === 'bar') quarters = (quarters ?? 0) + (n - first) * barQuarters();
        else if (v.unit === 'beat') quarters = (quarters ?? 0) + (n - first) * beat;
        else if (v.unit === 'tick-of-beat') quarters = (quarters ?? 0) + n / (v.ppq ?? ppq);
        else if (p === path || v.from === 'bar' || quarters === undefined)
          quarters =
            (quarters ?? 0) +
            (v.unit === 'quarters' ? n : v.unit === 'beats' ? n * beat : n / (v.ppq ?? ppq));
      }
    if (isClock) return { us: parts };
    return quarters === undefined ? null : { quarters };
  };
  /** Meters that are told by the clock: where they lie is known when the tempos are. */
  const byClock = new Map<(typeof meters)[number], number>();
  for (const path of paths) {
    const own = path.row.values;
    const numerator = own.find((v) => v.value.is === 'numerator');
    const denominator = own.find(
      (v) => v.value.is === 'denominator' || v.value.is === 'denominator-power',
    );
    if (!numerator) continue;
    const n = Number(denominator?.said ?? 4);
    const place = placeOf(path, 'start');
    meters.push({
      quarters: place?.quarters ?? 0,
      numerator: Number(numerator.said),
      denominator: denominator?.value.is === 'denominator-power' ? 2 ** n : n,
    });
    if (place?.us !== undefined) byClock.set(meters.at(-1)!, place.us);
  }
  if (meters.length > 0) Object.assign(meterAtBar, meters[0]);
  for (const path of paths) {
    const own = path.row.values.find(
      (v) => v.value.is === 'bpm' || v.value.is === 'us-per-quarter',
    );
    if (!own) continue;
    const n = Number(own.said);
    if (!(n > 0)) continue;
    const per = own.value.is === 'bpm' ? 60_000_000 / n : n;
    const last = tempos.at(-1);
    // Rows of notes tell the tempo in force again and again.
    if (last?.microsecondsPerQuarter === per && path.row.of?.of !== 'tempos') continue;
    const place = placeOf(path, 'start');
    // The first that is told beside a note holds from the start on.
    const isFirst = tempos.length === 0 && path.row.of?.of !== 'tempos';
    const byTheClock = place && !isFirst ? quartersAfter(tempos, place.us!) : 0;
    const quarters = place?.quarters ?? byTheClock;
    tempos.push({ quarters, microsecondsPerQuarter: per });
  }
  const bpm = Number(facts.get('bpm'));
  if (tempos.length === 0 && bpm > 0)
    tempos.push({ quarters: 0, microsecondsPerQuarter: 60_000_000 / bpm });
  const clock = clockOf(tempos);
  for (const [meter, us] of byClock) meter.quarters = snapped(clock.quartersAt(us));
  const usOf = (place: { quarters?: number; us?: number }) =>
    place.us ?? clock.usAt(place.quarters!);

  const notes: ToldNote[] = [];
  const open = new Map<string, number[]>();
  let [velocities, lengths] = [0, 0];
  let isKeyed = false;
  const markers: { quarters: number; us: number; text: string }[] = [];
  const captions: { us: number; text: string }[] = [];
  const laneKeys = (path: Path) => seatFrom(path, target)?.laneNotes ?? null;
  const onGrid = new Map<Path, GridNote[]>();
  const tellsMeter = meters.length > 0 || facts.has('numerator');
  const told = gridNotes(paths, {
    barAt:
      (tellsMeter ? null : barsByCells(file)) ??
      barsOf(meters.length > 0 ? meters : [{ quarters: 0, ...firstMeter }]),
    startOf: (path) => {
      if (!path.row.values.some((v) => v.value.is === 'time')) return null;
      const place = placeOf(path, 'start');
      return place?.quarters ?? (place ? clock.quartersAt(place.us!) : null);
    },
    laneKeys,
    seatOf: (path) => seatFrom(path, target)?.id ?? '',
    velocityOf: (path) => {
      const force = path.row.values.find((v) => v.value.is === 'velocity');
      return force ? velocityFrom(force) : null;
    },
  });
  for (const note of told) onGrid.set(note.path, [...(onGrid.get(note.path) ?? []), note]);
  const gridNote = (note: GridNote, path: Path): ToldNote => {
    const { startQuarters, endQuarters, key, velocity, from, to } = note;
    if (key !== null) isKeyed = true;
    if (velocity !== null) velocities++;
    if (endQuarters !== null) lengths++;
    return {
      startUs: clock.usAt(startQuarters),
      endUs: endQuarters === null ? null : clock.usAt(endQuarters),
      startQuarters,
      endQuarters,
      key,
      velocity,
      ...whoseOf(path, seatFrom(path, target)),
      flags: [],
      from,
      to,
    };
  };
  for (const path of paths) {
    const { row } = path;
    const of = row.of?.of;
    const text = row.values.find((v) => v.value.is === 'text');
    if (text && (of === 'markers' || of === 'captions' || of === 'changes')) {
      const place = placeOf(path, 'start');
      const us = place ? usOf(place) : 0;
      if (of !== 'captions')
        markers.push({ quarters: place?.quarters ?? 0, us, text: String(text.said) });
      else captions.push({ us, text: String(text.said) });
      continue;
    }
    if (of === 'cells' || of === 'lanes') {
      const own = onGrid.get(path) ?? [];
      for (const note of own) notes.push(gridNote(note, path));
      continue;
    }
    const struck = of === 'strikes' ? struckKeys(path) : [];
    const keyed = row.values.find((v) => v.value.is === 'key');
    const isNote =
      struck.length > 0 ||
      keyed !== undefined ||
      of === 'notes' ||
      (of === 'events' && row.rows.length === 0);
    if (!isNote) continue;
    const seat = seatFrom(path, target);
    const lanes = seat?.laneNotes ?? null;
    const key = keyed
      ? keyFrom(keyed, lanes)
      : nearest(path, 'lanes')
        ? laneKey(path, { laneKeys })
        : onlyKey(path);
    if (key !== null) isKeyed = true;
    const start = placeOf(path, 'start');
    const startUs = start ? usOf(start) : 0;
    const force = row.values.find(({ value: v }) => v.is === 'velocity' && v.key === undefined);
    const velocity = force ? velocityFrom(force) : null;
    const onOff = row.values.find((v) => v.value.is === 'on-off');
    const isOff =
      onOff?.value.is === 'on-off'
        ? onOff.said === onOff.value.off && onOff.said !== onOff.value.on
        : of === 'events' && (velocity === 0 || beginsBy(row) === false);
    const id = `${seat?.id ?? ''} ${key}`;
    if (of === 'events' && isOff) {
      const at = open.get(id)?.shift();
      if (at !== undefined) {
        notes[at] = { ...notes[at]!, endUs: startUs, endQuarters: start?.quarters ?? null };
        lengths++;
      }
      continue;
    }
    const end = placeOf(path, 'end');
    const length = placeOf(path, 'length');
    const endQuarters =
      end?.quarters ??
      (length?.quarters === undefined ? null : (start?.quarters ?? 0) + length.quarters);
    const endUs = end
      ? usOf(end)
      : length
        ? length.us !== undefined
          ? startUs + length.us
          : usOf({ quarters: endQuarters! })
        : null;
    const keyByKey = of === 'strikes' && row.values.some(({ value: v }) => isKeyByKey(v));
    if (!keyByKey && endUs !== null) lengths++;
    if (!keyByKey && velocity !== null) velocities++;
    if (of === 'events') open.set(id, [...(open.get(id) ?? []), notes.length]);
    const told: ToldNote = {
      startUs,
      endUs,
      startQuarters: start?.quarters ?? null,
      endQuarters,
      key,
      velocity,
      ...whoseOf(path, seat),
      flags: flagsFrom(path),
      from: Math.min(...row.values.map((v) => v.from), Infinity),
      to: Math.max(...row.values.map((v) => v.to), 0),
    };
    if (!keyByKey) {
      notes.push(told);
      continue;
    }
    for (const { key: own, force: hit } of struck) {
      isKeyed = true;
      if (endUs !== null) lengths++;
      if (hit) velocities++;
      notes.push({ ...told, key: own, velocity: hit ? velocityFrom(hit) : velocity });
    }
  }
  return {
    notes,
    tempos,
    meters,
    markers,
    captions,
    facts,
    ppq: facts.has('ppq') ? ppq : tickPpq,
    velocities,
    lengths,
    keyed: isKeyed,
  };
}

/** What tells of one key of a strike, or of each in bits. */
const isKeyByKey = (v: Value): boolean =>
  ((v.is === 'velocity' || v.is === 'struck') && v.key !== undefined) ||
  (v.is === 'key' && v.as === 'bits');

/** More bars than any piece that is kept. */
const MOST_BARS = 4_000_000;

/** Bars from 0 by the meters of a file: where each begins, and its length, in quarters. */
function barsOf(meters: ToldMusic['meters']): (bar: number) => { start: number; length: number } {
  const sorted = [...meters].sort((a, b) => a.quarters - b.quarters);
  const starts: number[] = [];
  const lengths: number[] = [];
  let [at, next] = [0, 0];
  let length = 4;
  return (bar) => {
    if (!(bar >= 0 && bar < MOST_BARS)) return { start: 0, length };
    while (starts.length <= bar) {
      while (next < sorted.length && sorted[next]!.quarters <= at + 1e-9) {
        length = (sorted[next]!.numerator * 4) / sorted[next]!.denominator;
        next++;
      }
      starts.push(at);
      lengths.push(length);
      at += length;
    }
    return { start: starts[bar] ?? 0, length: lengths[bar] ?? length };
  };
}

function velocityFrom({ value: v, said }: ReadValue): number | null {
  if (v.is !== 'velocity') return null;
  const { least = 0, most = 127 } = v;
  if (most === least) return null;
  return Math.max(0, Math.min(127, Math.round(((Number(said) - least) * 127) / (most - least))));
}
