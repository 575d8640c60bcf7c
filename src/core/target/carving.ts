import type { Seat } from './schema';
import type { MeterMap } from '../time/meter-map';

export interface Carved {
  readonly place: string;
  readonly fileName: string;
  /** From 1. */
  readonly fromBar: number;
  readonly bars: number;
}

/**
 * A place for each stretch between two markers: those that take several bars, in their order. A
 * stretch that is longer than its place takes is cut there; one in which nothing begins (a bar of
 * set-up) takes none; where none is left, nothing more is carved.
 */
export function carveAtMarkers(
  markers: readonly { readonly tick: number }[],
  bars: MeterMap,
  endTick: number,
  seats: readonly Seat[],
  sounds: (fromBar: number, bars: number) => boolean = () => true,
): Carved[] {
  const places = seats.flatMap((s) => (s.kind === 'file' && (s.mostBars ?? 0) >= 4 ? [s] : []));
  const total = bars.barCount(endTick);
  const starts = [1, ...markers.map((m) => bars.barAt(m.tick) + 1)].filter((n) => n <= total);
  const edges = [...new Set(starts)].sort((a, b) => a - b);
  const stretches = edges
    .map((fromBar, i) => ({ fromBar, until: edges[i + 1] ?? total + 1 }))
    .filter(({ fromBar, until }) => sounds(fromBar, until - fromBar));
  return stretches.slice(0, places.length).map(({ fromBar, until }, i) => {
    const { id, fileName, mostBars = 16 } = places[i]!;
    return { place: id, fileName, fromBar, bars: Math.min(until - fromBar, mostBars) };
  });
}
