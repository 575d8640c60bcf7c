import { mapsOf } from '../score/inventory';
import { endTickOf, ticksPerQuarterOf, type Score } from '../score/score';
import { count, plain } from '../diagnostic/words';
import { firstInForce } from '../time/tempo-map';
import { sayBpm } from '../time/tempos';
import type { Base } from './merge';
import type { SourceScore } from './source';
import type { ResolvedUse } from './use';

/** Where a source contradicts the ruling one; an offer is the offset that would bring them together. */
export interface Disagreement {
  readonly source: string;
  readonly kind: 'start' | 'tempo' | 'meter' | 'length' | 'division';
  readonly says: string;
  /** Ways to line them up, best first. */
  readonly offers: readonly LineUp[];
}

export interface LineUp {
  readonly title: string;
  readonly follows: 'bars' | 'clock';
  readonly offset: number;
}

const KINDS: readonly Disagreement['kind'][] = ['start', 'tempo', 'meter', 'length', 'division'];

/**
 * How the sources that are together contradict the one that rules, what matters most first: one that
 * begins earlier by whole bars (a rest that an export swallowed), then tempo, meter, length.
 */
export function disagreements({ uses }: Base): Disagreement[] {
  const together = uses.filter((u) => u.as === 'together');
  const [ruling] = together;
  if (!ruling || together.length < 2) return [];
  const out = together.slice(1).flatMap((use) => against(ruling, use));
  return out.sort((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind));
}

const tempoOf = ({ conductor }: Score) =>
  firstInForce(conductor.tempos)?.microsecondsPerQuarter ?? null;
const meterOf = ({ conductor }: Score) => {
  const first = firstInForce(conductor.meters);
  return first ? `${first.numerator}/${first.denominator}` : null;
};

/** The first tick at which any note begins; null where none does. */
function startOf(score: Score): number | null {
  let first = Infinity;
  for (const { notes } of score.parts)
    if (notes.count > 0 && notes.start[0]! < first) first = notes.start[0]!;
  return first === Infinity ? null : first;
}

function against(ruling: ResolvedUse, use: ResolvedUse): Disagreement[] {
  const a = ruling.source;
  const b = use.source;
  const out: Disagreement[] = [];
  const differ = (kind: Disagreement['kind'], says: string, offers: readonly LineUp[] = []): void =>
    void out.push({ source: b.key, kind, says, offers: apartFrom(offers) });

  const [tempoA, tempoB] = [tempoOf(a.score), tempoOf(b.score)];
  if (tempoB !== null && tempoB !== (tempoA ?? 500_000))
    differ(
      'tempo',
      `${b.name} runs at ${sayBpm(tempoB)}, ${a.name} at ${sayBpm(tempoA ?? 500_000)}.`,
    );
  if (b.score.conductor.tempos.length > 1 && a.score.conductor.tempos.length <= 1)
    differ('tempo', `${b.name} changes its tempo, and ${a.name} does not.`);
  const [meterA, meterB] = [meterOf(a.score), meterOf(b.score)];
  if (meterB !== null && meterB !== (meterA ?? '4/4'))
    differ('meter', `${b.name} counts in ${meterB}, ${a.name} in ${meterA ?? '4/4'}.`);
  if (!start(a, b, use, differ)) length(a, b, use, differ);
  return out;
}

/** Two ways that come to the same are one, under the first name. */
const apartFrom = (offers: readonly LineUp[]): LineUp[] =>
  offers.filter(
    (o, i) => offers.findIndex((p) => p.follows === o.follows && p.offset === o.offset) === i,
  );

const quarters = (score: Score, tick: number) => tick / ticksPerQuarterOf(score.division);

/** Where a source ends as it is placed, in quarters of its own or of the ruling one. */
const endOf = ({ score }: SourceScore, offset = 0) => quarters(score, endTickOf(score) + offset);

/**
 * By whole bars too early: an export that begins at the first note swallowed the rest. One that
 * begins later and ends with the ruling one has its rest. True where something was said.
 */
