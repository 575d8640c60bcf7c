import type { LineNotes } from '../../reading/lines';
import type { Maps } from '../../score/inventory';
import { HAIR, SpanList, defineRule, mend, says, within } from '../define-rule';
import { causeOf, onlyPart } from './line-names';
import { thin } from '../../steps/spacing/thin';

/** Strikes in any one second; what is struck at one tick counts once. Marks the seconds too full. */
export function strikesOf(notes: LineNotes, { clock }: Pick<Maps, 'clock'>, allowed: number) {
  const places = new SpanList();
  let most = 0;
  const strikes: { ms: number; from: number; to: number }[] = [];
  for (let i = 0; i < notes.count; i++) {
    const last = strikes.at(-1);
    if (last && notes.start[last.from] === notes.start[i]) last.to = i + 1;
    else strikes.push({ ms: clock.msAt(notes.start[i]!), from: i, to: i + 1 });
  }
  let first = 0;
  let marked = 0;
  for (let k = 0; k < strikes.length; k++) {
    while (strikes[k]!.ms - strikes[first]!.ms >= 1000 - HAIR) first++;
    const here = k - first + 1;
    if (here > most) most = here;
    if (here <= allowed) continue;
    for (let m = Math.max(first, marked); m <= k; m++)
      for (let i = strikes[m]!.from; i < strikes[m]!.to; i++) places.addNote(notes, i);
    marked = Math.max(marked, k + 1);
  }
  return { places, most };
}

/** Ways to thin a second, the better first. */
export const THINNED = {
  beats: 'Keep the beats, leave out the weakest of a second',
  first: 'Leave out what is too much in a second',
} as const;

export const strikes = defineRule({
  id: 'strikes-a-second',
  summary: 'Strikes in any one second of a seat; a chord counts once.',
  story: {
    why: 'A roll or a burst of effects is denser than the far side can follow.',
    mends: 'It is thinned: what is weakest in the bar goes, or what comes last.',
  },
  block: 'spacing',
  reads: ['strikesASecond'],
  phase: 'density',
  codes: {
    'too-dense': says<{ name: string; most: number; allowed: number }>({
      title: 'Too many notes a second',
      named: (f) => `${f.most} notes a second, takes ${f.allowed}`,
      wrong: (f, w) => `“${f.name}” has up to ${f.most} ${w.notes} in one second.`,
      then: (f, w) =>
        `${w.Target} keeps up with ${f.allowed}; what is more may come late or not at all.`,
    }),
  },
  check({ block, groups, maps, report }) {
    const allowed = block.strikesASecond;
    if (allowed === undefined) return;
    for (const group of groups()) {
      const { places, most } = strikesOf(group.notes, maps, allowed);
      if (places.count === 0) continue;
      report({
        code: 'too-dense',
        cause: causeOf(group),
        ...onlyPart(group),
        ...places.found,
        data: { name: group.parts.map((p) => p.name).join(' + '), most, allowed },
        measured: { value: most, unit: 'strikes a second' },
        allowed: { strikesASecond: allowed },
        mends: [
          ...(['beats', 'first'] as const).map((keep) =>
            within(
              mend(
                THINNED[keep],
                thin,
                { mostInASecond: allowed, per: 'seat' as const, keep },
                group.parts,
              ),
              places.spans,
            ),
          ),
        ],
      });
    }
  },
});
