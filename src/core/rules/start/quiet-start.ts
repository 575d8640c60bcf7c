import { firstTickOf } from '../../score/score';
import { gatherSetUp } from '../../steps/sound';
import { restAtStart } from '../../steps/timing/rest-at-start';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';

export const quietStart = defineRule({
  id: 'quiet-start',
  summary: 'Nothing is sent before the target is ready, but what stands at tick 0.',
  story: {
    why: 'The song begins at once, and the device is still waking up.',
    mends: 'What stands too early goes to tick 0, or everything later.',
  },
  block: 'start',
  reads: ['quietMs'],
  phase: 'start',
  codes: {
    'start-busy': says<{ countText: string; firstText: string; readyText: string; one: number }>({
      title: 'Events sent before the target is ready',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'stands' : 'stand'} before ${f.readyText} ms, the first at ${f.firstText} ms.`,
      then: (_, w) => `${w.Target} hears only what stands at the very start.`,
    }),
  },
  check({ heard, piece, block, maps, report }) {
    const { quietMs } = block;
    if (quietMs === undefined) return;
    const ticks: number[] = [];
    const early = (tick: number) => tick > 0 && maps.clock.msAt(tick) < quietMs - HAIR;
    for (const part of heard())
      for (let i = 0; i < part.events.count; i++) {
        const tick = part.events.tick[i]!;
        if (tick === 0) continue;
        if (!early(tick)) break;
        ticks.push(tick);
      }
    const note = firstTickOf(piece.score);
    const noteEarly = note !== null && maps.clock.msAt(note) < quietMs - HAIR;
    if (ticks.length === 0 && !noteEarly) return;
    const barMs = maps.clock.msAt(maps.bars.barStart(1));
    const first = Math.min(...ticks.slice(0, 1000), noteEarly ? note : Infinity);
    report({
      code: 'start-busy',
      spans: spansOf(noteEarly ? [...ticks, note] : ticks),
      data: {
        countText: count(ticks.length + (noteEarly ? 1 : 0), 'event'),
        firstText: plain(Math.round(maps.clock.msAt(first))),
        readyText: plain(quietMs),
        one: ticks.length + (noteEarly ? 1 : 0) === 1 ? 1 : 0,
      },
      measured: { value: maps.clock.msAt(first), unit: 'ms' },
      allowed: { quietMs },
      mends: [
        ...(noteEarly
          ? []
          : [mend('Send the events at the start', gatherSetUp, { beforeMs: quietMs })]),
        mend('Begin the music later', restAtStart, {
          bars: Math.max(1, Math.ceil(quietMs / barMs)),
        }),
      ],
    });
  },
});
