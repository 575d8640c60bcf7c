import { refKey, samePart, type NoteAddress, type Piece, type Scope } from './model';
import type { PartRef, Score } from '../score/score';
import type { Part } from '../score/score';
import type { Selection } from '../steps/define-step';

/** What of a scope is not to be found in the piece. */
export interface Missing {
  readonly parts: readonly PartRef[];
  readonly notes: readonly NoteAddress[];
}

/** Note ids of a source, by part, start and key; built once for a run. */
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

/**
 * The part that a reference means. In this order: the same name, channel and occurrence; the same
 * name and channel; the only part of that name; the only part on that channel where it has no name.
 */
export const findPart = (score: Score, ref: PartRef): Part | undefined =>
  score.parts.find((p) => samePart(p.ref, ref)) ?? likePart(score, ref);

function likePart(score: Score, ref: PartRef): Part | undefined {
  const named = score.parts.filter((p) => p.ref.track === ref.track);
  const onChannel = named.filter((p) => p.ref.channel === ref.channel);
  if (onChannel.length > 0) return onChannel[0];
  if (ref.track !== '' && named.length === 1) return named[0];
  if (ref.track !== '') return undefined;
  const there = score.parts.filter((p) => p.ref.channel === ref.channel);
  return there.length === 1 ? there[0] : undefined;
}

/** Resolves a scope against a piece. Nothing is guessed: what is not found is listed. */
export function resolveScope(
  piece: Piece,
  scope: Scope,
  notes: NoteIndex,
): { select: Selection; missing: Missing; empty: boolean } {
  const missingParts: PartRef[] = [];
  const missingNotes: NoteAddress[] = [];
  let parts: Set<Part> | null = null;
  if (scope.parts) {
    parts = new Set();
    // Thousands of parts may be named at once: the exact ones are looked up.
    const exact = new Map(piece.score.parts.map((p) => [refKey(p.ref), p]));
    for (const ref of scope.parts) {
      const part = exact.get(refKey(ref)) ?? likePart(piece.score, ref);
      if (part) parts.add(part);
      else missingParts.push(ref);
    }
  }
  let ids: Set<number> | null = null;
  if (scope.notes) {
    ids = new Set();
    for (const address of scope.notes) {
      const id = notes(address);
      if (id === null) missingNotes.push(address);
      else ids.add(id);
    }
  }
  const refs = parts && new Set([...parts].map((p) => refKey(p.ref)));
  const fromTick = scope.fromTick ?? 0;
  const toTick = scope.toTick ?? Infinity;
  const stretched = scope.fromTick !== undefined || scope.toTick !== undefined;
  const select: Selection = {
    whole: ids === null && !stretched,
    fromTick,
    toTick,
    part: (part) => refs === null || refs.has(refKey(part.ref)),
    note: (part, i) => {
      const start = part.notes.start[i]!;
      if (start < fromTick || start >= toTick) return false;
      return ids === null || ids.has(part.notes.origin[i]!);
    },
  };
  const empty = parts?.size === 0 || (ids !== null && ids.size === 0);
  return { select, missing: { parts: missingParts, notes: missingNotes }, empty };
}
