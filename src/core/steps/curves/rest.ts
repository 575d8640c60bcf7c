import * as z from 'zod';
import { deliveredEnd } from '../../reading/ends';
import { BEND } from '../../reading/curves';
import { plain } from '../../target/words';
import { defineStep, done } from '../define-step';
import { changeCurves, sayWanted, wants, type Point } from './change';
import { firstAt } from './space';
import { WANTED } from './wanted';

export const restCurve = defineStep({
  id: 'rest-curve',
  reach: 'parts',
  title: 'Rest at the end',
  summary: 'Sends one more value at the end of curves that would be left standing.',
  params: z.strictObject({
    ...WANTED,
    value: z.int().min(0).max(16_383),
    beforeEndMs: z.number().min(0).max(600_000).optional().describe('So long before the end'),
  }),
  describe: (p) => `${sayWanted(p)} at ${p.value} at the end`,
  apply(input) {
    const { value, beforeEndMs = 0 } = input.params;
    const end = deliveredEnd(input.piece);
    const { piece, added } = changeCurves(
      input,
      wants(input.params),
      (points, { usAt, tickAt }) => {
        const last = points.at(-1);
        if (!last || last.value === value) return null;
        const at = Math.min(
          end,
          Math.max(0, firstAt(usAt(end) - beforeEndMs * 1000, tickAt, usAt)),
        );
        return [...points, { tick: Math.max(last.tick, at), value }];
      },
    );
    return done(piece, { events: added, eventWords: 'events added at the end' });
  },
});

export const settleCurve = defineStep({
  id: 'settle-curve',
  reach: 'stretch',
  title: 'Settle before presets',
  summary:
    'What moves before a preset change reaches its last value earlier and rests while the preset loads.',
  params: z.strictObject({
    ...WANTED,
    settledMs: z.number().min(0).max(10_000).describe('Rest before a program change'),
  }),
  describe: (p) => `settle ${sayWanted(p)} ${plain(p.settledMs)} ms before presets`,
  apply(input) {
    const { settledMs } = input.params;
    const { piece, events, dropped } = changeCurves(
      input,
      wants(input.params),
      (points, { presets, usAt, tickAt }) => {
        const out: Point[] = [];
        let n = 0;
        let touched = false;
        for (let i = 0; i < points.length; i++) {
          const p = points[i]!;
          const us = usAt(p.tick);
          while (n < presets.length && presets[n]!.tick <= p.tick) n++;
          const next = presets[n];
          if (!next || us <= usAt(next.tick) - settledMs * 1000 || p.tick === 0) {
            out.push(p);
            continue;
          }
          touched = true;
          // The last of those inside stays, where the rest begins; never before the preset before.
          const following = points[i + 1];
          if (following && following.tick < next.tick) continue;
          const floor = Math.max(out.at(-1)?.tick ?? 0, (presets[n - 1]?.tick ?? -1) + 1);
          const wanted = usAt(next.tick) - settledMs * 1000;
          const first = wanted <= 0 ? 0 : firstAt(wanted, tickAt, usAt);
          const tick = Math.max(floor, usAt(first) > wanted ? first - 1 : first, 0);
          if (out.at(-1)?.tick === tick) out[out.length - 1] = { ...p, tick };
          else out.push({ ...p, tick });
        }
        return touched ? out : null;
      },
    );
    return done(piece, { events, eventWords: 'events settled' }, [
      { what: 'values before a preset', count: dropped },
    ]);
  },
});

export const curveSteps = defineStep({
  id: 'curve-steps',
  reach: 'stretch',
  title: 'Steps instead of ramps',
  summary: 'Brings a curve to a few levels: a value is sent when it comes to another of them.',
  params: z.strictObject({
    ...WANTED,
    levels: z.int().min(2).max(128).describe('Levels, from the lowest to the highest value'),
  }),
  describe: (p) => `${sayWanted(p)} in ${p.levels} levels`,
  apply(input) {
    const { levels } = input.params;
    let worst = 0;
    const { piece, events, dropped } = changeCurves(
      input,
      wants(input.params),
      (points, { kind, before }) => {
        const full = kind === BEND ? 16_383 : 127;
        const out: Point[] = [];
        let last = before;
        for (const p of points) {
          const level = Math.round((p.value * (levels - 1)) / full);
          const value = Math.round((level * full) / (levels - 1));
          worst = Math.max(worst, Math.abs(value - p.value));
          if (value === last) continue;
          out.push(value === p.value ? p : { ...p, value });
          last = value;
        }
        return out;
      },
    );
    return done(
      piece,
      { events, eventWords: `events brought to levels, the largest error ${worst}` },
      worst > 0 ? [{ what: 'values of curves', count: dropped }] : [],
    );
  },
});
