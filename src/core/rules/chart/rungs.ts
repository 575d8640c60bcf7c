import type { LineNotes } from '../../reading/lines';
import { SpanList, defineRule, mend, says, within } from '../define-rule';
import { Sounding } from '../../reading/sounding';
import { holdRules, reduceChords } from '../../steps/chart';
import { only, rungsOf } from './rung-sets';
import { strikesOf, THINNED } from '../spacing/strikes-a-second';
import { thin } from '../../steps/spacing/thin';

export const rungDensity = defineRule({
  id: 'rungs',
  summary: 'Strikes a second and lanes together on each rung of each part.',
  story: {
    why: 'A lower level was copied from a higher one.',
    mends:
      'Thin the rung, keeping its beats, or drop lanes from the top or the bottom of its chords.',
  },
  block: 'chart',
  reads: ['rungs'],
  phase: 'spacing',
  codes: {
    'rung-dense': says<{ rung: number; name: string; most: number; allowed: number }>({
      title: 'Too many notes for this level',
      wrong: (f) => `Rung ${f.rung} of “${f.name}” asks for up to ${f.most} strikes in one second.`,
      then: (f, w) => `${w.Target} allows ${f.allowed} there; a player of that rung cannot follow.`,
    }),
    'lanes-together': says<{ rung: number; name: string; most: number; allowed: number }>({
      title: 'Too many lanes at once for this level',
      wrong: (f) => `Rung ${f.rung} of “${f.name}” asks for up to ${f.most} lanes together.`,
      then: (f, w) => `${w.Target} allows ${f.allowed} there and drops the others.`,
    }),
  },
  check({ target, groups, maps, report }) {
    for (const group of groups())
      for (const { rung, keys } of rungsOf(target, group)) {
        const notes = keys ? only(group.notes, new Set(keys)) : group.notes;
        if (notes.count === 0) continue;
        const lanes = keys ? { lanes: [...keys] } : {};
        const name = group.parts.map((p) => p.name).join(' + ');
        const base = {
          cause: `${group.parts.map((p) => p.seat ?? p.ref.track).join('+')}/${rung.rung}`,
          ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
        };
        const dense = strikesOf(notes, maps, rung.strikesASecond);
        if (dense.places.count > 0)
          report({
            code: 'rung-dense',
            ...base,
            ...dense.places.found,
            data: { rung: rung.rung, name, most: dense.most, allowed: rung.strikesASecond },
            measured: { value: dense.most, unit: 'strikes a second' },
            allowed: { strikesASecond: rung.strikesASecond },
            mends: [
              ...(['beats', 'first'] as const).map((keep) =>
                within(
                  mend(
                    THINNED[keep],
                    thin,
                    {
                      mostInASecond: rung.strikesASecond,
                      per: 'seat' as const,
                      keep,
                      ...lanes,
                    },
                    group.parts,
                  ),
                  dense.places.spans,
                ),
              ),
            ],
          });
        const together = laneCrowds(notes, rung.together);
        if (together.places.count > 0)
          report({
            code: 'lanes-together',
            ...base,
            ...together.places.found,
            data: { rung: rung.rung, name, most: together.most, allowed: rung.together },
            measured: { value: together.most, unit: 'lanes' },
            allowed: { together: rung.together },
            mends: (['top', 'bottom'] as const).map((drop) => ({
              title: `Drop the ${drop} ones, let none ring into the next`,
              steps: [
                ...mend('', reduceChords, { most: rung.together, drop, ...lanes }, group.parts)
                  .steps,
                ...mend('', holdRules, { holdMs: 1, noOverlap: true, ...lanes }, group.parts).steps,
              ],
            })),
          });
      }
  },
});

/** Where more lanes sound at once than may. */
function laneCrowds(notes: LineNotes, together: number) {
  const places = new SpanList();
  const sounding = new Sounding(notes);
  let most = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    sounding.until(start);
    if (notes.end[i]! > start) sounding.add(i);
    if (sounding.keys > most) most = sounding.keys;
    if (sounding.keys > together) sounding.nameAll(start, (n) => places.addNote(notes, n));
  }
  return { places, most };
}
