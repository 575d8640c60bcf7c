import type { MeterMap } from '../time/meter-map';

/**
 * Fractions of a beat by their weight, halves before thirds before quarters; the first that a place
 * stands near enough to is its own.
 */
const WITHIN: readonly (readonly [parts: number, weight: number])[] = [
  [1, 0.8],
  [2, 0.5],
  [3, 0.4],
  [4, 0.25],
];
/** How far from its place a note may be played, in beats; a thirty-second is 1/8. */
const NEAR = 1 / 16;
const ELSEWHERE = 0.1;

/**
 * How strong places in the bar are: 1 for its first beat, 0.9 for its middle, 0.8 for other beats, less
 * within them, 0.1 for what stands on none; a little less the further beside it. In 6/8, 9/8 and
 * 12/8 three units are a beat.
 */
export function strengthAt(bars: MeterMap): (tick: number) => number {
  return (tick) => {
    const { numerator, denominator } = bars.meterAt(tick);
    const place = bars.placeAt(tick);
    const unit = bars.tickOf(place.bar, place.beat + 1) - bars.tickOf(place.bar, place.beat);
    const perBeat = denominator >= 8 && numerator > 3 && numerator % 3 === 0 ? 3 : 1;
    const beats = numerator / perBeat;
    const at = (place.beat - 1 + (unit > 0 ? place.tick / unit : 0)) / perBeat;
    for (const [parts, weight] of WITHIN) {
      const nearest = Math.round(at * parts) / parts;
      const off = Math.abs(at - nearest);
      if (off > NEAR) continue;
      const beat = nearest % beats;
      const strong = beat === 0 ? 1 : beats % 2 === 0 && beat === beats / 2 ? 0.9 : weight;
      return (parts === 1 ? strong : weight) - off;
    }
    return ELSEWHERE;
  };
}
