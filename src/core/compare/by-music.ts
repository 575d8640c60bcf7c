import { mapsOf, roundMs } from '../score/inventory';
import { sortByKey } from '../score/columns';
import { isIn, ticksPerQuarterOf, type Score } from '../score/score';
import { count, plain } from '../target/words';
import { sayClock } from '../time/meter-map';
import { bpmOf } from '../time/tempo-map';

/** Two files held against each other as music, without any lineage. */
export interface MusicComparison {
  /** How the notes were matched: by clock time, or by quarters where the tempo is another. */
  readonly matchedBy: 'clock' | 'quarters';
  /** What all have in common, B minus A. */
  readonly shiftMs: number;
  readonly shiftQuarters: number;
  readonly notesA: number;
  readonly notesB: number;
  readonly same: number;
  readonly missing: number;
  readonly added: number;
  readonly moved: number;
  readonly shorter: number;
  readonly longer: number;
  readonly louder: number;
  readonly softer: number;
  readonly otherKey: number;
  readonly otherChannel: number;
  readonly markers: { readonly missing: readonly string[]; readonly added: readonly string[] };
  readonly tempo: 'same' | 'differs';
  readonly meter: 'same' | 'differs';
  /** The furthest places, at most a few of each kind, for people to look at. */
  readonly places: readonly ComparedPlace[];
  /** In words, what matters first. */
  readonly says: readonly string[];
}

export interface ComparedPlace {
  readonly kind: 'missing' | 'added' | 'moved' | 'shorter' | 'longer' | 'otherKey';
  /** In A, or in B for what was added. */
  readonly atMs: number;
  readonly noteNumber: number;
}

/** All notes of a score in order of start, in both measures of time. */
interface Line {
  count: number;
  start: Float64Array;
  length: Float64Array;
  ms: Float64Array;
  lengthMs: Float64Array;
  key: Uint8Array;
  velocity: Uint8Array;
  channel: Uint8Array;
}

type Base = 'clock' | 'quarters';

function lineOf(score: Score, base: Base): Line {
  const { clock } = mapsOf(score);
  const parts = score.parts.filter(isIn);
  const total = parts.reduce((n, p) => n + p.notes.count, 0);
  const ticks = new Int32Array(total);
  const part = new Uint32Array(total);
  const index = new Uint32Array(total);
  let at = 0;
  parts.forEach((p, k) => {
    ticks.set(p.notes.start, at);
    for (let i = 0; i < p.notes.count; i++) {
      part[at] = k;
      index[at++] = i;
    }
  });
  const order = sortByKey(ticks);
  const quarter = 1 / ticksPerQuarterOf(score.division);
  const line: Line = {
    count: total,
    start: new Float64Array(total),
    length: new Float64Array(total),
    ms: new Float64Array(total),
    lengthMs: new Float64Array(total),
    key: new Uint8Array(total),
    velocity: new Uint8Array(total),
    channel: new Uint8Array(total),
  };
  for (let n = 0; n < total; n++) {
    const p = parts[part[order[n]!]!]!;
    const i = index[order[n]!]!;
    const from = p.notes.start[i]!;
    const to = p.notes.end[i]!;
    line.ms[n] = clock.msAt(from);
    line.lengthMs[n] = clock.msAt(to) - line.ms[n]!;
    line.start[n] = base === 'clock' ? line.ms[n]! : from * quarter;
    line.length[n] = base === 'clock' ? line.lengthMs[n]! : (to - from) * quarter;
    line.key[n] = p.notes.noteNumber[i]!;
    line.velocity[n] = p.notes.velocity[i]!;
    line.channel[n] = p.channel;
  }
  return line;
}

/** Notes of each key, in order of start. */
function byKey(line: Line): Uint32Array[] {
  const counts = new Uint32Array(128);
  for (let n = 0; n < line.count; n++) counts[line.key[n]!]!++;
  const lists = Array.from(counts, (c) => new Uint32Array(c));
  counts.fill(0);
  for (let n = 0; n < line.count; n++) {
    const key = line.key[n]!;
    lists[key]![counts[key]!++] = n;
  }
  return lists;
}

const SAMPLES = 400;
const MOST_VOTES_A_SAMPLE = 4000;

