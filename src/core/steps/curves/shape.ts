import * as z from 'zod';
import { BEND } from '../../reading/curves';
import { plain } from '../../target/words';
import { defineStep, done } from '../define-step';
import { changeCurves, sayWanted, wants, type Course, type Point } from './change';
import { firstAt } from './space';
import { WANTED } from './wanted';

const perSecond = z.int().min(1).max(1000).describe('Values a second');

/** Whole values on the way from one to another, at a rate, the last of them the other. */
function* ramp(
  from: { us: number; value: number },
  to: { us: number; value: number },
  { usAt, tickAt }: Pick<Course, 'usAt' | 'tickAt'>,
  rate: number,
): Iterable<Point> {
  const steps = Math.max(1, Math.ceil(((to.us - from.us) * rate) / 1_000_000 - 1e-9));
  let [tick, value] = [-1, from.value];
  for (let k = 1; k <= steps; k++) {
    const share = k / steps;
    const at = firstAt(Math.round(from.us + (to.us - from.us) * share), tickAt, usAt);
    const next = Math.round(from.value + (to.value - from.value) * share);
    if (next === value || at <= tick) continue;
    [tick, value] = [at, next];
    yield { tick: at, value: next };
  }
  if (value !== to.value) yield { tick: firstAt(to.us, tickAt, usAt), value: to.value };
}

export const slewCurve = defineStep({
  id: 'slew-curve',
  reach: 'stretch',
  title: 'Fade instead of jump',
  summary:
    'Makes a fade of each move that is faster than the far side can follow, from where it began. The values that are reached stay.',
  params: z.strictObject({
    ...WANTED,
    fullMs: z.number().min(1).max(600_000).describe('From 0 to full'),
    perSecond,
  }),
  describe: (p) => `fade ${sayWanted(p)} in ${plain(p.fullMs)} ms from 0 to full`,
  apply(input) {
    const { fullMs, perSecond: rate } = input.params;
    const changed = changeCurves(input, wants(input.params), (points, course) => {
      const { kind, usAt, tickAt } = course;
      const full = kind === BEND ? 16_383 : 127;
      const usPer = (fullMs * 1000) / full;
      const out: Point[] = [];
      let value = course.before ?? 0;
      let free = 0;
      let touched = false;
      for (const [i, p] of points.entries()) {
        const at = Math.max(usAt(p.tick), p.tick === 0 ? 0 : free);
        const need = Math.abs(p.value - value) * usPer;
        if (p.tick === 0 || need <= 1_000_000 / rate || need <= usPer) {
          out.push(at === usAt(p.tick) ? p : { ...p, tick: firstAt(at, tickAt, usAt) });
          value = p.value;
          free = at;
          continue;
        }
        touched = true;
        const next = points[i + 1];
        const until = next ? usAt(next.tick) : Infinity;
        for (const step of ramp(
          { us: at, value },
          { us: at + need, value: p.value },
          course,
          rate,
        )) {
          // What comes next takes over from where the fade has come to.
          if (usAt(step.tick) >= until) break;
          out.push(step);
          value = step.value;
          free = usAt(step.tick);
        }
        if (next === undefined) continue;
      }
      return touched ? out : null;
    });
    return done(changed.piece, { events: changed.events, eventWords: 'events made fades' });
  },
});

export const rampJumps = defineStep({
  id: 'ramp-jumps',
  reach: 'stretch',
  title: 'Ramp jumps',
  summary: 'Leads up to each value that jumps too far, by values between that stand before it.',
  params: z.strictObject({
    ...WANTED,
    mostJump: z.int().min(1).max(16_383).describe('From one value to the next'),
    perSecond,
  }),
  describe: (p) => `ramp jumps of ${sayWanted(p)} over ${p.mostJump}`,
  apply(input) {
    const { mostJump, perSecond: rate } = input.params;
    let tight = 0;
    const changed = changeCurves(input, wants(input.params), (points, course) => {
      const { usAt, tickAt } = course;
      const gap = 1_000_000 / rate;
      const out: Point[] = [];
      let [value, since] = [course.before, 0];
      for (const p of points) {
        const at = usAt(p.tick);
        const jump = value === null ? 0 : Math.abs(p.value - value);
        if (value !== null && jump > mostJump && p.tick > 0) {
          const between = Math.ceil(jump / mostJump) - 1;
          const room = Math.floor((at - since) / gap) - (out.length === 0 ? 0 : 1);
          const n = Math.max(0, Math.min(between, room));
          if (n < between) tight++;
          for (let k = 1; k <= n; k++) {
            const tick = firstAt(Math.round(at - (n + 1 - k) * gap), tickAt, usAt);
            const step = Math.round(value + ((p.value - value) * k) / (n + 1));
            if (tick < p.tick && tick > (out.at(-1)?.tick ?? -1)) out.push({ tick, value: step });
          }
        }
        out.push(p);
        [value, since] = [p.value, at];
      }
      return out.length === points.length ? null : out;
    });
    return done(
      changed.piece,
      { events: changed.events, eventWords: 'values put between' },
      tight > 0 ? [{ what: 'jumps without the room for a ramp', count: tight }] : [],
    );
  },
});

export const smoothCurve = defineStep({
  id: 'smooth-curve',
  reach: 'stretch',
  title: 'Smooth a curve',
  summary: 'Each value becomes the mean of what was held around it. Points stay where they are.',
  params: z.strictObject({
    ...WANTED,
    overMs: z.number().min(1).max(10_000).describe('As long as the mean is taken over'),
  }),
  describe: (p) => `smooth ${sayWanted(p)} over ${plain(p.overMs)} ms`,
  apply(input) {
    const half = (input.params.overMs * 1000) / 2;
    let [changed, worst] = [0, 0];
    const result = changeCurves(input, wants(input.params), (points, { usAt }) => {
      const us = points.map((p) => usAt(p.tick));
      const area = new Float64Array(points.length + 1);
      for (let i = 0; i < points.length; i++)
        area[i + 1] =
          area[i]! + (i + 1 < points.length ? points[i]!.value * (us[i + 1]! - us[i]!) : 0);
      /** What was held from the first point up to a moment. */
      let k = 0;
      const until = (at: number): number => {
        while (k > 0 && us[k]! > at) k--;
        while (k + 1 < us.length && us[k + 1]! <= at) k++;
        return area[k]! + (at - us[k]!) * points[k]!.value;
      };
      return points.map((p, i) => {
        const [from, to] = [us[i]! - half, us[i]! + half];
        const value = Math.round((until(to) - until(from)) / (2 * half));
        const full = Math.max(0, Math.min(16_383, value));
        if (full === p.value) return p;
        changed++;
        worst = Math.max(worst, Math.abs(full - p.value));
        return { ...p, value: full };
      });
    });
    return done(result.piece, {
      events: changed,
      eventWords: `values smoothed, by ${worst} at most`,
    });
  },
});
