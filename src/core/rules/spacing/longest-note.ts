import { HAIR, SpanList, defineRule, mend, says } from '../define-rule';
import { plain, sayMs } from '../../target/words';
import { shorten } from '../../steps/spacing/shorten';

export const longest = defineRule({
  id: 'longest-note',
  summary: 'The longest note that the target can sound.',
  story: {
    why: 'Held pads go to something that has breath for a moment.',
    mends: 'They are shortened to the longest that it can hold.',
  },
  block: 'length',
  reads: ['longestMs'],
  phase: 'spacing',
  codes: {
    'too-long': says<{ count: number; name: string; longest: string; most: string }>({
      title: 'Notes too long',
      wrong: (f, w) =>
        `${f.count} ${f.count === 1 ? w.note : w.notes} of “${f.name}” ${f.count === 1 ? 'lasts' : 'last'} over ${f.longest} ms, the longest ${f.most} ms.`,
      then: (_, w) => `${w.Target} cannot hold a ${w.note} that long.`,
    }),
  },
  check({ heard, block, maps, report }) {
    const { longestMs } = block;
    if (longestMs === undefined) return;
    for (const part of heard()) {
      const places = new SpanList();
      let most = 0;
      for (let i = 0; i < part.notes.count; i++) {
        const ms = maps.clock.msAt(part.notes.end[i]!) - maps.clock.msAt(part.notes.start[i]!);
        if (ms <= longestMs + HAIR) continue;
        places.add(part, i);
        most = Math.max(most, ms);
      }
      if (places.count === 0) continue;
      report({
        code: 'too-long',
        part,
        ...places.found,
        data: {
          count: places.count,
          name: part.name,
          longest: plain(longestMs),
          most: sayMs(most, longestMs),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { longestMs },
        mends: [
          mend(`Shorten them to ${plain(longestMs)} ms`, shorten, { until: 'longest', longestMs }, [
            part,
          ]),
        ],
      });
    }
  },
});
