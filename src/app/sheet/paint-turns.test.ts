import { expect, it } from 'vitest';
import type { CurveView, PartView } from '../../core/wire/view';
import type { Band, Row, SheetLayout } from './layout';
import type { PaintInput } from './paint-input';
import { paintTurns } from './paint-turns';

/** Four dense lamps on one row: strips of a few pixels, shaded by level. */
function painted(curves: readonly CurveView[]) {
  const rects: { x: number; y: number; w: number; h: number; alpha: number }[] = [];
  const context = {
    globalAlpha: 1,
    save() {},
    restore() {},
    fillRect(x: number, y: number, w: number, h: number) {
      rects.push({ x, y, w, h, alpha: this.globalAlpha });
    },
  };
  const row = { fromTick: 1000, toTick: 11_000 } as Row;
  const layout = { left: 10, pxPerTick: 0.05, headHeight: 30 } as SheetLayout;
  const turned = {
    presetName: () => null,
    hears: () => true,
    isSwitch: () => false,
    listens: true,
  };
  const part = {
    columns: { count: 0 },
    turns: { presets: { tick: new Int32Array() }, curves },
  } as unknown as PartView;
  const input = { context, layout, row, light: 'paper', turned } as unknown as PaintInput;
  paintTurns(input, { top: 0, height: 35, faint: false } as Band, part, '#000');
  return rects;
}
const curveOf = (number: number, points: readonly (readonly [number, number])[]): CurveView => ({
  kind: 0xb0,
  number,
  tick: Int32Array.from(points, ([tick]) => tick),
  value: Uint16Array.from(points, ([, value]) => value),
});
const still = [1, 2, 3].map((n) => curveOf(20 + n, [[0, 0]]));

it('a shade reaches from where a level begins to where it ends, also over the ends of the row', () => {
  const rects = painted([
    curveOf(20, [
      [0, 127],
      [3000, 0],
      [9000, 64],
    ]),
    ...still,
  ]);
  // Left is 10; 2,000 ticks are 100 pixels.
  expect(rects.map(({ x, w }) => [x, w])).toEqual([
    [10, 100],
    [410, 100],
  ]);
  expect(rects[0]!.alpha).toBe(1);
  expect(rects[1]!.alpha).toBeGreaterThan(0.5);
  expect(rects[1]!.alpha).toBeLessThan(0.65);
});

it('however dense, it is one rectangle for a pixel at most, on whole pixels, the last value holding', () => {
  const points = Array.from({ length: 20_000 }, (_, i) => [i, (i * 37) % 128] as const);
  const rects = painted([curveOf(20, [...points, [20_000, 127]]), ...still]);
  expect(rects.length).toBeGreaterThan(100);
  expect(rects.length).toBeLessThanOrEqual(500);
  rects.forEach((r, i) => {
    expect([r.x, r.y, r.w, r.h].every(Number.isInteger)).toBe(true);
    const before = rects[i - 1];
    if (before) expect(r.x).toBeGreaterThanOrEqual(before.x + before.w);
  });
});