/**
 * The shift that most notes share: sampled notes of A vote for their distance to every note of B on
 * the same key, in bins of twice the tolerance; the fullest pair of bins wins.
 */
function commonShift(a: Line, b: Line, tolerance: number) {
  const keysB = byKey(b);
  const bin = tolerance * 2;
  const votes = new Map<number, { votes: number; sum: number }>();
  const step = Math.max(1, Math.floor(a.count / SAMPLES));
  let asked = 0;
  for (let n = 0; n < a.count; n += step) {
    const list = keysB[a.key[n]!]!;
    if (list.length === 0) continue;
    asked++;
    const stride = Math.max(1, Math.ceil(list.length / MOST_VOTES_A_SAMPLE));
    for (let k = 0; k < list.length; k += stride) {
      const by = b.start[list[k]!]! - a.start[n]!;
      const slot = Math.round(by / bin);
      const known = votes.get(slot);
      if (known) {
        known.votes++;
        known.sum += by;
      } else votes.set(slot, { votes: 1, sum: by });
    }
  }
  let best = { votes: 0, sum: 0 };
  for (const [slot, here] of votes) {
    const next = votes.get(slot + 1);
    const both = { votes: here.votes + (next?.votes ?? 0), sum: here.sum + (next?.sum ?? 0) };
    // Of equals the smallest shift is the likeliest.
    const less = Math.abs(both.sum / both.votes) < Math.abs(best.sum / (best.votes || 1));
    if (both.votes > best.votes || (both.votes === best.votes && less)) best = both;
  }
  return {
    shift: best.votes === 0 ? 0 : best.sum / best.votes,
    share: asked === 0 ? 0 : best.votes / asked,
  };
}

const MOST_PLACES = 20;

