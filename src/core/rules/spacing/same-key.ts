import { HAIR, SpanList, defineRule, mend, says } from '../define-rule';
import { causeOf, onlyPart } from './line-names';
import { givingElsewhere } from './give-elsewhere';
import { count, plain, sayMs } from '../../target/words';
import { oneLongNote } from '../../steps/spacing/repeats';
import { thin } from '../../steps/spacing/thin';

/** `at once`, `within 20 ms`, `within 20 to 140 ms`. */
function withinMs(least: number, most: number, needed: number): string {
  if (most < 0.0005) return 'at once';
  const [from, to] = [sayMs(least, needed), sayMs(most, needed)];
  const two = from === to ? to : `${from} to ${to}`;
  return `within ${two} ms`;
}

export const sameKey = defineRule({
  id: 'same-key',
  summary: 'Time before the same key may be struck again, start to start.',
  story: {
    why: 'Rolls and trills ask more of a hammer or a button than it can give.',
    mends:
      'Repeats that come too soon go to another octave or lane, become one hold, or are dropped, the beats last.',
  },
  block: 'spacing',
  reads: ['sameKeyApartMs'],
  phase: 'density',
  codes: {
    'same-key-soon': says<{
      countText: string;
      one: number;
      within: string;
      apart: string;
    }>({
      title: 'Key repeated too soon',
      wrong: (f) => `${f.countText} ${f.one ? 'follows' : 'follow'} the same key ${f.within}.`,
      then: (f, w) =>
        `${w.Target} needs ${f.apart} ms before the same key moves again; the second ${w.note} is lost.`,
    }),
  },
  check({ block, groups, maps, target, report }) {
    const apart = block.sameKeyApartMs;
    if (apart === undefined) return;
    for (const line of groups()) {
      const last = new Map<number, number>();
      const places = new SpanList();
      let least = Infinity;
      let most = 0;
      const { notes } = line;
      for (let i = 0; i < notes.count; i++) {
        const ms = maps.clock.msAt(notes.start[i]!);
        const before = last.get(notes.noteNumber[i]!);
        last.set(notes.noteNumber[i]!, ms);
        if (before === undefined || ms - before >= apart - HAIR) continue;
        places.addNote(notes, i);
        least = Math.min(least, ms - before);
        most = Math.max(most, ms - before);
      }
      if (places.count === 0) continue;
      const thinTo = (keep: 'beats' | 'first' | 'loudest') =>
        mend(
          keep === 'beats'
            ? 'Drop the repeats, keep the beats'
            : `Drop the repeats, keep the ${keep}`,
          thin,
          { apartMs: apart, per: 'key' as const, keep },
          line.parts,
        );
      report({
        code: 'same-key-soon',
        cause: causeOf(line),
        ...onlyPart(line),
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          within: withinMs(least, most, apart),
          apart: plain(apart),
        },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { sameKeyApartMs: apart },
        mends: [
          ...givingElsewhere(target, line, { apartMs: apart }),
          ...(target.chart?.holdMs === undefined
            ? []
            : [
                mend('Join repeated notes into holds', oneLongNote, { apartMs: apart }, line.parts),
              ]),
          thinTo('beats'),
          thinTo('first'),
          thinTo('loudest'),
        ],
      });
    }
  },
});
