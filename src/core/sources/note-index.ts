import { refKey, samePart, type NoteAddress } from '../score/address';
import type { Part, PartRef, Score } from '../score/score';

/** Note ids by part, start and key; built once for a run. */
export type NoteIndex = (address: NoteAddress) => number | null;

export function indexNotes(source: Score): NoteIndex {
  const slots = new Map<Part, Map<number, number[]>>();
  const partIndex = (part: Part) => {
    const known = slots.get(part);
    if (known) return known;
    const made = new Map<number, number[]>();
    const { start, noteNumber, id, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const slot = start[i]! * 128 + noteNumber[i]!;
      const ids = made.get(slot);
      if (ids) ids.push(id[i]!);
      else made.set(slot, [id[i]!]);
    }
    slots.set(part, made);
    return made;
  };
  return (address) => {
    const part = findPart(source, address.part);
    if (!part) return null;
    const slot = address.startTick * 128 + address.noteNumber;
    return partIndex(part).get(slot)?.[address.occurrence] ?? null;
  };
}

/** Addresses of the notes whose ids, moved by an offset, are asked for. */
export function addressesIn(
  source: Score,
  ids: ReadonlySet<number>,
  offset: number,
): NoteAddress[] {
  const out: NoteAddress[] = [];
  for (const { ref: part, notes } of source.parts) {
    const seen = new Map<number, number>();
    for (let i = 0; i < notes.count; i++) {
      const startTick = notes.start[i]!;
      const noteNumber = notes.noteNumber[i]!;
      const slot = startTick * 128 + noteNumber;
      const occurrence = seen.get(slot) ?? 0;
      seen.set(slot, occurrence + 1);
      if (ids.has(notes.id[i]! + offset)) out.push({ part, startTick, noteNumber, occurrence });
    }
  }
  return out;
}

/**
 * The part that a reference means. In this order: the same name, channel and occurrence; the same
 * name and channel; the only part of that name; the only part on that channel where it has no name.
 */
export const findPart = (score: Score, ref: PartRef): Part | undefined =>
  score.parts.find((p) => samePart(p.ref, ref)) ?? likePart(score.parts, ref);

/** Of the same source alone: another source's part of that name is another part. */
export function likePart(parts: readonly Part[], ref: PartRef): Part | undefined {
  const there = parts.filter((p) => p.ref.source === ref.source);
  const named = there.filter((p) => p.ref.track === ref.track);
  const onChannel = named.filter((p) => p.ref.channel === ref.channel);
  if (onChannel.length > 0) return onChannel[0];
  if (ref.track !== '' && named.length === 1) return named[0];
  if (ref.track !== '') return undefined;
  const same = there.filter((p) => p.ref.channel === ref.channel);
  return same.length === 1 ? same[0] : undefined;
}

/** Parts by their references; thousands may be named at once, and the exact ones are looked up. */
export function partFinder(parts: readonly Part[]): (ref: PartRef) => Part | undefined {
  const exact = new Map(parts.map((p) => [refKey(p.ref), p]));
  return (ref) => exact.get(refKey(ref)) ?? likePart(parts, ref);
}
