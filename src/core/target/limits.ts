import type { Target } from './schema';

/** Keys that can be taken; what is absent does not limit. */
export interface Limits {
  lowest?: number;
  highest?: number;
  without?: number[];
  only?: number[];
}

/** The keys of the target and of the seat that a part takes; null where there is no limit. */
export function limitsFor(target: Target, part: { readonly seat: string | null }): Limits | null {
  const seat = target.seats.find((s) => s.id === part.seat);
  const own = seat?.kind === 'laneGroup' ? { only: seat.laneNotes } : seat?.accepts;
  const { lowest, highest, without, only } = target.notes ?? {};
  const out: Limits = {};
  const low = Math.max(lowest ?? 0, own && 'lowest' in own ? (own.lowest ?? 0) : 0);
  const high = Math.min(highest ?? 127, own && 'highest' in own ? (own.highest ?? 127) : 127);
  if (low > 0) out.lowest = low;
  if (high < 127) out.highest = high;
  if (without) out.without = [...without];
  const both = [only, own?.only].filter((l): l is number[] => l !== undefined);
  if (both.length > 0) out.only = both[0]!.filter((k) => both.every((l) => l.includes(k)));
  return Object.keys(out).length === 0 ? null : out;
}

/** The lowest and the highest key that a part can use on its seat; null where there is no limit. */
export function reachOf(
  target: Target,
  part: { readonly seat: string | null },
): { lowest: number; highest: number } | null {
  const limits = limitsFor(target, part);
  if (!limits) return null;
  const { only, lowest = 0, highest = 127 } = limits;
  return only?.length
    ? { lowest: Math.min(...only), highest: Math.max(...only) }
    : { lowest, highest };
}

/** The keys that a block of limits allows, as a table of 128. */
export function allowedKeys(limits: {
  lowest?: number | undefined;
  highest?: number | undefined;
  without?: readonly number[] | undefined;
  only?: readonly number[] | undefined;
}): boolean[] {
  const only = limits.only && new Set(limits.only);
  const without = new Set(limits.without ?? []);
  return Array.from(
    { length: 128 },
    (_, key) =>
      key >= (limits.lowest ?? 0) &&
      key <= (limits.highest ?? 127) &&
      !without.has(key) &&
      (only?.has(key) ?? true),
  );
}
