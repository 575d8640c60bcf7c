import type { Part } from '../score/score';
import { hearsCurves } from './hearing';
import type { Target } from './schema';

type Listening = Pick<Target, 'presets' | 'curves'>;

/** Whether a target turns anything by a kind of event; the number is that of a controller. */
export function turnsBy({ curves }: Listening): (kind: number, number: number) => boolean {
  const controllers = new Set(curves?.list.flatMap((c) => c.controllers ?? []));
  const bend = curves?.list.some((c) => c.bend) ?? false;
  return (kind, number) => (kind === 0xb0 && controllers.has(number)) || (kind === 0xe0 && bend);
}

/** Presets and values of a part that a target listens to; what only sets its channel up is neither. */
export function heardEvents(
  { events }: Pick<Part, 'events'>,
  target: Listening,
): { presets: number; values: number } {
  const turns = turnsBy(target);
  let [presets, values] = [0, 0];
  for (let i = 0; i < events.count; i++) {
    const kind = events.kind[i]!;
    if (kind === 0xc0 && target.presets) presets++;
    else if (turns(kind, events.data1[i]!)) values++;
  }
  return { presets, values };
}

/** How much there is in a part for a target: its notes, and what it hears beside them. */
export function heardIn(part: Pick<Part, 'events' | 'notes'>, target: Listening): number {
  if (!hearsCurves(target)) return part.notes.count;
  const { presets, values } = heardEvents(part, target);
  return part.notes.count + presets + values;
}
