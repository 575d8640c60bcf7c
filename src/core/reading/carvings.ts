import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn } from '../score/score';
import type { Carved } from '../target/carving';
import type { Seat } from '../target/schema';
import { count } from '../target/words';
import { deliveredEnd } from './ends';
import { importanceOf } from './importance/importance';
import { placesOf } from './places';
import { seamCandidates } from './seams';
import { sectionsOf, type Section } from './sections';

/** Places that go round take this many bars or more. */
const GOES_ROUND = 4;

export interface Carving {
  readonly places: readonly Carved[];
  /** In words: "3 sections and 2 bars before a change". */
  readonly says: string;
}

/**
 * A place for each section: those that take several bars get the sections that are heard most; those
 * of half a bar or one get the bars that stand before a change of section and nowhere else; a last
 * bar that is struck once, and only as it begins, is a final hit.
 */
export function carveBySections(piece: Piece, seats: readonly Seat[]): Carving | null {
  const { sections, order, prints } = sectionsOf(piece);
  if (sections.length < 2) return null;
  const places = placesOf(seats);
  const round = places.filter((s) => (s.mostBars ?? 0) >= GOES_ROUND);
  const short = places.filter((s) => s.onlyBars?.includes(0.5) && s.onlyBars.includes(1));
  const last = places.find((s) => s.onlyBars === undefined && s.mostBars === 1);
  if (round.length === 0) return null;
  const hitBar = last ? strikesOnce(piece) : null;
  const heard = sections.filter((s) => s.at.some((b) => sounds(prints, b, s.bars) && b !== hitBar));
  const most = [...heard]
    .sort((a, b) => b.bars * b.at.length - a.bars * a.at.length || a.at[0]! - b.at[0]!)
    .slice(0, round.length)
    .sort((a, b) => a.at[0]! - b.at[0]!);
  const out: Carved[] = most.map((s, i) => ({
    place: round[i]!.id,
    fileName: round[i]!.fileName,
    fromBar: s.at[0]!,
    bars: Math.max(round[i]!.leastBars ?? 1, Math.min(s.bars, round[i]!.mostBars ?? s.bars)),
  }));
  const beds = out.length;
  const changes = barsBeforeChange(sections, order, prints).slice(0, short.length);
  changes.forEach((bar, i) =>
    out.push({ place: short[i]!.id, fileName: short[i]!.fileName, fromBar: bar, bars: 1 }),
  );
  if (last && hitBar !== null)
    out.push({ place: last.id, fileName: last.fileName, fromBar: hitBar, bars: 1 });
  // One bed alone is worth a file only where it stands for more of the piece than itself.
  if (beds === 0 || (beds === 1 && most[0]!.at.length < 2)) return null;
  const says = [
    count(beds, 'section'),
    changes.length > 0 ? `${count(changes.length, 'bar')} before a change` : '',
    last && hitBar !== null ? 'the last hit' : '',
  ].filter(Boolean);
  return { places: out, says: says.join(', ') };
}

/**
 * Where nothing tells sections apart: stretches as long as a place that goes round takes, one behind
 * the other, so that all of it is there. Null where one is enough, or the places are too few.
 */
export function carveByLength(piece: Piece, seats: readonly Seat[]): Carving | null {
  const round = placesOf(seats).filter((s) => (s.mostBars ?? 0) >= GOES_ROUND);
  const { bars } = mapsOf(piece.score);
  const total = bars.barCount(deliveredEnd(piece));
  const each = Math.min(...round.map((s) => s.mostBars!));
  const pieces = Math.ceil(total / each);
  if (round.length === 0 || pieces < 2 || pieces > round.length) return null;
  const least = Math.max(...round.map((s) => s.leastBars ?? 1));
  const places = Array.from({ length: pieces }, (_, i) => ({
    place: round[i]!.id,
    fileName: round[i]!.fileName,
    fromBar: i * each + 1,
    bars: Math.max(least, Math.min(each, total - i * each)),
  }));
  return { places, says: `${pieces} stretches of ${count(each, 'bar')}` };
}

const sounds = (prints: readonly number[], fromBar: number, bars: number) =>
  prints.slice(fromBar - 1, fromBar - 1 + bars).some((p) => p > 0);

/** Bars that stand at the end of a section before another, and are heard nowhere else in it. */
function barsBeforeChange(
  sections: readonly Section[],
  order: readonly { readonly section: number; readonly fromBar: number }[],
  prints: readonly number[],
): number[] {
  const out: number[] = [];
  const seen = new Set<number>();
  order.forEach(({ section, fromBar }, i) => {
    const next = order[i + 1];
    const { bars } = sections[section]!;
    if (!next || next.section === section || bars < 2) return;
    const bar = fromBar + bars - 1;
    const print = prints[bar - 1]!;
    const within = prints.slice(fromBar - 1, bar - 1);
    if (print === 0 || within.includes(print) || seen.has(print)) return;
    seen.add(print);
    out.push(bar);
  });
  return out;
}

