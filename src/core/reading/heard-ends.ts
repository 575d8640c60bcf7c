import type { Delivery } from '../score/piece';
import { OFF_MISSING, type Part, type Score } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { linePartsOf } from './lines';

/** Where the notes of a part end for the far side; the part's own ends where nothing intervenes. */
export type HeardEnds = (part: Part) => Int32Array;

interface Laid {
  readonly score: Score;
  readonly delivery?: Pick<Delivery, 'layout'>;
}

/**
 * A note-off names a key and no note: on one line the far side gives it to the note that began
 * first. Where parts share a line, or a step made a note end before an earlier one of its key, notes
 * end otherwise than their columns say.
 */
export function heardEnds({ score, delivery }: Laid): HeardEnds {
  const layout = delivery?.layout ?? 'as-is';
  const laid = { score, delivery: { format: 1, fileName: '', ...delivery, layout } } as const;
  const others = new Map<Part, Int32Array>();
  for (const parts of linePartsOf(laid)) {
    if (parts.length === 1 && inTurn(parts[0]!)) continue;
    for (const [part, ends] of paired(parts)) others.set(part, ends);
  }
  return (part) => others.get(part) ?? part.notes.end;
}

/** Whether on each key notes end in the order in which they begin. */
function inTurn({ notes }: Part): boolean {
  const last = new Int32Array(128).fill(-1);
  for (let i = 0; i < notes.count; i++) {
    const key = notes.noteNumber[i]!;
    if (notes.end[i]! < last[key]!) return false;
    last[key] = notes.end[i]!;
  }
  return true;
}

function paired(parts: readonly Part[]): Map<Part, Int32Array> {
  const out = new Map(parts.map((p) => [p, Int32Array.from(p.notes.end)]));
  const byKey: { part: Part; i: number }[][] = Array.from({ length: 128 }, () => []);
  for (const part of parts)
    for (let i = 0; i < part.notes.count; i++) byKey[part.notes.noteNumber[i]!]!.push({ part, i });
  for (const notes of byKey) {
    if (notes.length < 2) continue;
    const startOf = ({ part, i }: (typeof notes)[number]) => part.notes.start[i]!;
    const ons = [...notes].sort((a, b) => startOf(a) - startOf(b));
    const offs = notes
      .filter(({ part, i }) => part.notes.offKind[i] !== OFF_MISSING)
      .map(({ part, i }) => ({
        tick: part.notes.end[i]!,
        empty: part.notes.end[i] === part.notes.start[i],
      }))
      // At one tick ends come before beginnings, and the end of a note of no length behind it.
      .sort((a, b) => a.tick - b.tick || Number(a.empty) - Number(b.empty));
    let open = 0;
    for (const { tick, empty } of offs) {
      const head = ons[open];
      if (!head) break;
      const start = startOf(head);
      if (start > tick || (start === tick && !empty)) continue; // it closes nothing
      out.get(head.part)![head.i] = tick;
      open++;
    }
    // What no note-off is left for sounds to the end of the track.
    for (const { part, i } of ons.slice(open))
      if (part.notes.offKind[i] !== OFF_MISSING) out.get(part)![i] = LATEST_TICK;
  }
  return out;
}
