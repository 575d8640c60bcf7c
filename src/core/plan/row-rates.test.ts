import { describe, expect, it } from 'vitest';
import {
  builtIn,
  conductor,
  renditionOf,
  song,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { baseOf } from './base';
import { runPlan } from './run';
import { rowRatesOf } from './row-rates';
import { rowRateSteps } from './made-by';
import { mapsOf } from '../score/inventory';
import { offRows } from '../reading/rows';
import type { PlanStep } from './plan';

const organ = builtIn('strip-organ');
const line = (everyTicks: number, many = 64, bpm = 120) => {
  const track = new Track('Front');
  for (let i = 0; i < many; i++) track.note(1, i * everyTicks, everyTicks - 20, 60 + (i % 8), 80);
  return song([conductor(bpm), track]);
};
const keyed = (steps: readonly { step: string; params: unknown }[]): PlanStep[] =>
  steps.map((s, i) => ({ ...s, key: `${i}`, scope: {}, on: true }));

describe('row rates', () => {
  const source = line(240, 64, 118);
  const piece = renditionOf(source, organ).pieces[0]!;
  const rates = rowRatesOf(piece, organ);

  it('has every rate of the target, slowest first, as it is and at a speed that suits it', () => {
    expect([...new Set(rates.map((r) => r.rate))]).toEqual(
      [...organ.grid!.rowsPerSecond!].sort((a, b) => a - b),
    );
    for (const r of rates.filter((x) => x.percent !== 100)) {
      const asIs = rates.find((x) => x.rate === r.rate && x.percent === 100)!;
      expect(r.mostMs).toBeLessThan(asIs.mostMs);
      expect(Math.abs(r.percent - 100)).toBeLessThanOrEqual(3);
    }
  });
  it.each(rates.map((r) => [`${r.rate} at ${r.percent} %`, r] as const))(
    '%s: length, drift and rows are those of the piece that its steps make',
    (_, rate) => {
      const steps = keyed(rate.steps);
      const { rendition, outcomes } = runPlan({
        base: baseOf(source),
        target: organ,
        plan: { steps },
      });
      expect(outcomes.map((o) => o.refused)).toEqual(steps.map(() => null));
      const made = rendition.pieces[0]!;
      const maps = mapsOf(made.score);
      const before = mapsOf(piece.score);
      const last = (p: typeof made, m: typeof maps) =>
        m.clock.msAt(Math.max(...p.score.parts.flatMap((x) => [...x.notes.start])));
      // A start moves to its row, by no more than was told.
      const shifted = last(made, maps) - (last(piece, before) * 100) / rate.percent;
      expect(Math.abs(shifted)).toBeLessThanOrEqual(rate.worstMs + 2);
      expect(rate.driftMs).toBeCloseTo(rate.lengthMs * (1 - rate.percent / 100), 0);
      expect(offRows(made, maps, rate.rate).notes).toHaveLength(0);
      expect(rate.fits).toBe(rate.rows <= (organ.grid!.mostRows ?? Infinity));
    },
  );
  it('of a target that keeps the clock, the speed stays', () => {
    const held = targetWith({
      grid: { rowsPerSecond: [4, 7] },
      clock: { of: 'every-note', shift: 'common', withinMs: 5 },
    });
    const all = rowRatesOf(renditionOf(source, held).pieces[0]!, held);
    expect(all.map((r) => [r.rate, r.percent])).toEqual([
      [4, 100],
      [7, 100],
    ]);
  });
  it('without rates there are none', () => {
    const plain = targetWith({});
    expect(rowRatesOf(renditionOf(source, plain).pieces[0]!, plain)).toEqual([]);
  });
});

describe('the steps that a choice of a rate made', () => {
  it('are found again, with the speed that was said for it, and nothing else', () => {
    const [faster] = rowRatesOf(renditionOf(line(233, 90, 97), organ).pieces[0]!, organ).filter(
      (r) => r.percent !== 100,
    );
    const own = keyed([
      { step: 'scale-tempo', params: { percent: 90 } },
      { step: 'metadata', params: { title: 'March' } },
      { step: 'quantise', params: { everyTicks: 120 } },
      ...(faster?.steps ?? []),
    ]);
    const found = rowRateSteps(own);
    expect(found.map((s) => s.step)).toEqual(faster ? ['scale-tempo', 'metadata', 'quantise'] : []);
    expect(found).not.toContain(own[0]);
  });
});
