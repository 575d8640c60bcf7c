import { roundMs } from '../score/inventory';
import { ticksPerQuarterOf, type Score } from '../score/score';
import { count, plain, sayLater } from '../target/words';
import { sayClock } from '../time/meter-map';
import { bpmOf } from '../time/tempo-map';
import { commonOf } from './by-id';
import { matchMusic, unmatched, type MusicLine, type MusicMatch } from './match-music';

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

const MOST_PLACES = 20;

/** Two files as music, in figures and in words. */
export const compareMusic = (scoreA: Score, scoreB: Score): MusicComparison =>
  comparison(matchMusic(scoreA, scoreB), scoreA, scoreB);

/** The same with how far each note that both have stands apart in time, less what all share. */
export function driftBetween(scoreA: Score, scoreB: Score) {
  const match = matchMusic(scoreA, scoreB);
  const compared = comparison(match, scoreA, scoreB);
  const { a, b, matchA } = match;
  const both = Array.from(matchA.keys()).filter((x) => matchA[x]! >= 0);
  const apart = Float64Array.from(both, (x) => b.ms[matchA[x]!]! - a.ms[x]!);
  const shiftMs = commonOf(apart);
  const drift = {
    ms: Float64Array.from(both, (x) => a.ms[x]!),
    off: apart.map((ms) => ms - shiftMs),
    shiftMs,
  };
  return { ...compared, drift };
}

function comparison(match: MusicMatch, scoreA: Score, scoreB: Score): MusicComparison {
  const { a, b, base, tolerance, shift, matchA, matchB } = match;
  const places: ComparedPlace[] = [];
  const placed = new Map<ComparedPlace['kind'], number>();
  const place = (kind: ComparedPlace['kind'], line: MusicLine, n: number) => {
    const before = placed.get(kind) ?? 0;
    placed.set(kind, before + 1);
    if (before < MOST_PLACES)
      places.push({ kind, atMs: roundMs(line.ms[n]!), noteNumber: line.key[n]! });
  };
  for (const x of match.moved) place('moved', a, x);
  for (const x of match.otherKey) place('otherKey', a, x);

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
  const missing = unmatched(matchA);
  const added = unmatched(matchB);
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
    moved: match.moved.length,
    shorter,
    longer,
    louder,
    softer,
    otherKey: match.otherKey.length,
    otherChannel,
    markers: compareMarkers(scoreA, scoreB),
    tempo: tempoLine(scoreA) === tempoLine(scoreB) ? ('same' as const) : ('differs' as const),
    meter: meterLine(scoreA) === meterLine(scoreB) ? ('same' as const) : ('differs' as const),
    places: places.sort((p, q) => p.atMs - q.atMs),
  };
  return { ...facts, says: sentences(facts, scoreA, scoreB) };
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
  const later = sayLater(c.shiftMs);
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
    ...(later === null ? [] : [`all ${later}`]),
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
