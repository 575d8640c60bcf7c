import type { Hearing } from '../compare/channel-state';
import type { Target } from './schema';

/**
 * What a target hears beside the notes, by its own data: what it refuses cannot be lost on it, and
 * is listed where it is taken out.
 */
export function hearingOf({ chart, events = {}, velocity }: Target): Hearing {
  const { controllers, controllersWithout } = events;
  const listed = Array.isArray(controllers) ? new Set(controllers) : null;
  const without = new Set(controllersWithout);
  return {
    programs: events.programs !== 'none',
    bends: events.bends !== 'none',
    velocity: velocity?.deliveredAs === undefined,
    flag: (name) => chart?.flags?.includes(name) ?? true,
    controller: (number) =>
      controllers !== 'none' && (listed === null || listed.has(number)) && !without.has(number),
  };
}
