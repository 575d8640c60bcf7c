import * as z from 'zod';
import { deliveredEnd } from '../../reading/ends';
import { newNotes } from '../../score/columns';
import { changeParts, defineStep, done } from '../define-step';
import { plain } from '../../target/words';
import { withValues } from './map';
import { controllerNumber } from './wanted';
import { firstAt } from './space';

const NO_NOTES = newNotes(0);

export const notesAsLevels = defineStep({
  id: 'notes-as-levels',
  reach: 'parts',
  title: 'Play notes as levels',
  summary:
    'Each key moves a controller: up to the velocity where a note begins, back to 0 where it ends, as fades.',
  params: z.strictObject({
    lowestKey: z.int().min(0).max(127).describe('The key of the first controller'),
    controllers: z.array(controllerNumber).min(1).max(128),
    attackMs: z.number().min(0).max(60_000).describe('From 0 up'),
    decayMs: z.number().min(0).max(60_000).describe('Back to 0'),
    perSecond: z.int().min(1).max(1000).describe('Values of one controller a second'),
  }),
  describe: (p) =>
    `notes from ${p.lowestKey} up as levels of ${p.controllers.length} controllers, up in ${plain(p.attackMs)} ms, down in ${plain(p.decayMs)} ms`,
  apply(input) {
    const { lowestKey, controllers, attackMs, decayMs, perSecond } = input.params;
    const { clock } = input.maps;
    const usAt = (tick: number) => Math.round(clock.msAt(tick) * 1000);
    const tickAt = (us: number) => clock.tickAt(us / 1000);
    const end = deliveredEnd(input.piece);
    const step = Math.ceil(1_000_000 / perSecond);
    let [played, beyond, events] = [0, 0, 0];
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      if (notes.count === 0) return part;
      const byController = new Map<number, number[]>();
      for (let i = 0; i < notes.count; i++) {
        const controller = controllers[notes.noteNumber[i]! - lowestKey];
        if (controller === undefined) beyond++;
        else {
          played++;
          byController.set(controller, [...(byController.get(controller) ?? []), i]);
        }
      }
      let next = part.events;
      for (const [controller, own] of byController) {
        const rows: [number, number][] = [];
        let value = 0;
        let free = -Infinity;
        /** Moves from the value of now to another in so long; what comes next cuts it short. */
        const move = (fromUs: number, to: number, ms: number, untilUs: number) => {
          const begin = value;
          const n = Math.max(1, Math.floor((ms * 1000) / step));
          for (let k = ms === 0 ? n : 0; k <= n; k++) {
            const us = Math.max(free, fromUs + (ms * 1000 * k) / n);
            if (us >= untilUs && untilUs !== Infinity) return;
            const level = Math.round(begin + ((to - begin) * k) / n);
            if (level === value) continue;
            const tick = Math.min(end, firstAt(us, tickAt, usAt));
            if (rows.at(-1)?.[0] === tick) rows.at(-1)![1] = level;
            else rows.push([tick, level]);
            value = level;
            free = us + step;
          }
        };
        own.forEach((i, n) => {
          const following = own[n + 1];
          const until = following === undefined ? Infinity : usAt(notes.start[following]!);
          const [on, off] = [usAt(notes.start[i]!), usAt(notes.end[i]!)];
          move(on, notes.velocity[i]!, attackMs, Math.min(until, Math.max(off, on + 1)));
          move(Math.max(off, on), 0, decayMs, until);
        });
        events += rows.length;
        next = withValues(next, new Set(), controller, rows);
      }
      return { ...part, notes: NO_NOTES, events: next };
    });
    return done(piece, { dropped: beyond, events, eventWords: 'values in the place of notes' }, [
      { what: 'notes without a controller', count: beyond },
      { what: 'notes played as levels', count: played },
    ]);
  },
});
