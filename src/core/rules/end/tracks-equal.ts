import { SpanList, defineRule, mend, says } from '../define-rule';
import { barsUntil } from './whole-bars';
import { plain } from '../../target/words';
import { setLength } from '../../steps/length';
import { trackEnds } from '../../reading/ends';

export const tracksEqual = defineRule({
  id: 'tracks-equal',
  summary: 'Every track ends at the same tick, and no note rings past the end of its track.',
  story: {
    why: 'Each track ends with its own last note.',
    mends: 'All tracks end at the common end, or notes are cut where their track ends.',
  },
  block: 'end',
  reads: ['tracksEqual', 'nothingPast'],
  phase: 'end',
  codes: {
    'tracks-unequal': says<{ first: string; last: string }>({
      title: 'Tracks of different lengths',
      wrong: (f) => `The tracks end between ${f.first} and ${f.last}.`,
      then: (_, w) => `${w.Target} starts each again at its own end, and they drift apart.`,
    }),
    'past-end': says<{ countText: string }>({
      title: 'Notes ring past the end of the track',
      wrong: (f) => `${f.countText} past the end of the track.`,
      then: (_, w) => `${w.Target} stops there and may leave them hanging.`,
    }),
  },
  check({ heard, block, piece, maps, report }) {
    const ends = trackEnds(piece);
    if (block.tracksEqual && ends.length > 1) {
      const first = ends.reduce((a, b) => Math.min(a, b));
      const last = ends.reduce((a, b) => Math.max(a, b));
      if (first !== last) {
        const say = (tick: number) => {
          const { whole, over } = barsUntil(maps, tick);
          return `${plain(whole + over)} bars`;
        };
        report({
          code: 'tracks-unequal',
          spans: [{ fromTick: first, toTick: last }],
          data: { first: say(first), last: say(last) },
          measured: { value: last - first, unit: 'ticks' },
          allowed: { tracksEqual: true },
          mends: [mend('End all tracks at the common end', setLength, {})],
        });
      }
    }
    if (!block.nothingPast) return;
    const places = new SpanList();
    let end = 0;
    for (const part of heard()) {
      const until = piece.score.tracks[part.track]?.endTick ?? 0;
      end = Math.max(end, until);
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.end[i]! > until) places.add(part, i);
    }
    if (places.count === 0) return;
    report({
      code: 'past-end',
      ...places.found,
      data: { countText: places.count === 1 ? 'One note sounds' : `${places.count} notes sound` },
      measured: { value: places.count, unit: 'notes' },
      allowed: { nothingPast: true },
      mends: end > 0 ? [mend('Cut the notes at the end', setLength, { tracksEnd: true })] : [],
      ...(end > 0 ? {} : { noMend: 'The track has no length: set one first.' }),
    });
  },
});
