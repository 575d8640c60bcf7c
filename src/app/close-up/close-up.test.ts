import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtInTargets } from '../../core/target/index';
import type { PartView } from '../../core/wire/view';
import {
  AXIS,
  endsOfChords,
  hitAt,
  idsIn,
  keyAt,
  onGrid,
  rowHeight,
  rowsFor,
  tickAt,
  xAt,
  yAt,
  type View,
} from './geometry';

type Row = [start: number, end: number, key: number];
function part(notes: Row[], seat: string | null = null): PartView {
  const sorted = [...notes].sort((a, b) => a[0] - b[0]);
  return {
    id: 'p',
    ref: { source: 'main', track: 'p', channel: 1, occurrence: 0 },
    name: 'Bells',
    track: 0,
    channel: 1,
    program: null,
    leftOut: false,
    seat,
    turns: null,
    lowest: Math.min(...notes.map((n) => n[2])),
    highest: Math.max(...notes.map((n) => n[2])),
    longest: Math.max(...notes.map((n) => n[1] - n[0])),
    columns: {
      key: 1,
      count: sorted.length,
      start: Int32Array.from(sorted, (n) => n[0]),
      end: Int32Array.from(sorted, (n) => n[1]),
      noteNumber: Uint8Array.from(sorted, (n) => n[2]),
      velocity: new Uint8Array(sorted.length).fill(90),
      id: Uint32Array.from(sorted, (_, i) => i + 1),
      origin: Uint32Array.from(sorted, (_, i) => i + 1),
    },
  };
}
const viewOf = (p: PartView, fromTick = 0): View => ({
  fromTick,
  ticksPerPixel: 4,
  width: AXIS + 500,
  height: 300,
  ...rowsFor([p], [0], null),
  front: [0],
  faint: [],
});
const anyNotes = fc.array(
  fc.tuple(fc.nat(1900), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 40, max: 80 })),
  { minLength: 1, maxLength: 30 },
);

describe('the close-up', () => {
  it('places and ticks, keys and rows are each other’s way back', () => {
    const v = viewOf(part([[0, 100, 60]]), 333);
    for (const tick of [333, 400, 2000]) expect(tickAt(v, xAt(v, tick))).toBe(tick);
    for (let key = v.highest; key > v.highest - v.rows; key--)
      expect(keyAt(v, yAt(v, key) + rowHeight(v) / 2)).toBe(key);
  });
  it('finds every note where it is drawn, and none where there is none', () => {
    fc.assert(
      fc.property(anyNotes, (list) => {
        const p = part(list.map(([start, length, key]): Row => [start, start + length, key]));
        const v = viewOf(p);
        for (let i = 0; i < p.columns.count; i++) {
          const x = (xAt(v, p.columns.start[i]!) + xAt(v, p.columns.end[i]!)) / 2;
          const y = yAt(v, p.columns.noteNumber[i]!) + rowHeight(v) / 2;
          const hit = hitAt(v, [p], x, y);
          expect(p.columns.noteNumber[hit!.index]).toBe(p.columns.noteNumber[i]);
        }
        expect(hitAt(v, [p], xAt(v, 2000), yAt(v, p.lowest - 2) + 1)).toBeNull();
        const all = idsIn(v, [p], { left: AXIS, right: v.width, top: 0, bottom: v.height });
        expect(all).toHaveLength(p.columns.count);
      }),
    );
  });
  it('the end of a long note lengthens it, the middle moves it', () => {
    const p = part([[0, 400, 60]]);
    const v = viewOf(p);
    const y = yAt(v, 60) + 2;
    expect(hitAt(v, [p], xAt(v, 398), y)).toMatchObject({ edge: true });
    expect(hitAt(v, [p], xAt(v, 200), y)).toMatchObject({ edge: false });
  });
  it('rows show what the seat has close by, and what it has not', () => {
    const target = builtInTargets.find((t) => t.id === 'bell-loft')!;
    const seat = target.seats[0]!.id;
    const { highest, rows, allowed } = rowsFor([part([[0, 1, 61]], seat)], [0], target);
    expect(allowed?.[61]).toBe(false);
    expect(highest - rows).toBeLessThan(60);
  });
  it('tops and bottoms of what begins together', () => {
    const p = part([
      [0, 10, 60],
      [0, 10, 64],
      [0, 10, 67],
      [100, 110, 62],
    ]);
    const all = new Set(p.columns.id);
    const keys = (which: 'top' | 'bottom') =>
      endsOfChords([p], all, which).map((id) => p.columns.noteNumber[id - 1]);
    expect(keys('top')).toEqual([67, 62]);
    expect(keys('bottom')).toEqual([60, 62]);
  });
  it('a grid is counted from the bar, not from the start of the song', () => {
    expect(onGrid(1009, 1000, 120)).toBe(1000);
    expect(onGrid(1061, 1000, 120)).toBe(1120);
    expect(onGrid(1009, 1000, 0)).toBe(1009);
  });
});
