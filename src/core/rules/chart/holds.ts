import type { OutputLine } from '../../reading/lines';
import type { Target } from '../../target/schema';
import { SpanList, defineRule, mend, says } from '../define-rule';
import { count, plain } from '../../target/words';
import { holdRules } from '../../steps/chart';
import { only, rungsOf, type RungSet } from './rung-sets';

/** Without rungs every lane of a seat is looked at together. */
const holdSets = (target: Target, group: OutputLine): readonly (RungSet | null)[] =>
  target.chart?.rungs
    ? rungsOf(target, group)
    : target.chart?.releaseGapMs === undefined
      ? []
      : [null];

export const holds = defineRule({
  id: 'holds',
  summary: 'Holds leave a gap before the next note of their lane and overlap only where they may.',
  story: {
    why: 'A legato line leaves no time to let a lane go.',
    mends: 'Holds end earlier, or where the next begins.',
  },
  block: 'chart',
  reads: ['rungs', 'releaseGapMs'],
  phase: 'spacing',
  codes: {
    'release-gap': says<{ gap: string; name: string; countText: string; one: number }>({
      title: 'Holds too close to let go',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'ends' : 'end'} under ${f.gap} ms before the next note of the lane.`,
      then: (_, w) => `${w.Target} counts the release as missed.`,
    }),
    'holds-overlap': says<{ rung: number; name: string; countText: string; one: number }>({
      title: 'Holds overlap',
      wrong: (f) =>
        `${f.countText} on rung ${f.rung} of “${f.name}” ${f.one ? 'begins' : 'begin'} while another is still held.`,
      then: (_, w) => `${w.Target} allows that on its highest rung only and lets go of the first.`,
    }),
  },
  check({ block, target, groups, maps, report }) {
    const { holdMs = 0 } = block;
    const { clock } = maps;
    for (const group of groups())
      for (const set of holdSets(target, group)) {
        const notes = set?.keys ? only(group.notes, new Set(set.keys)) : group.notes;
        const gap = set ? set.rung.releaseGapMs : block.releaseGapMs;
        const name = group.parts.map((p) => p.name).join(' + ');
        const base = {
          cause: `${group.parts.map((p) => p.seat ?? p.ref.track).join('+')}/${set?.rung.rung ?? ''}`,
          ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
        };
        const isHold = (i: number) =>
          clock.msAt(notes.end[i]!) - clock.msAt(notes.start[i]!) >= holdMs - 1e-6;
        const late = new SpanList();
        const over = new SpanList();
        const last = new Map<number, number>();
        /** Until when holds ring that began before the present tick, and those of that tick. */
        let ringing = -1;
        let ringingNow = -1;
        let now = -1;
        let least = Infinity;
        for (let i = 0; i < notes.count; i++) {
          const key = notes.noteNumber[i]!;
          const start = notes.start[i]!;
          const before = last.get(key);
          last.set(key, i);
          if (gap !== undefined && before !== undefined && isHold(before)) {
            const free = clock.msAt(start) - clock.msAt(notes.end[before]!);
            if (free < gap - 1e-6) {
              late.addNote(notes, before);
              least = Math.min(least, free);
            }
          }
          if (start !== now) {
            ringing = Math.max(ringing, ringingNow);
            now = start;
          }
          if (!isHold(i)) continue;
          if (set && !set.rung.holdsOverlap && ringing > start) over.addNote(notes, i);
          ringingNow = Math.max(ringingNow, notes.end[i]!);
        }
        const facts = (p: SpanList) => ({
          name,
          countText: count(p.count, 'hold'),
          one: p.count === 1 ? 1 : 0,
        });
        const lanes = set?.keys ? { lanes: [...set.keys] } : {};
        if (late.count > 0)
          report({
            code: 'release-gap',
            ...base,
            ...late.found,
            data: { ...facts(late), gap: plain(gap!) },
            measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
            allowed: { releaseGapMs: gap },
            mends: [
              mend(
                'Let go earlier',
                holdRules,
                { holdMs: Math.max(1, holdMs), releaseGapMs: gap!, ...lanes },
                group.parts,
              ),
            ],
          });
        if (over.count > 0)
          report({
            code: 'holds-overlap',
            ...base,
            ...over.found,
            data: { ...facts(over), rung: set!.rung.rung },
            measured: { value: over.count, unit: 'holds' },
            allowed: { holdsOverlap: false },
            mends: [
              mend(
                'Shorten each hold to the next',
                holdRules,
                { holdMs: Math.max(1, holdMs), noOverlap: true, ...lanes },
                group.parts,
              ),
            ],
          });
      }
  },
});
