import { count } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { firstTickOf } from '../../score/score';
import { gatherSetUp } from '../../steps/sound';

export const earlyEvents = defineRule({
  id: 'early-events',
  summary: 'No set-up on its way to the start: it stands at tick 0, or behind the lead-in.',
  story: {
    why: 'Set-up was recorded with the count-in, a moment behind the start.',
    mends: 'The events move to tick 0; no note hears a difference.',
  },
  block: 'start',
  reads: ['leadInBars', 'leadInMs'],
  phase: 'start',
  codes: {
    'event-early': says<{ name: string; countText: string; one: number }>({
      title: 'Events before the target is ready',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'stands' : 'stand'} inside the lead-in, behind tick 0.`,
      then: (_, w) =>
        `${w.Target} sets itself up at tick 0 and may pass over what comes before its start.`,
    }),
  },
  check({ heard, block, piece, maps, report }) {
    const { leadInBars = 0, leadInMs = 0 } = block;
    const until = Math.max(maps.bars.barStart(leadInBars), maps.clock.tickAt(leadInMs));
    const first = firstTickOf(piece.score);
    // Where the rest is still owed, the music itself stands there: that comes first.
    if (first === null || first < until) return;
    const before = {
      ...(leadInBars > 0 ? { beforeBars: leadInBars } : {}),
      ...(leadInMs > 0 ? { beforeMs: leadInMs } : {}),
    };
    for (const part of heard()) {
      const ticks = [...part.events.tick].filter((t) => t > 0 && t < until);
      if (ticks.length === 0) continue;
      report({
        code: 'event-early',
        severity: 'caution',
        part,
        spans: [...new Set(ticks)].slice(0, 200).map(spanAt),
        data: {
          name: part.name,
          countText: count(ticks.length, 'event'),
          one: ticks.length === 1 ? 1 : 0,
        },
        measured: { value: ticks[0]!, unit: 'ticks' },
        allowed: { beforeTick: until },
        mends: [mend('Move the events to the start', gatherSetUp, before, [part])],
      });
    }
  },
});
