import { HAIR, SpanList, defineRule, mend, says } from '../define-rule';
import { leaveOut } from '../../steps/routing';
import { lengthen } from '../../steps/spacing/lengthen';
import { plain } from '../../target/words';

export const shortest = defineRule({
  id: 'shortest-note',
  summary: 'The shortest note that the target notices.',
  story: {
    why: 'Pads and trigger clips write hits of a few ticks.',
    mends: 'They are lengthened, up to the next note on their key.',
  },
  block: 'length',
  reads: ['shortestMs'],
  phase: 'spacing',
  codes: {
    'too-short': says<{ count: number; name: string; shortest: string; least: string }>({
      title: 'Notes too short',
      wrong: (f, w) =>
        `${f.count} ${f.count === 1 ? w.note : w.notes} of “${f.name}” ${f.count === 1 ? 'lasts' : 'last'} under ${f.shortest} ms, the shortest ${f.least} ms.`,
      then: (_, w) => `${w.Target} does not notice a ${w.note} that short.`,
    }),
  },
  check({ heard, block, maps, report }) {
    const { shortestMs } = block;
    if (shortestMs === undefined) return;
    for (const part of heard()) {
      const places = new SpanList();
      let least = Infinity;
      for (let i = 0; i < part.notes.count; i++) {
        const ms = maps.clock.msAt(part.notes.end[i]!) - maps.clock.msAt(part.notes.start[i]!);
        if (ms >= shortestMs - HAIR) continue;
        places.add(part, i);
        least = Math.min(least, ms);
      }
      if (places.count === 0) continue;
      report({
        code: 'too-short',
        part,
        ...places.found,
        data: {
          count: places.count,
          name: part.name,
          shortest: plain(shortestMs),
          least: plain(least),
        },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { shortestMs },
        mends: [
          mend(`Lengthen them to ${plain(shortestMs)} ms`, lengthen, { shortestMs }, [part]),
          ...(places.count === part.notes.count
            ? [mend('Leave the part out', leaveOut, {}, [part])]
            : []),
        ],
      });
    }
  },
});
