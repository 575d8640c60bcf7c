import { refKey, type NoteAddress } from '../score/address';
import type { Piece } from '../score/piece';
import type { Part, PartRef } from '../score/score';
import { partFinder, type NoteIndex } from '../sources/note-index';
import type { Scope } from '../steps/call';
import type { Selection } from '../steps/define-step';
import { mapTick } from '../time/time-map';

/** What of a scope is not to be found. */
export interface Missing {
  readonly parts: readonly PartRef[];
  readonly notes: readonly NoteAddress[];
}

export const NOTHING_MISSING: Missing = { parts: [], notes: [] };

export interface Resolved {
  readonly select: Selection;
  readonly missing: Missing;
  /** Nothing of what it names is in this piece. */
  readonly empty: boolean;
}

/** Resolves a scope against a piece. Nothing is guessed: what is not found is listed. */
export function resolveScope(piece: Piece, scope: Scope, notes: NoteIndex): Resolved {
  const missingParts: PartRef[] = [];
  const missingNotes: NoteAddress[] = [];
  let parts: Set<Part> | null = null;
  const find = partFinder(piece.score.parts);
  if (scope.parts) {
    parts = new Set();
    for (const ref of scope.parts) {
      const part = find(ref);
      if (part) parts.add(part);
      else missingParts.push(ref);
    }
  }
  let ids: Map<number, number> | null = null;
  if (scope.notes) {
    ids = new Map();
    for (const [place, address] of scope.notes.entries()) {
      const id = notes(address);
      if (id === null) missingNotes.push(address);
      else ids.set(id, place);
    }
    // Chosen notes are of the parts that hold them, and of no others.
    parts = new Set([...(parts ?? piece.score.parts)].filter((p) => holds(p, ids!)));
  }
  const refs = parts && new Set([...parts].map((p) => refKey(p.ref)));
  const stretches = stretchesOf(piece, scope);
  const inTime = (tick: number) => {
    if (stretches === null) return true;
    for (const { fromTick, toTick } of stretches)
      if (tick >= fromTick && tick < toTick) return true;
    return false;
  };
  const select: Selection = {
    whole: ids === null && stretches === null,
    chosen: ids !== null,
    at: inTime,
    part: (part) => refs === null || refs.has(refKey(part.ref)),
    note: (part, i) =>
      inTime(part.notes.start[i]!) && (ids === null || ids.has(part.notes.origin[i]!)),
    place: (part, i) => ids?.get(part.notes.origin[i]!) ?? -1,
    find,
    origin: notes,
  };
  const missing = { parts: missingParts, notes: missingNotes };
  return { select, missing, empty: parts?.size === 0 };
}

function holds({ notes }: Part, ids: ReadonlyMap<number, number>): boolean {
  for (let i = 0; i < notes.count; i++) if (ids.has(notes.origin[i]!)) return true;
  return false;
}

/** Stretches on the ticks of the piece; null where the scope names none. */
function stretchesOf(piece: Piece, { fromTick, toTick, stretches, met }: Scope) {
  if (fromTick === undefined && toTick === undefined && !stretches) return null;
  const fromBase = met ? undefined : piece.fromBase;
  const all = stretches ?? [{ fromTick: fromTick ?? 0, toTick: toTick ?? null }];
  return all.map((s) => ({
    // The very start stays the start, with what sets up the piece there.
    fromTick: s.fromTick === 0 ? 0 : mapTick(fromBase, s.fromTick),
    toTick: s.toTick === null ? Infinity : mapTick(fromBase, s.toTick),
  }));
}
