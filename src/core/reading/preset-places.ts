import type { Maps } from '../score/inventory';
import { lastAtOrBefore } from '../time/tempo-map';

/** Further than this a marker is not what a preset is for. */
const MOST_MS = 4000;

/**
 * The place that a preset is to be heard at: the marker that is nearest to it within four seconds,
 * else the nearest bar line; of two that are equally near the later, as presets lead.
 */
export function placesFor(
  to: 'markers' | 'bars',
  all: readonly { readonly tick: number }[],
  { bars, clock }: Pick<Maps, 'bars' | 'clock'>,
): (tick: number) => number {
  const markers = to === 'bars' ? [] : all.map((m) => m.tick).filter((t) => t > 0);
  const far = (tick: number, from: number) => Math.abs(clock.msAt(tick) - clock.msAt(from));
  return (tick) => {
    const i = lastAtOrBefore(markers, tick);
    const near = [markers[i], markers[i + 1]].filter(
      (m): m is number => m !== undefined && far(m, tick) <= MOST_MS,
    );
    if (near.length > 0)
      return near.reduce((best, m) => (far(m, tick) <= far(best, tick) ? m : best));
    const bar = bars.barAt(tick);
    const [from, next] = [bars.barStart(bar), bars.barStart(bar + 1)];
    return from > 0 && far(from, tick) < far(next, tick) ? from : next;
  };
}
