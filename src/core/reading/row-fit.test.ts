import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { rowFit, SPEED_PERCENT } from './row-fit';

/** Sixteenths at a tempo; every so often a triplet. */
function piece(bpm: number, notes: number, { divide = 4, jitter = 0 } = {}) {
  const track = new Track('Organ');
  for (let i = 0; i < notes; i++) {
    const off = Math.round(Math.sin(i * 12.9898) * jitter);
    track.note(1, Math.max(0, Math.round((i * 480) / divide) + off), 60, 60 + (i % 12), 90);
  }
  return renditionOf(song([conductor(bpm), track]), targetWith({ seats: [] })).pieces[0]!;
}

describe('rows and the speed that suits them', () => {
  it('finds the speed at which sixteenths are rows, to the end of a long piece', () => {
    // Sixteenths at 121.6 are 8.1067 a second: at 98.684 % they are eight.
    const fit = rowFit(piece(121.6, 2000), 8, true);
    expect(fit.percent).toBeCloseTo(98.684, 2);
    expect(fit.worstMs).toBeLessThan(4);
    expect(fit.clashes).toBe(0);
    expect(rowFit(piece(121.6, 2000), 8, false).mostMs).toBeGreaterThan(50);
  });
  it('triplets are seen: twelve rows, not eight', () => {
    const triplets = piece(120.9, 600, { divide: 6 });
    expect(rowFit(triplets, 12, true).worstMs).toBeLessThan(2);
    expect(rowFit(triplets, 8, true).clashes).toBeGreaterThan(100);
  });
  it('keeps the speed where it is well as it is, and never leaves the bounds', () => {
    expect(rowFit(piece(120, 500), 8, true).percent).toBe(100);
    for (const bpm of [61, 97, 133, 171])
      for (const rate of [4, 6, 8, 12]) {
        const { percent } = rowFit(piece(bpm, 300, { jitter: 9 }), rate, true);
        expect(Math.abs(percent - 100)).toBeLessThanOrEqual(SPEED_PERCENT + 0.01);
      }
  });
  it('a piece without notes, and one with one', () => {
    expect(rowFit(piece(120, 0), 8, true)).toMatchObject({ percent: 100, clashes: 0, worstMs: 0 });
    expect(rowFit(piece(120, 1), 8, true).percent).toBe(100);
  });
});
