import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn } from '../score/score';
import type { TimeMap } from '../time/time-map';
import { barStarts } from './bar-prints';
import { deliveredEnd } from './ends';
import { sectionsOf } from './sections';

/** Bars of a song that somebody may take from it. */
export interface NamedStretch {
  readonly name: string;
  /** From 1. */
  readonly fromBar: number;
  readonly bars: number;
  /** How often it is heard; 1 for what a marker begins. */
  readonly times: number;
  readonly by: 'marker' | 'section';
}

/** A file as bars: what stands in each of them, and what somebody would take from it. */
export interface SongBars {
  readonly file: string;
  /** Ticks at which bars begin, and the end of the last. */
  readonly barTicks: readonly number[];
  /** Notes that begin in each bar. */
  readonly notes: readonly number[];
  readonly stretches: readonly NamedStretch[];
  /** From the ticks of what it was made of to its own. */
  readonly fromBase: TimeMap | null;
}

/** Stretches from marker to marker, then sections that no marker names. */
export function songBars(piece: Piece): SongBars {
  const { bars } = mapsOf(piece.score);
  const end = deliveredEnd(piece);
  const barTicks = barStarts({ bars }, end);
  const count = barTicks.length - 1;
  const notes = new Array<number>(count).fill(0);
  for (const part of piece.score.parts.filter(isIn)) {
    let bar = 0;
    for (let i = 0; i < part.notes.count; i++) {
      while (bar + 1 < count && part.notes.start[i]! >= barTicks[bar + 1]!) bar++;
      notes[bar]!++;
    }
  }
  const marked = fromMarkers(piece, count);
  const same = (fromBar: number, long: number) =>
    marked.some((m) => m.fromBar === fromBar && m.bars === long);
  const sections = sectionsOf(piece).sections.flatMap((s): NamedStretch[] =>
    // Beside markers, whose names sections have, only what comes back is worth a mention.
    same(s.at[0]!, s.bars) || s.bars >= count || (marked.length > 0 && s.at.length < 2)
      ? []
      : [
          {
            name: marked.length > 0 ? 'Comes back' : s.name,
            fromBar: s.at[0]!,
            bars: s.bars,
            times: s.at.length,
            by: 'section',
          },
        ],
  );
  return {
    file: piece.delivery.fileName,
    barTicks,
    notes,
    stretches: [...marked, ...sections],
    fromBase: piece.fromBase ?? null,
  };
}

function fromMarkers(piece: Piece, count: number): NamedStretch[] {
  const { bars } = mapsOf(piece.score);
  const at = new Map<number, string>();
  for (const { tick, text } of piece.score.conductor.markers) {
    const bar = bars.barAt(tick) + 1;
    if (bar <= count && !at.has(bar)) at.set(bar, text.trim() || `Bar ${bar}`);
  }
  const edges = [...at.keys()].sort((a, b) => a - b);
  return edges.map((fromBar, i) => ({
    name: at.get(fromBar)!,
    fromBar,
    bars: (edges[i + 1] ?? count + 1) - fromBar,
    times: 1,
    by: 'marker',
  }));
}