/** Matches two files despite a shift, another PPQ, another tempo map or another track layout. */
export function compareMusic(scoreA: Score, scoreB: Score): MusicComparison {
  const ppqA = ticksPerQuarterOf(scoreA.division);
  const ppqB = ticksPerQuarterOf(scoreB.division);
  const tickMs = (s: Score, ppq: number) => mapsOf(s).clock.tempoAt(0) / 1000 / ppq;
  // Within this two notes stand at one place: half a tick of the coarser file, or less than a tick
  // where both count alike.
  const tolerances: Record<Base, number> = {
    quarters: ppqA === ppqB ? 0.49 / ppqA : 0.51 / Math.min(ppqA, ppqB),
    clock: 0.51 * Math.max(tickMs(scoreA, ppqA), tickMs(scoreB, ppqB)),
  };
  const trials = (['quarters', 'clock'] as const).map((base) => {
    const a = lineOf(scoreA, base);
    const b = lineOf(scoreB, base);
    return { base, a, b, tolerance: tolerances[base], ...commonShift(a, b, tolerances[base]) };
  });
  // Quarters are exact; the clock is taken where it matches clearly more.
  const chosen = trials[1]!.share > trials[0]!.share * 1.02 ? trials[1]! : trials[0]!;
  const { a, b, base, tolerance, shift } = chosen;

  const matchA = new Int32Array(a.count).fill(-1);
  const matchB = new Int32Array(b.count).fill(-1);
  const keysA = byKey(a);
  const keysB = byKey(b);
  const pair = (x: number, y: number) => {
    matchA[x] = y;
    matchB[y] = x;
  };
  for (let key = 0; key < 128; key++)
    pairInPlace(a, b, keysA[key]!, keysB[key]!, shift, tolerance, pair);
  // What is left on a key and stands near is taken as moved.
  const reach = base === 'clock' ? 1000 : 2;
  let moved = 0;
  const places: ComparedPlace[] = [];
  const placed = new Map<ComparedPlace['kind'], number>();
  const place = (kind: ComparedPlace['kind'], line: Line, n: number) => {
    const before = placed.get(kind) ?? 0;
    placed.set(kind, before + 1);
    if (before < MOST_PLACES)
      places.push({ kind, atMs: roundMs(line.ms[n]!), noteNumber: line.key[n]! });
  };
  for (let key = 0; key < 128; key++) {
    const left = keysA[key]!.filter((n) => matchA[n]! < 0);
    const free = keysB[key]!.filter((n) => matchB[n]! < 0);
    let k = 0;
    for (const x of left) {
      const wanted = a.start[x]! + shift;
      while (k < free.length && b.start[free[k]!]! < wanted - reach) k++;
      let best = -1;
      for (let j = k; j < free.length && b.start[free[j]!]! <= wanted + reach; j++) {
        if (matchB[free[j]!]! >= 0) continue;
        const away = Math.abs(b.start[free[j]!]! - wanted);
        if (best < 0 || away < Math.abs(b.start[best]! - wanted)) best = free[j]!;
      }
      if (best < 0) continue;
      pair(x, best);
      moved++;
      place('moved', a, x);
    }
  }
  // A note at the same place, of the same length, on another key was put on another key.
  let otherKey = 0;
  const leftA = indices(matchA);
  const leftB = indices(matchB);
  let k = 0;
  for (const x of leftA) {
    const wanted = a.start[x]! + shift;
    while (k < leftB.length && b.start[leftB[k]!]! < wanted - tolerance) k++;
    for (let j = k; j < leftB.length && b.start[leftB[j]!]! <= wanted + tolerance; j++) {
      const y = leftB[j]!;
      if (matchB[y]! >= 0 || Math.abs(b.length[y]! - a.length[x]!) > tolerance * 2) continue;
      pair(x, y);
      otherKey++;
      place('otherKey', a, x);
      break;
    }
  }

  let [shorter, longer, louder, softer, otherChannel, same] = [0, 0, 0, 0, 0, 0];
  const shifts: number[] = [];
  for (let x = 0; x < a.count; x++) {
    const y = matchA[x]!;
    if (y < 0) continue;
    const longerBy = b.length[y]! - a.length[x]!;
    const another = Math.abs(longerBy) > tolerance * 2;
    if (another && longerBy < 0) {
      shorter++;
      place('shorter', a, x);
    } else if (another) {
      longer++;
      place('longer', a, x);
    }
    if (b.velocity[y]! > a.velocity[x]!) louder++;
    if (b.velocity[y]! < a.velocity[x]!) softer++;
    if (b.channel[y] !== a.channel[x]) otherChannel++;
    const inPlace = Math.abs(b.start[y]! - a.start[x]! - shift) <= tolerance;
    if (!inPlace) continue;
    shifts.push(b.ms[y]! - a.ms[x]!);
    if (!another && b.velocity[y] === a.velocity[x] && b.key[y] === a.key[x]) same++;
  }
  const missing = indices(matchA);
  const added = indices(matchB);
  missing.slice(0, MOST_PLACES).forEach((n) => place('missing', a, n));
  added.slice(0, MOST_PLACES).forEach((n) => place('added', b, n));
  shifts.sort((p, q) => p - q);
  const rawShiftMs = base === 'clock' ? shift : (shifts[shifts.length >> 1] ?? 0);
  const shiftMs = Math.abs(rawShiftMs) < 0.0005 ? 0 : roundMs(rawShiftMs);

  const facts = {
    matchedBy: base,
    shiftMs,
    shiftQuarters: base === 'quarters' ? Math.round(shift * 1e6) / 1e6 + 0 : 0,
    notesA: a.count,
    notesB: b.count,
    same,
    missing: missing.length,
    added: added.length,
    moved,
    shorter,
    longer,
    louder,
    softer,
    otherKey,
    otherChannel,
    markers: compareMarkers(scoreA, scoreB),
    tempo: tempoLine(scoreA) === tempoLine(scoreB) ? ('same' as const) : ('differs' as const),
    meter: meterLine(scoreA) === meterLine(scoreB) ? ('same' as const) : ('differs' as const),
    places: places.sort((p, q) => p.atMs - q.atMs),
  };
  return { ...facts, says: sentences(facts, scoreA, scoreB) };
}

const indices = (match: Int32Array): number[] => {
  const out: number[] = [];
  match.forEach((m, n) => m < 0 && out.push(n));
  return out;
};

