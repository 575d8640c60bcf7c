import type { LaidPiece } from '../stores/job';
import { firstReaching, noteHeight, rowAt, xOf, yOf, type Band, type SheetLayout } from './layout';

export interface Picked {
  readonly part: number;
  readonly index: number;
}

const REACH_PX = 4;

/** The note at a point of the sheet, the nearest within reach; parts that are delivered first. */
export function noteAt(
  piece: LaidPiece,
  layout: SheetLayout,
  bands: readonly Band[],
  x: number,
  y: number,
): Picked | null {
  const found = notesIn(piece, layout, bands, {
    left: x - REACH_PX,
    right: x + REACH_PX,
    top: y - REACH_PX,
    bottom: y + REACH_PX,
  });
  return found[0] ?? null;
}

export interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** All notes that a box on the sheet touches, over as many rows as it spans. */
export function notesIn(
  piece: LaidPiece,
  layout: SheetLayout,
  bands: readonly Band[],
  box: Box,
): Picked[] {
  const out: Picked[] = [];
  const first = Math.max(0, Math.floor(box.top / layout.rowHeight));
  const last = Math.min(layout.rows.length - 1, Math.floor(box.bottom / layout.rowHeight));
  const order = [...bands].sort((a, b) => Number(a.faint) - Number(b.faint));
  for (let r = first; r <= last; r++) {
    const row = layout.rows[r]!;
    const areaTop = row.top + layout.headHeight;
    const fromTick = row.fromTick + (box.left - layout.left) / layout.pxPerTick;
    const toTick = row.fromTick + (box.right - layout.left) / layout.pxPerTick;
    for (const band of order) {
      const h = noteHeight(band);
      for (const part of band.parts) {
        const view = piece.parts[part]!;
        const { start, end, noteNumber, count } = view.columns;
        for (let i = firstReaching(view, fromTick); i < count; i++) {
          if (start[i]! > toTick || start[i]! >= row.toTick) break;
          if (end[i]! < fromTick || end[i]! < row.fromTick) continue;
          const top = areaTop + yOf(band, noteNumber[i]!);
          if (top <= box.bottom && top + h >= box.top) out.push({ part, index: i });
        }
      }
    }
  }
  return out;
}

/** Where a note stands on the sheet, for marks. */
export function placeOfNote(
  layout: SheetLayout,
  bands: readonly Band[],
  part: number,
  tick: number,
  noteNumber: number,
): { x: number; y: number } {
  const row = rowAt(layout, tick);
  const band = bands.find((b) => b.parts.includes(part)) ?? bands[0];
  const y = band ? yOf(band, noteNumber) : layout.areaHeight / 2;
  return { x: xOf(layout, row, tick), y: row.top + layout.headHeight + y };
}
