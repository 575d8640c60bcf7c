import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import { recordingCanvas } from '../../../testing/canvas';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { laidSource } from '../../../testing/laid';
import { baseOf } from '../../core/plan/base';
import { runStep } from '../../core/plan/run-step';
import { curvesIn } from '../../core/reading/curves';
import { callStep } from '../../core/steps/define-step';
import { thinCurve } from '../../core/steps/curves/thin';
import { useCurveHand } from '../stores/curve-hand';
import { useJob } from '../stores/job';
import { thinnedBy } from '../../core/steps/curves/thinned';
import { drawLane, laneTick, laneValue, laneX, laneY, pointAt } from './draw-lane';

const view = { fromTick: 0, ticksPerPixel: 4, width: 800, height: 100 };
const dense = laidSource(
  song([
    conductor(),
    Array.from({ length: 4000 }, (_, i) => i).reduce(
      (t, i) => t.control(i, 9, 11, i % 128),
      new Track('Foot'),
    ),
  ]),
  builtIn('brine-box'),
);
const curve = dense.parts[0]!.turns!.curves[0]!;

describe('a lane', () => {
  it('places and points are each other’s inverse, within a pixel', () => {
    for (const tick of [0, 400, 2000]) expect(laneTick(view, laneX(view, tick))).toBe(tick);
    for (const value of [0, 1, 64, 127])
      expect(Math.abs(laneValue(view, laneY(view, value, 0xb0), 0xb0) - value)).toBeLessThan(2);
    const i = pointAt(view, curve, laneX(view, 1000), laneY(view, curve.value[1000]!, 0xb0))!;
    expect(Math.abs(curve.tick[i]! - 1000)).toBeLessThan(30);
    expect(pointAt(view, curve, laneX(view, 3999) + 400, 50)).toBeNull();
  });
  it('however dense, it draws a few shapes a pixel and no more', () => {
    const { context, shapes } = recordingCanvas();
    drawLane({
      ...{
        context,
        view,
        curve,
        name: 'Expression',
        ink: '#000',
        light: 'paper',
        bars: [{ tick: 0, bar: 1 }],
      },
      ...{
        range: null,
        spans: [],
        chosen: new Set(),
        held: [],
        stroke: [],
        sweep: null,
        thinned: null,
      },
    });
    expect(shapes.length).toBeGreaterThan(100);
    expect(shapes.length).toBeLessThan(4 * view.width);
  });
});

describe('thinning that is tried', () => {
  it('is what the step would do, point for point, and its error', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(40), fc.nat(127)), { minLength: 1, maxLength: 120 }),
        fc.nat(12),
        fc.option(fc.integer({ min: 2, max: 60 }), { nil: undefined }),
        (moves, within, perSecond) => {
          const foot = new Track('Foot');
          let tick = 0;
          for (const [by, value] of moves) foot.control((tick += by), 9, 11, value);
          const source = song([conductor(), foot]);
          const { clock, parts } = laidSource(source, builtIn('brine-box'));
          const shown = parts.find((p) => p.turns)!.turns!.curves[0]!;
          const params = { controllers: [11], within, ...(perSecond ? { perSecond } : {}) };
          const call = callStep(thinCurve, params);
          const base = baseOf(source);
          const run = runStep(base.rendition, call, base);
          const after = curvesIn(run.rendition.pieces[0]!.score.parts).find(
            (c) => c.number === 11,
          )!;
          const tried = thinnedBy(shown, within, perSecond, (t) => clock.msAt(t) * 1000);
          expect(Array.from(tried.tick, (t, i) => [t, tried.value[i]])).toEqual(
            [...after.tick].map((t, i) => [t, after.value[i]]),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
  it('draws a band about the curve and what would stay, a shape a pixel', () => {
    const { context, shapes } = recordingCanvas();
    const thinned = thinnedBy(curve, 3, undefined, (t) => t * 1000);
    expect(thinned.tick.length).toBeLessThan(curve.tick.length / 3);
    expect(thinned.error).toBeLessThanOrEqual(3);
    drawLane({
      ...{ context, view, curve, name: 'Expression', ink: '#000', light: 'paper', bars: [] },
      ...{ range: null, spans: [], chosen: new Set(), held: [], stroke: [], sweep: null, thinned },
    });
    const band = shapes.filter((s) => s.kind === 'fill' && s.width === 1 && s.height > 0);
    expect(band.length).toBeGreaterThan(view.width - 120);
    expect(shapes.length).toBeLessThan(6 * view.width);
  });
});

describe('a curve by hand', () => {
  beforeEach(async () => {
    setActivePinia(createPinia());
    await emptyBase();
  });
  it('what is done to one curve in a sitting is one step, undone as one; another curve is another', async () => {
    await openJob('demo-salt-in-the-wires', 'brine-box');
    const job = useJob();
    const part = job.shown!.delivered.parts.find((p) => p.name === 'Stomp')!;
    const hand = useCurveHand();
    const point = (tick: number, value: number) => ({
      fromTick: tick,
      toTick: tick + 1,
      points: [{ tick, value }],
    });
    const before = [...part.turns!.curves.find((c) => c.number === 11)!.tick];
    const [one, two] = [before[200]!, before[600]!];
    hand.put(part.ref, 0xb0, 11, point(one, 7), 'a');
    await atRest();
    hand.put(part.ref, 0xb0, 11, point(two, 8), 'b');
    await atRest();
    expect(job.plan!.now.steps).toMatchObject([
      {
        step: 'draw-curve',
        params: {
          controller: 11,
          stretches: [
            { fromTick: one, toTick: one + 1 },
            { fromTick: two, toTick: two + 1 },
          ],
        },
      },
    ]);
    const now = () =>
      job
        .shown!.delivered.parts.find((p) => p.name === 'Stomp')!
        .turns!.curves.find((c) => c.number === 11)!;
    const valueAt = (tick: number) => now().value[now().tick.indexOf(tick)];
    expect([valueAt(one), valueAt(two)]).toEqual([7, 8]);
    // What stands between the two is what it was.
    const between = [...now().tick].filter((t) => t > one && t < two);
    expect(between).toEqual(before.filter((t) => t > one && t < two));
    expect(between.length).toBeGreaterThan(100);
    hand.put(part.ref, 0xb0, 80, point(2500, 127), 'c');
    await atRest();
    expect(job.plan!.now.steps).toHaveLength(2);
    job.undo();
    job.undo();
    job.undo();
    await atRest();
    expect(job.plan!.now.steps).toEqual([]);
    expect([...now().tick]).toEqual(before);
  });
});
