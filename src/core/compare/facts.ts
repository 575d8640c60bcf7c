import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { KEPT_WITHIN_MS } from './by-id';
import type { Hearing } from '../target/hearing';

/** What the file itself says or decides: to correct it loses nothing. */
const DERIVED = new Set(['bpm', 'soundMs', 'rowsPerSecond']);

const bare = (text: string) => text.replace(/\s+/g, ' ').trim();

/**
 * What stands beside the notes and is not kept: captions (their words, and their time less the
 * common shift; line breaks are no words), flags of notes that are still there, what was told as
 * metadata. In words, one each; empty where all is kept. What is added is no loss.
 */
export function factsLost(
  before: readonly Piece[],
  after: readonly Piece[],
  commonShiftMs: number,
  hearing: Pick<Hearing, 'flag'>,
): string[] {
  const out: string[] = [];
  if (before.length === 1 && after.length === 1)
    out.push(...timesLost(before[0]!, after[0]!, commonShiftMs));
  const left = new Map<string, number>();
  const texts = (pieces: readonly Piece[]) =>
    pieces.flatMap((p) => (p.captions ?? []).map((c) => bare(c.text)));
  for (const text of texts(after)) left.set(text, (left.get(text) ?? 0) + 1);
  let captions = 0;
  for (const text of texts(before)) {
    const n = left.get(text) ?? 0;
    if (n === 0) captions++;
    else left.set(text, n - 1);
  }
  if (captions > 0) out.push(`${captions} captions`);

  const flagged = new Map<string, Set<number>>();
  const there = new Set<number>();
  for (const { flags = [], score } of after) {
    for (const { flag, notes } of flags)
      flagged.set(flag, new Set([...(flagged.get(flag) ?? []), ...notes]));
    if (before.some((p) => p.flags?.length))
      for (const { notes } of score.parts)
        for (let i = 0; i < notes.count; i++) there.add(notes.id[i]!);
  }
  let flags = 0;
  for (const p of before)
    for (const { flag, notes } of p.flags?.filter((f) => hearing.flag(f.flag)) ?? [])
      for (const id of notes) if (there.has(id) && !flagged.get(flag)?.has(id)) flags++;
  if (flags > 0) out.push(`${flags} flags`);

  out.push(...chainLost(before, after), ...strandsLost(before, after));
  before.forEach((piece, i) => {
    const now = (after[i] ?? after[0])?.delivery.metadata ?? {};
    for (const [key, value] of Object.entries(piece.delivery.metadata ?? {}))
      if (!DERIVED.has(key) && now[key as keyof typeof now] !== value)
        out.push(`${key} “${value}”`);
  });
  return out;
}

/** A chain as it is played: repeats written out. */
const played = (pieces: readonly Piece[]): string[] =>
  (pieces[0]?.chain ?? []).flatMap(({ pattern, repeats, shift, voices }) =>
    Array.from({ length: repeats }, () => `${pattern} ${shift} ${voices.join()}`),
  );

function chainLost(before: readonly Piece[], after: readonly Piece[]): string[] {
  const was = played(before);
  return was.length === 0 || was.join(';') === played(after).join(';') ? [] : ['the chain'];
}

function strandsLost(before: readonly Piece[], after: readonly Piece[]): string[] {
  const now = new Map(after.flatMap((p) => (p.strands ?? []).map((s) => [s.part, s] as const)));
  const changed = before
    .flatMap((p) => p.strands ?? [])
    .filter((s) => {
      const other = now.get(s.part);
      return !other || other.name !== s.name || other.kind !== s.kind || other.value !== s.value;
    });
  return changed.length > 0 ? [`what ${changed.length} strands were to be`] : [];
}

function timesLost(before: Piece, after: Piece, shiftMs: number): string[] {
  const a = before.captions ?? [];
  const b = after.captions ?? [];
  if (a.length === 0 || a === b || a.length !== b.length) return [];
  const clockA = mapsOf(before.score).clock;
  const clockB = mapsOf(after.score).clock;
  const moved = a.filter((c, i) => {
    const off = clockB.msAt(b[i]!.tick) - clockA.msAt(c.tick) - shiftMs;
    return Math.abs(off) > KEPT_WITHIN_MS + 1e-6;
  });
  return moved.length > 0 ? [`the time of ${moved.length} captions`] : [];
}
