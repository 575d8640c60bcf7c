import { HAIR, SpanList, defineRule, mend, says } from '../define-rule';
import { causeOf, onlyPart } from './line-names';
import { plain, sayMs } from '../../target/words';
import { thin } from '../../steps/spacing/thin';

export const apart = defineRule({
  id: 'distance',
  summary: 'Time between any two notes of a seat, start to start.',
  story: {
    why: 'Cues were placed by ear, two of them nearly at once.',
    mends: 'Of each crowd what is strongest in the bar stays, or the first, or the loudest.',
  },
  block: 'spacing',
  reads: ['apartMs'],
  phase: 'density',
  codes: {
    'too-close': says<{ count: number; apart: string; least: string }>({
      title: 'Notes too close together',
      wrong: (f, w) =>
        `${f.count} ${f.count === 1 ? w.note : w.notes} ${f.count === 1 ? 'comes' : 'come'} within ${f.apart} ms of the one before, the closest after ${f.least} ms.`,
      then: (f, w) =>
        `${w.Target} needs ${f.apart} ms between two ${w.notes} and passes over the later one.`,
    }),
  },
  check({ block, target, groups, maps, report }) {
    const { apartMs } = block;
    if (apartMs === undefined) return;
    for (const line of groups()) {
      const places = new SpanList();
      const { notes } = line;
      let least = Infinity;
      let before = -1;
      for (let i = 1; i < notes.count; i++) {
        // Notes struck together are judged by what may sound at once, where that is limited; each
        // of them is judged by what came before them all.
        if (!target.polyphony || notes.start[i] !== notes.start[i - 1]) before = i - 1;
        if (before < 0) continue;
        const gap = maps.clock.msAt(notes.start[i]!) - maps.clock.msAt(notes.start[before]!);
        if (gap >= apartMs - HAIR) continue;
        places.addNote(notes, i);
        least = Math.min(least, gap);
      }
      if (places.count === 0) continue;
      const thinTo = (keep: 'first' | 'loudest' | 'beats') =>
        mend(
          keep === 'beats' ? 'Keep the beats, drop the weakest' : `Keep the ${keep} of each crowd`,
          thin,
          { apartMs, per: 'seat' as const, keep, ...(target.polyphony ? {} : { chordsToo: true }) },
          line.parts,
        );
      report({
        code: 'too-close',
        cause: causeOf(line),
        ...onlyPart(line),
        ...places.found,
        data: { count: places.count, apart: plain(apartMs), least: sayMs(least, apartMs) },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { apartMs },
        mends: [thinTo('beats'), thinTo('first'), thinTo('loudest')],
      });
    }
  },
});