function start(
  a: SourceScore,
  b: SourceScore,
  use: ResolvedUse,
  differ: (kind: 'start', says: string, offers: readonly LineUp[]) => void,
): boolean {
  const [firstA, firstB] = [startOf(a.score), startOf(b.score)];
  if (firstA === null || firstB === null) return false;
  const ppqA = ticksPerQuarterOf(a.score.division);
  const ppqB = ticksPerQuarterOf(b.score.division);
  const { bars, clock } = mapsOf(a.score);
  const own = mapsOf(b.score).clock;
  if (use.follows === 'clock') {
    const early = clock.msAt(firstA) - own.msAt(firstB) - use.offset / 1000;
    if (Math.abs(early) < 20) return false;
    differ('start', sayEarly(b, a, early / 1000, 's', null), [
      byFirstNote(Math.round((early + use.offset / 1000) * 1000), 'clock'),
      ...byMarker(a, b, 'clock'),
    ]);
    return true;
  }
  const apart = quarters(a.score, firstA) - quarters(b.score, firstB + use.offset);
  const { numerator, denominator } = bars.meterAt(0);
  const bar = (numerator * 4) / denominator;
  const whole = Math.round(apart / bar);
  const isWhole = whole !== 0 && Math.abs(apart - whole * bar) < 1 / Math.min(ppqA, ppqB) + 1e-9;
  if (Math.abs(apart) < 1e-9 || (!isWhole && Math.abs(apart) < bar)) return false;
  if (apart < 0 && Math.abs(endOf(a) - endOf(b, use.offset)) < bar) return false;
  const ticks = (q: number) => Math.round(q * ppqB) + use.offset;
  const ms = clock.msAtStart(Math.abs(apart) * ppqA);
  differ('start', sayEarly(b, a, Math.sign(apart) * (ms / 1000), 's', isWhole ? whole : null), [
    ...(isWhole
      ? [
          {
            title: `Put ${count(Math.abs(whole), 'bar')} ${whole > 0 ? 'before it' : 'less before it'}`,
            follows: 'bars' as const,
            offset: ticks(whole * bar),
          },
        ]
      : []),
    byFirstNote(ticks(apart), 'bars'),
    ...byMarker(a, b, 'bars'),
    ...byEnd(a, b, use),
  ]);
  return true;
}

/** One that ends whole bars too early may lack them at its start. */
function byEnd(a: SourceScore, b: SourceScore, use: ResolvedUse): LineUp[] {
  const { numerator, denominator } = mapsOf(a.score).bars.meterAt(0);
  const bar = (numerator * 4) / denominator;
  const short = (endOf(a) - endOf(b, use.offset)) / bar;
  const whole = Math.round(short);
  if (whole < 1 || Math.abs(short - whole) > 0.01) return [];
  const offset = Math.round(whole * bar * ticksPerQuarterOf(b.score.division)) + use.offset;
  return [
    { title: `Put ${count(whole, 'bar')} before it, to end together`, follows: 'bars', offset },
  ];
}

function sayEarly(
  b: SourceScore,
  a: SourceScore,
  seconds: number,
  unit: string,
  bars: number | null,
) {
  const early = seconds > 0;
  const by = `${plain(Math.abs(seconds))} ${unit}`;
  const inBars = bars === null ? '' : `, ${count(Math.abs(bars), 'bar')}`;
  return `${b.name} begins ${by}${inBars} ${early ? 'before' : 'behind'} ${a.name}${
    early && bars !== null ? ': its opening rest was perhaps swallowed' : ''
  }.`;
}

const byFirstNote = (offset: number, follows: 'bars' | 'clock'): LineUp => ({
  title: 'Line up by first note',
  follows,
  offset,
});

/** The first marker that both have. */
function byMarker(a: SourceScore, b: SourceScore, follows: 'bars' | 'clock'): LineUp[] {
  for (const m of a.score.conductor.markers) {
    const other = b.score.conductor.markers.find((o) => o.text === m.text);
    if (!other) continue;
    const offset =
      follows === 'bars'
        ? Math.round(quarters(a.score, m.tick) * ticksPerQuarterOf(b.score.division) - other.tick)
        : Math.round(
            (mapsOf(a.score).clock.msAt(m.tick) - mapsOf(b.score).clock.msAt(other.tick)) * 1000,
          );
    return [{ title: `Line up by the marker “${m.text}”`, follows, offset }];
  }
  return [];
}

/** Of one that follows by bars: how far its end stands from that of the ruling one. */
function length(
  a: SourceScore,
  b: SourceScore,
  use: ResolvedUse,
  differ: (kind: 'length', says: string, offers: readonly LineUp[]) => void,
) {
  const barsIn = ({ score }: SourceScore, offset = 0) => {
    const { bars } = mapsOf(score);
    const end = endTickOf(score) + offset;
    const whole = bars.barAt(end);
    const from = bars.barStart(whole);
    return whole + (end - from) / (bars.barStart(whole + 1) - from);
  };
  const [longA, longB] = [barsIn(a), barsIn(b, use.follows === 'bars' ? use.offset : 0)];
  if (Math.abs(longA - longB) < 0.01) return;
  const two = (n: number) => plain(Math.round(n * 100) / 100);
  const offers = use.follows === 'bars' ? byEnd(a, b, use) : [];
  differ(
    'length',
    `${b.name} ends after ${two(longB)} bars, ${a.name} after ${two(longA)}${
      offers.length > 0 ? ': its opening rest was perhaps swallowed' : ''
    }.`,
    offers,
  );
}
