import { describe, expect, it } from 'vitest';
import { joinNotes } from '../../../core/score/columns';
import { notesOf } from '../../../core/steps/keys';
import type { NoteView } from '../../../core/wire/view';
import { cellsOf, loopNoteOf, patternOf } from './loop-pattern';

const view = (list: readonly (readonly [number, number, number, number])[]): NoteView => {
  let id = 0;
  const columns = joinNotes([
    notesOf(
      list.map(([start, end, key, velocity]) => [start, end, key, velocity, 0] as const),
      () => ++id,
    ),
  ]);
  return { ...columns, key: 1 };
};
const QUARTER = 480;

describe('a pattern from cells', () => {
  it('has a note for each cell that is set, in time', () => {
    const cells = new Map([
      [36, [100, 0, 0, 0, 0, 0, 0, 0]],
      [42, [64, 0, 64, 0, 0, 0, 0, 100]],
    ]);
    expect(patternOf(cells)).toEqual([
      { beat: 0, lengthBeats: 0.25, noteNumber: 36, velocity: 100 },
      { beat: 0, lengthBeats: 0.25, noteNumber: 42, velocity: 64 },
      { beat: 0.5, lengthBeats: 0.25, noteNumber: 42, velocity: 64 },
      { beat: 1.75, lengthBeats: 0.25, noteNumber: 42, velocity: 100 },
    ]);
    expect(patternOf(new Map([[36, [0, 0]]]))).toEqual([]);
  });
  it('is that of another part: each note at the nearest cell, the loudest of two', () => {
    const part = view([
      [1920, 2000, 36, 100],
      [1935, 1990, 36, 110],
      [2395, 2500, 38, 90],
      [3840, 3900, 36, 100],
    ]);
    const cells = cellsOf(part, 1920, QUARTER, 2, 12);
    expect([...cells]).toEqual([
      [36, [110, 0, 0, 0, 0, 0, 0, 0]],
      [38, [0, 0, 0, 0, 90, 0, 0, 0]],
    ]);
  });
  it('takes no more keys than there is room for', () => {
    const many = view(Array.from({ length: 20 }, (_, i) => [0, 100, 30 + i, 90] as const));
    expect(cellsOf(many, 0, QUARTER, 1, 12).size).toBe(12);
  });
});

describe('the note that stands for a loop', () => {
  it('is the one that most notes stand on, as long as half of them are held', () => {
    const part = view([
      [0, 1920, 60, 100],
      [1920, 3840, 60, 100],
      [3840, 4000, 62, 100],
    ]);
    expect(loopNoteOf(part, QUARTER)).toEqual({ key: 60, beats: 4 });
  });
  it('is never shorter than a quarter or longer than eight', () => {
    expect(loopNoteOf(view([[0, 10, 50, 90]]), QUARTER).beats).toBe(1);
    expect(loopNoteOf(view([[0, 99_999, 50, 90]]), QUARTER).beats).toBe(8);
  });
});
