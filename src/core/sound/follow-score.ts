import { unmapTick, mapper, type TimeMap } from '../time/time-map';
import type { Clock } from '../time/tempo-map';
import type { SoundEdit } from './edits';

/** A stretch of the sound, by the clock of what came in, and where its music stands now. */
interface Copy {
  readonly fromUs: number;
  readonly toUs: number;
  readonly atUs: number;
}

/** A tick may be rounded at each edge of what was cut. */
const NEAR_US = 2500;

export type Followed =
  | { readonly edits: readonly SoundEdit[] }
  /** A stretch that was made faster or slower: sound can be moved and cut, and keeps its speed. */
  | { readonly stretchedAtTick: number };

/**
 * Edits by which a sound that lay beside the music as it came lies beside it again: cut where bars
 * were cut, silence where rests were put in. What rings behind the last bar goes along with it, unless
 * that bar was not the last one.
 * @param ends last tick of each
 */
export function followScore(
  map: TimeMap,
  base: Clock,
  now: Clock,
  ends: { readonly base: number; readonly now: number },
): Followed {
  const endTick = Math.min(ends.base, unmapTick(map, ends.now));
  const at = mapper(map);
  const edges = edgesOf(map, base, now, endTick);
  const copies: Copy[] = [];
  const us = (clock: Clock, tick: number) => Math.round(clock.msAt(tick) * 1000);
  for (let i = 0; i + 1 < edges.length; i++) {
    const [from, to] = [edges[i]!, edges[i + 1]!];
    const last = Math.max(from, to - 1);
    const [was, is] = [us(base, to) - us(base, from), us(now, at(last)) - us(now, at(from))];
    // The last tick before an edge says how long the stretch is, whatever opens or closes behind it.
    const whole = last === from ? was : (is * was) / Math.max(1, us(base, last) - us(base, from));
    if (last > from && whole < was * 0.01) continue;
    if (Math.abs(whole - was) > NEAR_US) return { stretchedAtTick: from };
    copies.push({ fromUs: us(base, from), toUs: us(base, to), atUs: us(now, at(from)) });
  }
  const edits = editsOf(copies);
  const goesOn = us(base, ends.base) - us(base, endTick) > NEAR_US;
  return { edits: goesOn ? [...edits, { is: 'length', us: us(now, ends.now) }] : edits };
}

/** Ticks of the base at which the map or either clock may change, rising, from 0 to the end. */
function edgesOf(map: TimeMap, base: Clock, now: Clock, endTick: number): number[] {
  const edges = new Set([0, endTick]);
  for (const { tick } of base.tempos) edges.add(tick);
  for (const { tick } of now.tempos) edges.add(unmapTick(map, tick));
  map.stages.forEach((stretches, k) => {
    const before = { stages: map.stages.slice(0, k) };
    for (const { from } of stretches) edges.add(unmapTick(before, Math.max(0, Math.round(from))));
  });
  return [...edges].filter((t) => t >= 0 && t <= endTick).sort((a, b) => a - b);
}

/** From the start on: what is left of the sound is cut up to each copy, or silence put before it. */
function editsOf(copies: readonly Copy[]): SoundEdit[] {
  const edits: SoundEdit[] = [];
  let heard = 0;
  let taken = 0;
  for (const { fromUs, toUs, atUs } of copies) {
    const skip = fromUs - taken;
    const rest = atUs - heard;
    if (skip > NEAR_US) edits.push({ is: 'cut', fromUs: heard, toUs: heard + skip });
    if (rest > NEAR_US) edits.push({ is: 'insert', atUs: heard, us: rest });
    if (rest > NEAR_US) heard = atUs;
    // A hair that is not worth an edit goes by, and counts with the next.
    else if (skip <= NEAR_US) heard += skip;
    heard += toUs - fromUs;
    taken = toUs;
  }
  return edits;
}