/** The last bar that sounds, where all in it begins with it; counted from 1. */
function strikesOnce(piece: Piece): number | null {
  const { bars } = mapsOf(piece.score);
  let latest = -1;
  for (const { notes } of piece.score.parts.filter(isIn))
    for (let i = 0; i < notes.count; i++) latest = Math.max(latest, notes.start[i]!);
  if (latest < 0) return null;
  const bar = bars.barAt(latest);
  const begins = bars.barStart(bar);
  // Within the first beat of four.
  return bar > 0 && (latest - begins) * 4 <= bars.barStart(bar + 1) - begins ? bar + 1 : null;
}

export interface ChainedPatterns {
  readonly places: readonly Carved[];
  readonly links: readonly { readonly pattern: string; readonly repeats: number }[];
}

/** The piece as patterns and the order in which they are played; null where it does not fit. */
export function patternsOf(
  piece: Piece,
  {
    patterns,
    mostLinks,
    mostRepeats,
    mostBars,
  }: {
    patterns: readonly string[];
    mostLinks: number;
    mostRepeats: number;
    mostBars: number;
  },
): ChainedPatterns | null {
  const { sections, order } = sectionsOf(piece);
  if (order.length === 0) return null;
  // A section that is longer than a pattern is several.
  const cuts = sections.map((s) =>
    Array.from({ length: Math.ceil(s.bars / mostBars) }, (_, k) => ({
      fromBar: s.at[0]! + k * mostBars,
      bars: Math.min(mostBars, s.bars - k * mostBars),
    })),
  );
  const first = cuts.map((_, i) => cuts.slice(0, i).reduce((n, c) => n + c.length, 0));
  const total = cuts.reduce((n, c) => n + c.length, 0);
  if (total > patterns.length) return null;
  const places = cuts.flat().map((c, i) => ({
    ...c,
    place: patterns[i]!,
    fileName: `${patterns[i]!}.mid`,
  }));
  const links: { pattern: string; repeats: number }[] = [];
  for (const { section } of order)
    for (let k = 0; k < cuts[section]!.length; k++) {
      const pattern = patterns[first[section]! + k]!;
      const before = links.at(-1);
      if (before?.pattern === pattern && before.repeats < mostRepeats) before.repeats++;
      else links.push({ pattern, repeats: 1 });
    }
  return links.length > mostLinks ? null : { places, links };
}

export interface RoundStretch {
  readonly fromBar: number;
  readonly bars: number;
  /** Of the section, and why it goes round well. */
  readonly says: string;
}

/** Stretches of an allowed length that go round best, from where a section begins. */
export function goesRoundBest(piece: Piece, allowed: (bars: number) => boolean): RoundStretch[] {
  const { sections } = sectionsOf(piece);
  const { bars } = mapsOf(piece.score);
  const total = bars.barCount(deliveredEnd(piece));
  if (sections.length === 0) return [];
  const before = musicBefore(piece, total);
  const musicIn = (from: number, to: number) => before[to]! - before[from - 1]!;
  const begins = new Map(sections.map((s) => [s.at[0]!, s]));
  const fitting = seamCandidates(piece, { fromBars: [...begins.keys()], most: 2000 }).filter(
    (c) => allowed(c.toBar - c.fromBar + 1) && musicIn(c.fromBar, c.toBar) > 0,
  );
  const fullest = fitting.reduce((m, c) => Math.max(m, musicIn(c.fromBar, c.toBar)), 1e-9);
  return fitting
    .map((c) => {
      const section = begins.get(c.fromBar)!;
      const length = c.toBar - c.fromBar + 1;
      // A section that is heard often, taken whole, is what the piece is about.
      const whole = length === section.bars ? 1.5 : 0;
      const often = Math.min(2, section.at.length * 0.4);
      const thin = 4 * (1 - musicIn(c.fromBar, c.toBar) / fullest);
      return { c, length, section, cost: c.cost - whole - often + thin };
    })
    .sort((a, b) => a.cost - b.cost || a.c.fromBar - b.c.fromBar)
    .map(({ c, length, section }) => ({
      fromBar: c.fromBar,
      bars: length,
      says: `${section.name}: ${c.says.slice(0, 2).join(', ')}`,
    }));
}

/**
 * How fully each bar is scored, summed before each bar line: one for each part that strikes in it, less
 * for a part that strikes what another does. A bar of sixteenths is no fuller than a bar of the tune.
 */
function musicBefore({ score }: Piece, total: number): number[] {
  const { bars } = mapsOf(score);
  const importance = importanceOf(score);
  const before = new Array<number>(total + 1).fill(0);
  for (const part of score.parts.filter(isIn)) {
    const share = importance.of(part)?.role === 'double' ? DOUBLE : 1;
    let last = -1;
    for (let i = 0; i < part.notes.count; i++) {
      const bar = bars.barAt(part.notes.start[i]!);
      if (bar === last || bar >= total) continue;
      before[bar + 1]! += share;
      last = bar;
    }
  }
  for (let bar = 1; bar <= total; bar++) before[bar]! += before[bar - 1]!;
  return before;
}
const DOUBLE = 0.3;
