import type { Mend } from '../finding';
import type { Part } from '../../score/score';

/** An event of a channel: of which part, and where in it. */
interface OnChannel {
  readonly part: Part;
  readonly index: number;
  readonly tick: number;
}

/** Events of the parts of a channel that a rule looks at, in order of time; tracks as they stand. */
export function eventsOn(parts: readonly Part[], wanted: (kind: number, data1: number) => boolean) {
  const out: OnChannel[] = [];
  for (const part of [...parts].sort((a, b) => a.track - b.track)) {
    const { events } = part;
    for (let index = 0; index < events.count; index++)
      if (wanted(events.kind[index]!, events.data1[index]!))
        out.push({ part, index, tick: events.tick[index]! });
  }
  return out.sort((a, b) => a.tick - b.tick);
}

/** The parts of a channel as one: who sets it up, how it is called, which of them a finding names. */
export function channelOf(parts: readonly Part[]) {
  const [first] = [...parts].sort((a, b) => a.track - b.track);
  const name = parts
    .slice(0, 3)
    .map((p) => p.name)
    .join(' + ');
  return {
    first: first!,
    others: parts.filter((p) => p !== first),
    named: {
      cause: `channel ${first!.channel}`,
      ...(parts.length === 1 ? { part: first! } : {}),
    },
    name: parts.length > 3 ? `${name} and ${parts.length - 3} more` : name,
    seat: parts.find((p) => p.seat !== null)?.seat ?? null,
    notes: parts.reduce((n, p) => n + p.notes.count, 0),
    firstNote: parts.reduce(
      (tick, p) => (p.notes.count > 0 ? Math.min(tick, p.notes.start[0]!) : tick),
      Infinity,
    ),
  };
}

/** One part says it for the whole channel, and the others of the channel no longer do. */
export const forChannel = (title: string, steps: Mend['steps'], quiet: Mend['steps']): Mend => ({
  title,
  steps: [...steps, ...quiet],
});
