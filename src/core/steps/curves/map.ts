import * as z from 'zod';
import { BEND, CONTROL } from '../../reading/curves';
import { newEvents, joinEvents, pickEvents } from '../../score/columns';
import type { EventColumns, Part } from '../../score/score';
import { changeParts, defineStep, done } from '../define-step';
import { controllerNumber } from './wanted';

export const mapCurve = defineStep({
  id: 'map-curve',
  reach: 'stretch',
  title: 'Send it as another controller',
  summary:
    'Sends a controller, the bend, or how hard notes are struck as another controller. What it was sent as goes, or stays beside it.',
  params: z.strictObject({
    of: z.enum(['controller', 'bend', 'velocity']).describe('What is sent'),
    from: controllerNumber.optional().describe('Of a controller its number'),
    to: controllerNumber,
    keep: z.boolean().optional().describe('What it was sent as stays too'),
  }),
  describe: (p) =>
    `${p.of === 'controller' ? `controller ${p.from ?? 0}` : p.of === 'bend' ? 'the bend' : 'velocity'} as controller ${p.to}${p.keep ? ', too' : ''}`,
  apply(input) {
    const { of, from = 0, to, keep } = input.params;
    let events = 0;
    let coarser = 0;
    const piece = changeParts(input, (part) => {
      const taken: number[] = [];
      const rows: [tick: number, value: number][] = [];
      if (of === 'velocity') rows.push(...velocities(part, input.select.at));
      else
        for (let i = 0; i < part.events.count; i++) {
          const { kind, data1, data2, tick } = part.events;
          const isOne = of === 'bend' ? kind[i] === BEND : kind[i] === CONTROL && data1[i] === from;
          if (!isOne || !input.select.at(tick[i]!)) continue;
          taken.push(i);
          if (of === 'bend' && data1[i] !== 0) coarser++;
          rows.push([tick[i]!, data2[i]!]);
        }
      if (rows.length === 0 || (of === 'controller' && from === to)) return part;
      events += rows.length;
      const gone = new Set(keep ? [] : taken);
      return { ...part, events: withValues(part.events, gone, to, rows) };
    });
    return done(piece, { events, eventWords: `events sent as controller ${to}` }, [
      { what: 'bends in fewer steps', count: coarser },
    ]);
  },
});

/** How hard notes are struck, of those struck together the hardest; a value that holds is not repeated. */
function velocities({ notes }: Part, at: (tick: number) => boolean): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i < notes.count; i++) {
    const tick = notes.start[i]!;
    if (!at(tick)) continue;
    const last = out.at(-1);
    if (last?.[0] === tick) last[1] = Math.max(last[1], notes.velocity[i]!);
    else out.push([tick, notes.velocity[i]!]);
  }
  return out.filter(([, value], i) => i === 0 || value !== out[i - 1]![1]);
}

export function withValues(
  events: EventColumns,
  gone: ReadonlySet<number>,
  controller: number,
  rows: readonly (readonly [tick: number, value: number])[],
): EventColumns {
  const kept: number[] = [];
  for (let i = 0; i < events.count; i++) if (!gone.has(i)) kept.push(i);
  const fresh = newEvents(rows.length);
  rows.forEach(([tick, value], i) => {
    fresh.tick[i] = tick;
    fresh.kind[i] = CONTROL;
    fresh.data1[i] = controller;
    fresh.data2[i] = value;
  });
  return joinEvents([pickEvents(events, kept), fresh]);
}
