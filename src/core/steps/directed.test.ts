import { describe, expect, it } from 'vitest';
import { conductor, rows, song, targetWith, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import type { PlanStep } from '../plan/plan';

const lanes = [41, 43, 45, 47, 49];
const line = (keys: readonly number[]) => {
  const track = new Track('Line');
  keys.forEach((key, i) => track.note(1, i * 480, 200, key, 80));
  return song([conductor(), track]);
};
const climbing = line([60, 62, 64, 65, 67, 69, 71, 72]);
const params = (by: string, directed: object[], more: object = {}) => ({
  lanes,
  by,
  ...more,
  directed,
});
const bar2 = { fromTick: 1920, toTick: 3840, order: [5, 1] };

testStep('lanes', [
  {
    name: 'a stretch by hand goes round in its order; the rest is laid as it was',
    source: climbing,
    params: params('keys', [bar2]),
    expect: (r) => {
      const laid = rows(r.pieces[0]!.score.parts[0]!.notes).map((n) => lanes.indexOf(n[2]!) + 1);
      expect(laid).toEqual([1, 2, 2, 3, 5, 1, 5, 1]);
    },
  },
  {
    name: 'a lane that the seat has not is refused',
    source: climbing,
    params: params('contour', [{ ...bar2, order: [1, 6] }]),
    refused: /no lane 6/,
  },
]);

const target = targetWith({ seats: [] });
const laidBy = (steps: readonly PlanStep[]) => {
  const { rendition } = runPlan({ base: baseOf(climbing), target, plan: { steps } });
  return rows(rendition.pieces[0]!.score.parts[0]!.notes).map((n) => lanes.indexOf(n[2]!) + 1);
};
const step = (key: string, name: string, p: unknown): PlanStep => ({
  key,
  step: name,
  params: p,
  scope: {},
  on: true,
});

describe('a stretch of lanes by hand', () => {
  it('leaves a shuffle outside of it as it was', () => {
    const shuffled = laidBy([step('l', 'lanes', params('shuffle', [], { seed: 9 }))]);
    const directed = laidBy([step('l', 'lanes', params('shuffle', [bar2], { seed: 9 }))]);
    expect(directed.slice(0, 4)).toEqual(shuffled.slice(0, 4));
    expect(directed.slice(4)).toEqual([5, 1, 5, 1]);
  });
  it('lets the contour go on from where it ended', () => {
    const bar1 = { fromTick: 0, toTick: 1920, order: [1] };
    const laid = laidBy([step('l', 'lanes', params('contour', [bar1]))]);
    expect(laid.slice(0, 5)).toEqual([1, 1, 1, 1, 2]);
  });
  it('stays with its music when a rest is put before it', () => {
    const rest = step('r', 'rest-at-start', { bars: 2 });
    const laid = step('l', 'lanes', params('keys', [bar2]));
    expect(laidBy([rest, laid])).toEqual(laidBy([laid]));
  });
});
