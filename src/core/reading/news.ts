import { sortByKey } from '../score/columns';
import { isIn, type Part, type Score } from '../score/score';

/** Controllers that trigger something each time, or whose meaning hangs on others, are kept. */
const ALWAYS_NEWS = new Set([
  0, 32, 6, 38, 96, 97, 98, 99, 100, 101, 120, 121, 122, 123, 124, 125, 126, 127,
]);

/** Which events of a part say again what is already so: 1 at each that does, and how many. */
export interface Repeats {
  readonly at: Uint8Array;
  readonly count: number;
}

/**
 * The events of each part that say again what is already so. What is so is told by the channel:
 * another part of it may have changed the value in between. Parts without any are not in it.
 */
export function repeatsOf(score: Score): Map<Part, Repeats> {
  const byChannel = new Map<number, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part) || part.events.count === 0) continue;
    byChannel.set(part.channel, [...(byChannel.get(part.channel) ?? []), part]);
  }
  const out = new Map<Part, Repeats>();
  for (const parts of byChannel.values()) {
    const found = repeatsOn(parts);
    parts.forEach((part, p) => {
      if (found[p]!.count > 0) out.set(part, found[p]!);
    });
  }
  return out;
}

/** A slot for each kind of state, and for each number of it. */
const slotOf = (kind: number, number: number) => ((kind >> 4) & 7) * 128 + number;
const PROGRAM_SLOT = slotOf(0xc0, 0);

/** Of parts of one channel, in the order in which their events are heard. */
function repeatsOn(parts: readonly Part[]): Repeats[] {
  const found = parts.map((p) => ({ at: new Uint8Array(p.events.count), count: 0 }));
  const total = parts.reduce((n, p) => n + p.events.count, 0);
  const ticks = new Float64Array(total);
  const part = new Uint32Array(total);
  const index = new Uint32Array(total);
  let at = 0;
  // Of one tick the tracks follow each other as they stand.
  const order = parts.map((_, p) => p).sort((a, b) => parts[a]!.track - parts[b]!.track || a - b);
  for (const p of order) {
    const { tick, count } = parts[p]!.events;
    for (let i = 0; i < count; i++) {
      ticks[at] = tick[i]!;
      part[at] = p;
      index[at++] = i;
    }
  }
  const inForce = new Int16Array(8 * 128).fill(-1);
  const sorted = sortByKey(ticks);
  for (let n = 0; n < total; n++) {
    const k = sorted[n]!;
    const p = part[k]!;
    const { events } = parts[p]!;
    const i = index[k]!;
    const kind = events.kind[i]!;
    const number = kind === 0xb0 ? events.data1[i]! : 0;
    const state = kind === 0xb0 || kind === 0xc0 || kind === 0xe0;
    if (!state || (kind === 0xb0 && ALWAYS_NEWS.has(number))) {
      // A bank select makes the next program change news even with the same number.
      if (kind === 0xb0 && (number === 0 || number === 32)) inForce[PROGRAM_SLOT] = -1;
      if (kind === 0xb0 && number === 121) inForce.fill(-1);
      continue;
    }
    const slot = slotOf(kind, number);
    const value = kind === 0xb0 ? events.data2[i]! : events.data1[i]! * 128 + events.data2[i]!;
    if (inForce[slot] === value) {
      found[p]!.at[i] = 1;
      found[p]!.count++;
    } else inForce[slot] = value;
  }
  return found;
}
