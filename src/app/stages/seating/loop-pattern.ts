import type { NoteView } from '../../../core/wire/view';

/** A cell of the grid: what is struck there, and how hard; 0 is nothing. */
export type Cells = ReadonlyMap<number, readonly number[]>;

export const STRENGTHS = [0, 100, 64] as const;
/** Cells of a quarter note. */
export const DIVIDE = 4;

export interface PatternNote {
  readonly beat: number;
  readonly lengthBeats: number;
  readonly noteNumber: number;
  readonly velocity: number;
}

/** The notes that the cells stand for, each a cell long. */
export function patternOf(cells: Cells): PatternNote[] {
  const out: PatternNote[] = [];
  for (const [noteNumber, row] of cells)
    row.forEach((velocity, i) => {
      if (velocity > 0)
        out.push({ beat: i / DIVIDE, lengthBeats: 1 / DIVIDE, noteNumber, velocity });
    });
  return out.sort((a, b) => a.beat - b.beat || a.noteNumber - b.noteNumber);
}

/** What is played in a stretch, as cells: each note at the nearest one. */
export function cellsOf(
  columns: NoteView,
  fromTick: number,
  quarter: number,
  beats: number,
  most: number,
): Map<number, number[]> {
  const out = new Map<number, number[]>();
  const width = beats * DIVIDE;
  for (let i = 0; i < columns.count; i++) {
    const cell = Math.round(((columns.start[i]! - fromTick) / quarter) * DIVIDE);
    if (cell < 0 || cell >= width) continue;
    const key = columns.noteNumber[i]!;
    if (!out.has(key) && out.size >= most) continue;
    const row = out.get(key) ?? Array.from({ length: width }, () => 0);
    row[cell] = Math.max(row[cell]!, columns.velocity[i]!);
    out.set(key, row);
  }
  return out;
}

/** The key that most notes of a part stand on, and how long they are held, in quarters. */
export function loopNoteOf(columns: NoteView, quarter: number): { key: number; beats: number } {
  const counts = new Uint32Array(128);
  for (let i = 0; i < columns.count; i++) counts[columns.noteNumber[i]!]!++;
  const key = counts.indexOf(Math.max(...counts));
  const lengths: number[] = [];
  for (let i = 0; i < columns.count; i++)
    if (columns.noteNumber[i] === key) lengths.push(columns.end[i]! - columns.start[i]!);
  lengths.sort((a, b) => a - b);
  const middle = (lengths[lengths.length >> 1] ?? quarter * 4) / quarter;
  return { key, beats: Math.max(1, Math.min(8, Math.round(middle))) };
}
