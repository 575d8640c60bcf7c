import { mapsOf } from '../score/inventory';
import { endTickOf, ticksPerQuarterOf, type Score } from '../score/score';
import { count, plain } from '../target/words';
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

const tempoOf = ({ conductor }: Score) => conductor.tempos[0]?.microsecondsPerQuarter ?? null;
const meterOf = ({ conductor }: Score) => {
  const first = conductor.meters[0];
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
    void out.push({ source: b.key, kind, says, offers });

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
  start(a, b, use, differ);
  length(a, b, differ);
  return out;
}

const quarters = (score: Score, tick: number) => tick / ticksPerQuarterOf(score.division);

/** By whole bars too early: an export that begins at the first note swallowed the rest. */
function start(
  a: SourceScore,
  b: SourceScore,
  use: ResolvedUse,
  differ: (kind: 'start', says: string, offers: readonly LineUp[]) => void,
) {
  const [firstA, firstB] = [startOf(a.score), startOf(b.score)];
  if (firstA === null || firstB === null) return;
  const ppqA = ticksPerQuarterOf(a.score.division);
  const ppqB = ticksPerQuarterOf(b.score.division);
  const { bars, clock } = mapsOf(a.score);
  const own = mapsOf(b.score).clock;
  if (use.follows === 'clock') {
    const early = clock.msAt(firstA) - own.msAt(firstB) - use.offset / 1000;
    if (Math.abs(early) < 20) return;
    differ('start', sayEarly(b, a, early / 1000, 's', null), [
      byFirstNote(Math.round((early + use.offset / 1000) * 1000), 'clock'),
      ...byMarker(a, b, 'clock'),
    ]);
    return;
  }
  const apart = quarters(a.score, firstA) - quarters(b.score, firstB + use.offset);
  const { numerator, denominator } = bars.meterAt(0);
  const bar = (numerator * 4) / denominator;
  const whole = Math.round(apart / bar);
  const isWhole = whole !== 0 && Math.abs(apart - whole * bar) < 1 / Math.min(ppqA, ppqB) + 1e-9;
  if (Math.abs(apart) < 1e-9 || (!isWhole && Math.abs(apart) < bar)) return;
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
  ]);
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

function length(a: SourceScore, b: SourceScore, differ: (kind: 'length', says: string) => void) {
  const barsIn = ({ score }: SourceScore) => {
    const { bars } = mapsOf(score);
    const end = endTickOf(score);
    const whole = bars.barAt(end);
    const from = bars.barStart(whole);
    return whole + (end - from) / (bars.barStart(whole + 1) - from);
  };
  const [longA, longB] = [barsIn(a), barsIn(b)];
  if (Math.abs(longA - longB) < 0.01) return;
  const two = (n: number) => plain(Math.round(n * 100) / 100);
  differ('length', `${b.name} is ${two(longB)} bars long, ${a.name} ${two(longA)}.`);
}
