import { sortByKey } from '../score/columns';
import { isIn, type Part, type Score } from '../score/score';

/** Controllers that trigger something each time, or whose meaning hangs on others, are kept. */
const ALWAYS_NEWS = new Set([
  0, 32, 6, 38, 96, 97, 98, 99, 100, 101, 120, 121, 122, 123, 124, 125, 126, 127,
]);

/**
 * Indices of the events of each part that say again what is already so. What is so is told by the
 * channel: another part of it may have changed the value in between.
 */
export function repeatsOf(score: Score): Map<Part, ReadonlySet<number>> {
  const byChannel = new Map<number, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part) || part.events.count === 0) continue;
    byChannel.set(part.channel, [...(byChannel.get(part.channel) ?? []), part]);
  }
  const out = new Map<Part, ReadonlySet<number>>();
  for (const parts of byChannel.values()) {
    const found = repeatsOn(parts);
    parts.forEach((part, p) => {
      if (found[p]!.size > 0) out.set(part, found[p]!);
    });
  }
  return out;
}

/** Of parts of one channel, in the order in which their events are heard. */
function repeatsOn(parts: readonly Part[]): Set<number>[] {
  const found = parts.map(() => new Set<number>());
  const total = parts.reduce((n, p) => n + p.events.count, 0);
  const ticks = new Float64Array(total);
  const part = new Uint32Array(total);
  const index = new Uint32Array(total);
  let at = 0;
  // Of one tick the tracks follow each other as they stand.
  const order = parts.map((_, p) => p).sort((a, b) => parts[a]!.track - parts[b]!.track || a - b);
  for (const p of order)
    for (let i = 0; i < parts[p]!.events.count; i++) {
      ticks[at] = parts[p]!.events.tick[i]!;
      part[at] = p;
      index[at++] = i;
    }
  const inForce = new Map<number, number>();
  for (const k of sortByKey(ticks)) {
    const { events } = parts[part[k]!]!;
    const i = index[k]!;
    const kind = events.kind[i]!;
    const number = kind === 0xb0 ? events.data1[i]! : 0;
    const state = kind === 0xb0 || kind === 0xc0 || kind === 0xe0;
    if (!state || (kind === 0xb0 && ALWAYS_NEWS.has(number))) {
      // A bank select makes the next program change news even with the same number.
      if (kind === 0xb0 && (number === 0 || number === 32)) inForce.delete(0xc0 * 256);
      if (kind === 0xb0 && number === 121) inForce.clear();
      continue;
    }
    const slot = kind * 256 + number;
    const value = kind === 0xb0 ? events.data2[i]! : events.data1[i]! * 128 + events.data2[i]!;
    if (inForce.get(slot) === value) found[part[k]!]!.add(i);
    else inForce.set(slot, value);
  }
  return found;
}
