import * as z from 'zod';
import { BEND, CONTROL } from '../../reading/curves';
import { joinEvents, newEvents, pickEvents } from '../../score/columns';
import { isIn } from '../../score/score';
import { count } from '../../target/words';
import { mapTick } from '../../time/time-map';
import { defineStep, done, withScore } from '../define-step';
import { rawOf, sayWanted } from './change';
import { controllerNumber } from './wanted';

const tick = z.int().min(0).max(2_147_483_647);

const stretch = z.strictObject({
  fromTick: tick.describe('Ticks of the base, as all places of a plan'),
  toTick: tick.describe('Up to here, this tick not among them'),
  points: z
    .array(z.strictObject({ tick, value: z.int().min(0).max(16_383) }))
    .max(100_000)
    .describe('In order of time; none take what is there out'),
});

export const drawCurve = defineStep({
  id: 'draw-curve',
  reach: 'parts',
  title: 'Draw a curve',
  summary:
    'Puts points in the place of what a curve has from one place to another: drawn, moved, typed, or turned by hand in a rehearsal.',
  params: z.strictObject({
    controller: controllerNumber.optional().describe('The controller; the bend where none is said'),
    stretches: z
      .array(stretch)
      .min(1)
      .max(5_000)
      .refine((all) => all.every((s, i) => i === 0 || all[i - 1]!.toTick <= s.fromTick), {
        error: 'The stretches stand in order and do not overlap.',
      })
      .describe('Each `fromTick`, `toTick` and `points`; what stands between them stays'),
  }),
  describe: (p) => {
    const what = sayWanted(
      p.controller === undefined ? { bend: true } : { controllers: [p.controller] },
    );
    const points = p.stretches.reduce((sum, s) => sum + s.points.length, 0);
    return `draw ${what}, ${count(points, 'point')}`;
  },
  apply({ piece, params, select }) {
    const { controller } = params;
    // What is drawn stays with its music: its ticks are those of the base.
    const here = (tick: number) => mapTick(piece.fromBase, tick);
    const stretches = params.stretches.map((s) => ({
      fromTick: here(s.fromTick),
      toTick: here(s.toTick),
      points: s.points.map((p) => ({ ...p, tick: here(p.tick) })),
    }));
    const kind = controller === undefined ? BEND : CONTROL;
    const full = kind === BEND ? 16_383 : 127;
    const points = stretches.flatMap((s) =>
      s.points
        .filter((p) => p.tick >= s.fromTick && p.tick < s.toTick)
        .sort((a, b) => a.tick - b.tick),
    );
    const chosen = piece.score.parts.filter((p) => isIn(p) && select.part(p));
    const is = (part: (typeof chosen)[number], i: number) =>
      part.events.kind[i] === kind &&
      (controller === undefined || part.events.data1[i] === controller);
    // A curve is drawn where it is; a new one on the first of the parts.
    const home =
      chosen.find((p) =>
        Array.from({ length: p.events.count }, (_, i) => i).some((i) => is(p, i)),
      ) ?? chosen[0];
    if (!home) return { refused: 'There is no part that the curve could stand on.' };
    let gone = 0;
    const parts = piece.score.parts.map((part) => {
      if (!chosen.includes(part) || part.channel !== home.channel) return part;
      const { events } = part;
      const kept: number[] = [];
      // Events and stretches stand in order of time.
      let at = 0;
      for (let i = 0; i < events.count; i++) {
        const t = events.tick[i]!;
        while (at < stretches.length && stretches[at]!.toTick <= t) at++;
        if (is(part, i) && at < stretches.length && t >= stretches[at]!.fromTick) gone++;
        else kept.push(i);
      }
      if (part !== home)
        return kept.length === events.count ? part : { ...part, events: pickEvents(events, kept) };
      const fresh = newEvents(points.length);
      points.forEach((p, i) => {
        const raw = rawOf(kind, controller ?? 0, Math.min(full, p.value));
        fresh.tick[i] = p.tick;
        fresh.kind[i] = raw.kind;
        fresh.data1[i] = raw.data1;
        fresh.data2[i] = raw.data2;
      });
      return { ...part, events: joinEvents([pickEvents(events, kept), fresh]) };
    });
    return done(withScore(piece, { parts }), {
      events: gone + points.length,
      eventWords: `events drawn, ${gone.toLocaleString('en-GB')} of them in the place of others`,
    });
  },
});
