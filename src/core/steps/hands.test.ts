import { describe, expect, it } from 'vitest';
import { joinNotes } from '../score/columns';
import { handsOf } from './hands';
import { notesOf } from './keys';

type Row = readonly [start: number, length: number, key: number];
const columns = (rows: readonly Row[]) => {
  let id = 0;
  return joinNotes([
    notesOf(
      rows.map(([s, l, k]): [number, number, number, number, number] => [s, s + l, k, 80, ++id]),
      () => id,
    ),
  ]);
};

const SCALE = [0, 2, 4, 5, 7, 9, 11];
const degree = (d: number, octave: number) =>
  12 * (octave + 1 + Math.floor(d / 7)) + SCALE[((d % 7) + 7) % 7]!;

/** Pieces of our own whose hands are known, in the ways that keyboards are played. */
const STYLES: Record<string, (bar: number) => { left: Row[]; right: Row[] }> = {
  'broken chords under a line': (bar) => ({
    left: [0, 4, 2, 4, 0, 4, 2, 4].map((d, i): Row => [i * 240, 240, degree(d + (bar % 3), 3)]),
    right: [0, 1, 2, 4].map((d, i): Row => [i * 480, 470, degree(d + (bar % 5), 5)]),
  }),
  'a bass and chords above it': (bar) => ({
    left: [0, 1].flatMap((i): Row[] => [
      [i * 960, 400, degree((bar % 4) - 3, 2)],
      ...[0, 2, 4].map((d): Row => [i * 960 + 480, 400, degree(d + (bar % 4), 3)]),
    ]),
    right: [4, 5, 6, 7, 9, 7].map((d, i): Row => [i * 320, 300, degree(d, 4)]),
  }),
  'octaves in the left, thirds in the right': (bar) => ({
    left: [0, 1, 2, 3].flatMap((i): Row[] => [
      [i * 480, 460, degree(i + (bar % 2), 2)],
      [i * 480, 460, degree(i + (bar % 2), 3)],
    ]),
    right: [0, 1, 2, 3].flatMap((i): Row[] => [
      [i * 480, 460, degree(i + 3, 4)],
      [i * 480, 460, degree(i + 5, 4)],
    ]),
  }),
  'both close together in the middle': (bar) => ({
    left: [0, 2, 1, 3].map((d, i): Row => [i * 480, 460, degree(d, 3)]),
    right: [6, 8, 7, 9].map((d, i): Row => [i * 480, 460, degree(d + (bar % 2), 3)]),
  }),
  'the left holds while the right runs down': (bar) => ({
    left: [0, 4].map((d): Row => [0, 1900, degree(d + (bar % 3), 3)]),
    right: Array.from({ length: 8 }, (_, i): Row => [i * 240, 230, degree(12 - i, 4)]),
  }),
  'chords high up in the right alone, the left between them': (bar) => ({
    left: bar % 4 === 3 ? [0, 2, 4, 7].map((d, i): Row => [i * 480, 470, degree(d, 3)]) : [],
    right:
      bar % 4 === 3
        ? []
        : [0, 1, 2, 3].flatMap((i): Row[] =>
            [0, 2, 4].map((d): Row => [i * 480, 460, degree(d + i, 5)]),
          ),
  }),
  'the right climbs away and comes back': (bar) => ({
    left: [0, 2, 4, 2].map((d, i): Row => [i * 480, 460, degree(d, 3)]),
    right: Array.from({ length: 8 }, (_, i): Row => [
      i * 240,
      230,
      degree((bar % 4) * 2 + i + 2, 4),
    ]),
  }),
};

describe('who plays a note', () => {
  it.each(Object.keys(STYLES))('%s: at least 95 of 100 notes as they were played', (name) => {
    const rows: { row: Row; hand: number }[] = [];
    for (let bar = 0; bar < 24; bar++) {
      const { left, right } = STYLES[name]!(bar);
      for (const [hand, list] of [left, right].entries())
        for (const [start, length, key] of list)
          rows.push({ row: [start + bar * 1920, length, key], hand });
    }
    const notes = columns(rows.map((r) => r.row));
    const found = handsOf(notes);
    const meant = new Map(rows.map(({ hand }, i) => [i + 1, hand]));
    let right = 0;
    for (let i = 0; i < notes.count; i++) if (found[i] === meant.get(notes.origin[i]!)) right++;
    expect(right / notes.count).toBeGreaterThanOrEqual(0.95);
  });
  it('nothing at all, one note, and one chord of all keys end', () => {
    expect(handsOf(columns([]))).toHaveLength(0);
    expect([...handsOf(columns([[0, 100, 90]]))]).toEqual([1]);
    expect([...handsOf(columns([[0, 100, 30]]))]).toEqual([0]);
    const all = columns(Array.from({ length: 128 }, (_, k): Row => [0, 100, k]));
    expect(new Set(handsOf(all)).size).toBe(2);
  });
});