/** Two sorted lists of one key walked together; of several in reach the one of the same length. */
function pairInPlace(
  a: Line,
  b: Line,
  listA: Uint32Array,
  listB: Uint32Array,
  shift: number,
  tolerance: number,
  pair: (x: number, y: number) => void,
) {
  const taken = new Uint8Array(listB.length);
  let k = 0;
  for (const x of listA) {
    const wanted = a.start[x]! + shift;
    while (k < listB.length && b.start[listB[k]!]! < wanted - tolerance) k++;
    let best = -1;
    for (let j = k; j < listB.length && b.start[listB[j]!]! <= wanted + tolerance; j++) {
      if (taken[j] === 1) continue;
      const off = (i: number) =>
        Math.abs(b.length[listB[i]!]! - a.length[x]!) +
        (b.velocity[listB[i]!] === a.velocity[x] ? 0 : tolerance / 2) +
        (b.channel[listB[i]!] === a.channel[x] ? 0 : tolerance / 4);
      if (best < 0 || off(j) < off(best)) best = j;
    }
    if (best < 0) continue;
    taken[best] = 1;
    pair(x, listB[best]!);
  }
}

/** Markers by their text, as often as each stands. */
function compareMarkers(a: Score, b: Score) {
  const left = new Map<string, number>();
  for (const m of b.conductor.markers) left.set(m.text, (left.get(m.text) ?? 0) + 1);
  const missing: string[] = [];
  for (const m of a.conductor.markers) {
    const n = left.get(m.text) ?? 0;
    if (n === 0) missing.push(m.text);
    else left.set(m.text, n - 1);
  }
  const added = [...left].flatMap(([text, n]) => Array<string>(n).fill(text));
  return { missing, added };
}

/** Tempos by quarters: the same map at another PPQ is the same. */
const tempoLine = (s: Score) =>
  changes(
    s.conductor.tempos.map((t) => [
      t.tick / ticksPerQuarterOf(s.division),
      t.microsecondsPerQuarter,
    ]),
  );
const meterLine = (s: Score) =>
  changes(
    s.conductor.meters.map((m) => [
      m.tick / ticksPerQuarterOf(s.division),
      `${m.numerator}/${m.denominator}`,
    ]),
  );
const changes = (list: readonly (readonly [number, number | string])[]) =>
  list
    .filter(([, value], i) => i === 0 || value !== list[i - 1]![1])
    .map(([at, value]) => `${at.toFixed(4)}:${value}`)
    .join(' ');

function sentences(c: Omit<MusicComparison, 'says'>, a: Score, b: Score): string[] {
  const say = (n: number, what: string) => (n > 0 ? [`${count(n, 'note')} ${what}`] : []);
  const seconds = plain(Math.abs(c.shiftMs) / 1000);
  const tempos = (s: Score) => {
    const rates = s.conductor.tempos.map((t) => bpmOf(t.microsecondsPerQuarter));
    return rates.length === 1
      ? `${plain(rates[0]!)} BPM`
      : rates.length === 0
        ? 'no tempo'
        : `${rates.length} tempos`;
  };
  const gone = c.markers.missing.length;
  const more = c.markers.added.length;
  const out = [
    ...(c.shiftMs === 0 ? [] : [`all ${seconds} s ${c.shiftMs > 0 ? 'later' : 'earlier'}`]),
    ...(c.tempo === 'same' ? [] : [`tempo: ${tempos(a)}, then ${tempos(b)}`]),
    ...(c.meter === 'same' ? [] : ['the meters differ']),
    ...(gone > 0 ? [`${count(gone, 'marker')} gone`] : []),
    ...(more > 0 ? [`${count(more, 'marker')} added`] : []),
    ...say(c.missing, 'missing'),
    ...say(c.added, 'added'),
    ...say(c.moved, 'moved'),
    ...say(c.otherKey, 'on another key'),
    ...say(c.shorter, 'shorter'),
    ...say(c.longer, 'longer'),
    ...say(c.louder, 'louder'),
    ...say(c.softer, 'softer'),
    ...say(c.otherChannel, 'on another channel'),
  ];
  const first = c.places.find((p) => p.kind === 'missing' || p.kind === 'moved');
  if (first) out.push(`the first of them at ${sayClock(first.atMs)}`);
  return out.length === 0 ? ['the same music'] : out;
}
