import * as z from 'zod';
import { defineStep, done } from '../define-step';
import { changeCurves, sayWanted, wants, type Point } from './change';
import { atRate, heldError, lineError, linesWithin, restingWithin, stepsWithin } from './simplify';
import { WANTED } from './wanted';

export const thinCurve = defineStep({
  id: 'thin-curve',
  reach: 'stretch',
  title: 'Thin a curve',
  summary:
    'Leaves the fewest points whose values stay within an error of the curve, and no more of them a second than are taken. The largest error is told.',
  params: z.strictObject({
    ...WANTED,
    within: z.number().min(0).max(8192).describe('How far a value may stand from what it was'),
    line: z
      .enum(['held', 'straight'])
      .optional()
      .describe('Values are held until the next, or the far side glides between them'),
    rests: z
      .boolean()
      .optional()
      .describe('What is held for a quarter of a second keeps its value'),
    perSecond: z.int().min(1).max(10_000).optional().describe('Values of each controller a second'),
  }),
  describe: (p) =>
    `thin ${sayWanted(p)} within ${p.within}${p.line === 'straight' ? ', by straight lines' : ''}${p.rests ? ', as it is at rest' : ''}${
      p.perSecond ? `, ${p.perSecond} a second` : ''
    }`,
  apply(input) {
    const { within, line, perSecond } = input.params;
    let worst = 0;
    const changed = changeCurves(input, wants(input.params), (points, { usAt, before }) => {
      if (points.length === 0) return null;
      const thinned =
        line === 'straight'
          ? linesWithin(points, within).points
          : held(points, within, before, input.params.rests ? usAt : null);
      const rated = perSecond ? atRate(thinned, perSecond, usAt) : thinned;
      if (rated.length === points.length && rated.every((p, i) => p === points[i])) return null;
      worst = Math.max(
        worst,
        line === 'straight' ? lineError(points, rated) : heldError(points, rated),
      );
      return rated;
    });
    const { piece, events, dropped } = changed;
    return done(
      piece,
      {
        events,
        eventWords: `events thinned, the largest error ${Math.round(worst * 100) / 100}`,
      },
      worst > 0 ? [{ what: 'values of curves', count: dropped }] : [],
    );
  },
});

/** What says what holds already is not sent again. */
function held(
  points: readonly Point[],
  within: number,
  before: number | null,
  usAt: ((tick: number) => number) | null,
): readonly Point[] {
  const out = usAt ? restingWithin(points, within, usAt) : stepsWithin(points, within).points;
  const [first] = out;
  return within === 0 && first && before === first.value ? out.slice(1) : out;
}
