import type { Heard } from './listener';

/** Struck this close together is one chord to a listener. */
const TOGETHER_MS = 50;
const DRUMS = '#10';

export const isDrum = (h: Heard): boolean => h.part.endsWith(DRUMS);

/** The highest, or the lowest, pitched note of each moment at which something is struck. */
export function outerLine(all: readonly Heard[], side: 'highest' | 'lowest'): Heard[] {
  const out: Heard[] = [];
  let from = -Infinity;
  for (const h of all) {
    if (isDrum(h)) continue;
    const last = out.at(-1);
    if (!last || h.ms - from > TOGETHER_MS) {
      out.push(h);
      from = h.ms;
    } else if (side === 'highest' ? h.key > last.key : h.key < last.key) out[out.length - 1] = h;
  }
  return out;
}

export const onsets = (all: readonly Heard[]): Heard[] =>
  all.filter((h, i) => i === 0 || h.ms - all[i - 1]!.ms > 1);

/** The notes of some tracks, of each moment the highest. */
export const lineOf = (all: readonly Heard[], tracks: readonly string[]): Heard[] =>
  outerLine(
    all.filter((h) => tracks.some((t) => h.part.startsWith(`${t}#`))),
    'highest',
  );
