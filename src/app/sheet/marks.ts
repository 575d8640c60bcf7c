import type { FindingView } from '../../worker/run-protocol';
import type { LaidPiece } from '../stores/job';
import { rowAt, xOf, type Band, type SheetLayout } from './layout';
import { placeOfNote } from './pick';

export interface Mark {
  readonly key: string;
  readonly x: number;
  readonly y: number;
  readonly row: number;
}

export interface FurtherPlace {
  readonly key: string;
  readonly severity: string;
  readonly x: number;
  readonly y: number;
  readonly row: number;
}

/** Where findings are marked: their own marks, their further places, those of the whole piece. */
export interface Marked {
  readonly marks: readonly Mark[];
  readonly further: readonly FurtherPlace[];
  readonly whole: readonly string[];
}

/** Marks are buttons of 24 px; they fan out to the right where several stand at one place. */
const APART = 26;
const MOST_FURTHER = 400;

export function marksOf(
  findings: readonly FindingView[],
  piece: LaidPiece,
  layout: SheetLayout,
  bands: readonly Band[],
): Marked {
  const marks: Mark[] = [];
  const further: FurtherPlace[] = [];
  const whole: string[] = [];
  const taken = new Map<number, { x: number; y: number }[]>();
  const partIndex = new Map(piece.parts.map((p, i) => [p.id, i]));
  for (const finding of findings) {
    const first = finding.spans[0];
    if (!first) {
      whole.push(finding.key);
      continue;
    }
    const row = rowAt(layout, first.fromTick);
    const part = finding.part === null ? undefined : partIndex.get(finding.part);
    let x = xOf(layout, row, first.fromTick);
    let y = row.top + layout.headHeight + 14;
    if (part !== undefined) {
      const note = firstNoteIn(piece, part, first.fromTick, finding.notes);
      if (note !== null) y = placeOfNote(layout, bands, part, first.fromTick, note).y + 2;
    }
    const lowest = row.top + layout.headHeight + layout.areaHeight - 14;
    y = Math.max(row.top + layout.headHeight + 13, Math.min(lowest, y));
    const others = taken.get(row.index) ?? [];
    const free = (at: { x: number; y: number }) =>
      !others.some((o) => Math.abs(o.x - at.x) < APART && Math.abs(o.y - at.y) < APART);
    const place = firstFree(
      { x, y },
      layout.width,
      { top: row.top + layout.headHeight + 13, lowest },
      free,
    );
    ({ x, y } = place);
    taken.set(row.index, [...others, place]);
    marks.push({ key: finding.key, x, y, row: row.index });
    for (const { fromTick } of finding.spans.slice(1, MOST_FURTHER)) {
      const at = rowAt(layout, fromTick);
      further.push({
        key: finding.key,
        severity: finding.severity,
        x: xOf(layout, at, fromTick),
        y: at.top + layout.headHeight - 3,
        row: at.index,
      });
    }
  }
  return { marks, further, whole };
}

/**
 * Where a mark may stand: to the right of its place, then a line below, line by line once round. A
 * row that is full has its marks on each other rather than none: every note has one.
 */
function firstFree(
  from: { x: number; y: number },
  width: number,
  { top, lowest }: { top: number; lowest: number },
  free: (at: { x: number; y: number }) => boolean,
): { x: number; y: number } {
  const rightmost = width - 14;
  const start = Math.min(from.x, rightmost);
  const lines = Math.max(1, Math.floor((lowest - top) / APART) + 1);
  for (let line = 0; line < lines; line++) {
    const below = from.y + line * APART;
    const y = below <= lowest ? below : top + ((below - top) % Math.max(APART, lowest - top));
    for (let x = line === 0 ? start : 14; x <= rightmost; x += APART)
      if (free({ x, y })) return { x, y };
  }
  return { x: start, y: from.y };
}

function firstNoteIn(
  piece: LaidPiece,
  part: number,
  tick: number,
  notes: Uint32Array,
): number | null {
  const { start, noteNumber, id, count } = piece.parts[part]!.columns;
  let low = 0;
  let high = count;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (start[mid]! < tick) low = mid + 1;
    else high = mid;
  }
  const named = notes.length > 0 && notes.length < 5000 ? new Set(notes) : null;
  for (let i = low; i < count && start[i] === tick; i++)
    if (!named || named.has(id[i]!)) return noteNumber[i]!;
  return null;
}
