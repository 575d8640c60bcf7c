import * as z from 'zod';
import { plain } from '../../target/words';
import { defineStep, done } from '../define-step';
import { changeCurves, sayWanted, wants, type Point } from './change';
import { WANTED } from './wanted';

const ms = z.number().min(0).max(60_000).optional();

export const spaceCurve = defineStep({
  id: 'space-curve',
  reach: 'stretch',
  title: 'Space values of a curve',
  summary:
    'Moves values that come too soon, or while a preset loads, to the first moment at which they are heard. Of several that would meet there the last stays.',
  params: z.strictObject({
    ...WANTED,
    apartMs: ms.describe('From one value of a controller to the next'),
    afterPresetMs: ms.describe('Behind a program change'),
    startMs: ms.describe('What stands behind tick 0 comes at this time or later'),
  }),
  describe: (p) =>
    `space ${sayWanted(p)}${p.apartMs === undefined ? '' : ` ${plain(p.apartMs)} ms apart`}${
      p.afterPresetMs === undefined ? '' : `, ${plain(p.afterPresetMs)} ms behind a preset`
    }${p.startMs === undefined ? '' : `, from ${plain(p.startMs)} ms on`}`,
  apply(input) {
    const { apartMs = 0, afterPresetMs = 0, startMs = 0 } = input.params;
    let moved = 0;
    let most = 0;
    const changed = changeCurves(
      input,
      wants(input.params),
      (points, { presets, exactUs: usAt, tickAt }) => {
        const loads = presets.map((p) => ({
          from: usAt(p.tick),
          to: usAt(p.tick) + afterPresetMs * 1000,
        }));
        const out: Point[] = [];
        let free = -Infinity;
        let load = 0;
        for (const p of points) {
          // What would wait behind another that waits takes its place.
          const waiting = out.at(-1);
          if (waiting && waiting.tick > p.tick) {
            out[out.length - 1] = { ...p, tick: waiting.tick };
            continue;
          }
          let us = Math.max(usAt(p.tick), free);
          // What leaves the very start comes when the target is ready, not before.
          if (p.tick > 0 || us > 0) us = Math.max(us, startMs * 1000);
          for (;;) {
            while (load < loads.length && loads[load]!.to <= us + HAIR_US) load++;
            const own = loads[load];
            if (!own || us < own.from) break;
            us = Math.max(own.to, startMs * 1000);
          }
          const was = usAt(p.tick);
          if (us <= was + HAIR_US) {
            out.push(p);
            free = was + apartMs * 1000;
            continue;
          }
          const tick = firstAt(us, tickAt, usAt);
          most = Math.max(most, usAt(tick) - was);
          moved++;
          out.push({ ...p, tick });
          free = usAt(out.at(-1)!.tick) + apartMs * 1000;
        }
        return out;
      },
    );
    const { piece, dropped } = changed;
    return done(
      piece,
      {
        events: moved,
        eventWords: `events moved, by ${plain(Math.round(most / 100) / 10)} ms at most`,
      },
      [{ what: 'values that were not heard in time', count: dropped }],
    );
  },
});

/** What a clock that is not rounded may be off by, in µs; rules allow a thousandth of a µs. */
const HAIR_US = 1e-4;

/** The first whole tick at which the clock is there. */
export function firstAt(
  us: number,
  tickAt: (us: number) => number,
  usAt: (tick: number) => number,
): number {
  let tick = Math.max(0, Math.floor(tickAt(us)) - 1);
  while (usAt(tick) < us - HAIR_US) tick++;
  return tick;
}
