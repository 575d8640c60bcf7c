import { describe, expect, it } from 'vitest';
import { steadied } from './steady';
import { warp } from './warp';

const HOP_MS = 40;

/**
 * Frames that are alike along a way and, as music in equal strokes is, along others that lie whole
 * strokes beside it; on one of those a little more in some stretches.
 */
function strokes(n: number, m: number, way: (i: number) => number, stroke: number) {
  const alike = new Float32Array(n * m).fill(-0.75);
  const put = (i: number, j: number, value: number) => {
    if (j >= 0 && j < m) alike[i * m + j] = value;
  };
  for (let i = 0; i < n; i++) {
    const lures = i % 300 > 100 && i % 300 < 260;
    for (const by of [-2, -1, 1, 2]) put(i, Math.round(way(i)) + by * stroke, 0.7);
    put(i, Math.round(way(i)), 1);
    if (lures) put(i, Math.round(way(i)) + stroke, 1.15);
  }
  return { alike, n, m };
}
const apart = (s: { score: Int32Array; sound: Int32Array }, way: (i: number) => number) =>
  Array.from(s.score, (i, k) => Math.abs(s.sound[k]! - way(i)));
const share = (offs: readonly number[], within: number) =>
  offs.filter((o) => o <= within).length / offs.length;

describe('a tempo that turns little by little', () => {
  it.each([
    ['is the same all along', (i: number) => 20 + i],
    ['runs six hundredths slower', (i: number) => 20 + 1.06 * i],
    ['wanders by six hundredths in 40 s', (i: number) => 20 + i + 9.5 * Math.sin(i / 159)],
  ])('%s: a stroke beside it that is more alike for a while is not taken', (_, way) => {
    const [n, m] = [900, 1010];
    const pairs = strokes(n, m, way, 5);
    const free = warp(pairs.alike, n, m, HOP_MS).stretches[0]!;
    // The free way does slip: else nothing would be shown here.
    expect(share(apart(free, way), 2)).toBeLessThan(0.7);
    const steady = steadied(free, pairs, HOP_MS, (way(n) - way(0)) / n);
    expect(steady.score).toEqual(free.score);
    expect(share(apart(steady, way), 2)).toBeGreaterThan(0.97);
  });

  it('too short a way stays as it is', () => {
    const pairs = strokes(60, 70, (i) => i + 4, 5);
    const free = warp(pairs.alike, 60, 70, HOP_MS).stretches[0]!;
    expect(steadied(free, pairs, HOP_MS, 1).sound).toEqual(free.sound);
  });
});
