import { describe, expect, it } from 'vitest';
import {
  bothEdits,
  copyPoints,
  movePoints,
  pastePoints,
  pointsIn,
  putPoint,
  rampBetween,
  strokeOf,
  takePoints,
  valueAt,
  withStretch,
} from './curve-edit';

const curve = {
  tick: Int32Array.of(0, 100, 200, 300, 400),
  value: Uint16Array.of(10, 20, 30, 40, 50),
};
const C = 0xb0;
const said = (e: ReturnType<typeof takePoints>) =>
  e && `${e.fromTick}–${e.toTick} ${e.points.map((p) => `${p.tick}:${p.value}`).join(' ')}`;

describe('a curve changed by hand', () => {
  it('points move past others, within their bounds; what lies between stays', () => {
    expect(said(movePoints(curve, C, new Set([1]), 150, 5))).toBe('100–251 200:30 250:25');
    expect(said(movePoints(curve, C, new Set([0, 4]), -50, 90))).toBe(
      '0–401 0:100 100:20 200:30 300:40 350:127',
    );
    expect(movePoints(curve, C, new Set(), 5, 5)).toBeNull();
  });
  it('copied points keep their distances, and are laid over what stood there', () => {
    const points = copyPoints(curve, new Set([3, 1]));
    expect(points).toEqual([
      { tick: 0, value: 20 },
      { tick: 200, value: 40 },
    ]);
    expect(said(pastePoints(C, { points, full: 127 }, 1000))).toBe('1000–1201 1000:20 1200:40');
    // Another kind of curve has them as high, by its own range.
    expect(said(pastePoints(0xe0, { points, full: 127 }, 0))).toBe('0–201 0:2580 200:5160');
    expect(pastePoints(C, { points: [], full: 127 }, 0)).toBeNull();
  });
  it('points go; one more is put', () => {
    expect(said(takePoints(curve, new Set([1, 3])))).toBe('100–301 200:30');
    expect(said(putPoint(C, 150, 200))).toBe('150–151 150:127');
    expect(said(putPoint(0xe0, 150, 20_000))).toBe('150–151 150:16383');
  });
  it('a stroke has a point in each slot, none that says nothing, and its last value', () => {
    const path = [
      { tick: 0, value: 0 },
      { tick: 100, value: 50 },
      { tick: 160, value: 50 },
      { tick: 205, value: 60 },
    ];
    expect(said(strokeOf(C, path, 50))).toBe('0–206 0:0 50:25 100:50 200:59 205:60');
    expect(strokeOf(C, [], 50)).toBeNull();
  });
  it('drawn backwards it is the same', () => {
    const path = [
      { tick: 200, value: 60 },
      { tick: 0, value: 20 },
    ];
    expect(said(strokeOf(C, path, 100))).toBe('0–201 0:20 100:40 200:60');
  });
  it('a ramp goes from the first to the last of the chosen', () => {
    expect(said(rampBetween(curve, C, new Set([0, 2, 4]), 100))).toBe(
      '0–401 0:10 100:20 200:30 300:40 400:50',
    );
    expect(rampBetween(curve, C, new Set([2]), 100)).toBeNull();
  });
  it('a box chooses, a tick has the value that holds', () => {
    expect(pointsIn(curve, 100, 300, 25, 127)).toEqual([2, 3]);
    expect([valueAt(curve, -1), valueAt(curve, 0), valueAt(curve, 199)]).toEqual([null, 10, 20]);
  });
  it('two changes in a sitting are one', () => {
    const first = {
      fromTick: 0,
      toTick: 201,
      points: [
        { tick: 0, value: 1 },
        { tick: 200, value: 2 },
      ],
    };
    const then = { fromTick: 200, toTick: 301, points: [{ tick: 250, value: 9 }] };
    expect(said(bothEdits(first, then))).toBe('0–301 0:1 250:9');
  });
  it('two changes far from one another leave alone what stands between; one over both joins them', () => {
    const at = (tick: number, value: number) => ({
      fromTick: tick,
      toTick: tick + 1,
      points: [{ tick, value }],
    });
    const two = withStretch(withStretch([], at(400, 4)), at(0, 1));
    expect(two.map(said)).toEqual(['0–1 0:1', '400–401 400:4']);
    const over = { fromTick: 0, toTick: 400, points: [{ tick: 200, value: 9 }] };
    expect(withStretch(two, over).map(said)).toEqual(['0–401 200:9 400:4']);
    expect(withStretch(two, at(400, 7)).map(said)).toEqual(['0–1 0:1', '400–401 400:7']);
  });
});
