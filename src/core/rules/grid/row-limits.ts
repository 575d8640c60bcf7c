import { SpanList, defineRule, mend, says } from '../define-rule';
import { count } from '../../target/words';
import { givingElsewhere } from '../spacing/give-elsewhere';
import { isIn } from '../../score/score';
import { sayKept } from '../spacing/say-kept';
import { keepVoices } from '../../steps/spacing/keep-voices';
import { thin } from '../../steps/spacing/thin';
import { rowAt, rowRateOf } from '../../reading/rows';

export const rowLimits = defineRule({
  id: 'row-limits',
  summary: 'No more holes in a row than there may be, and no pipe in two rows running.',
  story: {
    why: 'Chords and repeats that a keyboard plays would tear the strip.',
    mends: 'Keep the most important holes of a row, or drop the second of two in rows running.',
  },
  block: 'grid',
  reads: ['rowsPerSecond'],
  phase: 'spacing',
  codes: {
    'row-crowded': says<{ most: number; places: number; allowed: number }>({
      title: 'Too many notes in one row',
      wrong: (f) => `Up to ${f.most} in one row, in ${f.places} rows.`,
      then: (f, w) => `${w.Target} tears where more than ${f.allowed} stand side by side.`,
    }),
    'row-again': says<{ name: string; countText: string; one: number }>({
      title: 'Notes in two rows running',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'stands' : 'stand'} in the row behind the same key.`,
      then: (_, w) => `${w.Target} makes one long hole of the two: the second is not heard.`,
    }),
    'row-shared': says<{ name: string; countText: string; one: number }>({
      title: 'Two notes on one key in a row',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'falls' : 'fall'} in the row of the same key.`,
      then: (_, w) => `${w.Target} has one hole for both.`,
    }),
  },
  check({ block, target, piece, maps, groups, report }) {
    const rate = rowRateOf(piece, maps, block);
    if (rate === null) return;
    const rowOf = (tick: number) => rowAt(maps, rate, tick);
    if (block.mostInRow !== undefined) {
      const inRow = new Map<number, { part: number; index: number }[]>();
      const parts = piece.score.parts.filter(isIn);
      parts.forEach((part, p) => {
        for (let i = 0; i < part.notes.count; i++) {
          const row = rowOf(part.notes.start[i]!);
          const there = inRow.get(row);
          if (there) there.push({ part: p, index: i });
          else inRow.set(row, [{ part: p, index: i }]);
        }
      });
      const places = new SpanList();
      let most = 0;
      let crowded = 0;
      for (const list of inRow.values()) {
        if (list.length <= block.mostInRow) continue;
        crowded++;
        most = Math.max(most, list.length);
        for (const { part, index } of list) places.add(parts[part]!, index);
      }
      if (crowded > 0)
        report({
          code: 'row-crowded',
          ...places.found,
          data: { most, places: crowded, allowed: block.mostInRow },
          measured: { value: most, unit: 'notes in a row' },
          allowed: { mostInRow: block.mostInRow },
          mends: (['missed', 'highest', 'loudest'] as const).map((keep) =>
            mend(sayKept(keep, block.mostInRow!), keepVoices, {
              voices: block.mostInRow!,
              keep,
              over: 'all' as const,
              rowsPerSecond: rate,
            }),
          ),
        });
    }
    for (const group of groups()) {
      const again = new SpanList();
      const shared = new SpanList();
      const last = new Map<number, number>();
      for (let i = 0; i < group.notes.count; i++) {
        const key = group.notes.noteNumber[i]!;
        const row = rowOf(group.notes.start[i]!);
        const before = last.get(key);
        if (before === row) shared.addNote(group.notes, i);
        else if (before === row - 1 && block.sameKeyNextRow === 'none') {
          again.addNote(group.notes, i);
          continue; // it would be dropped, and the next is judged by the one before
        }
        last.set(key, row);
      }
      const name = group.parts.map((p) => p.name).join(' + ');
      const facts = (p: SpanList) => ({
        name,
        countText: count(p.count, 'note'),
        one: p.count === 1 ? 1 : 0,
      });
      const base = {
        cause: group.parts.map((p) => p.seat ?? p.ref.track).join('+'),
        ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
      };
      if (again.count > 0)
        report({
          code: 'row-again',
          ...base,
          ...again.found,
          data: facts(again),
          measured: { value: again.count, unit: 'notes' },
          allowed: { sameKeyNextRow: 'none' },
          mends: [
            ...givingElsewhere(target, group, { rowsPerSecond: rate, apartRows: 2 }),
            ...(['beats', 'first'] as const).map((keep) =>
              mend(
                keep === 'beats' ? 'Of each run keep the beats' : 'Drop the second of each',
                thin,
                { rowsPerSecond: rate, apartRows: 2, per: 'key', keep },
                group.parts,
              ),
            ),
          ],
        });
      if (shared.count > 0)
        report({
          code: 'row-shared',
          ...base,
          ...shared.found,
          data: facts(shared),
          measured: { value: shared.count, unit: 'notes' },
          mends: [
            mend(
              'Keep one of each',
              thin,
              { rowsPerSecond: rate, apartRows: 1, per: 'key', keep: 'beats' },
              group.parts,
            ),
          ],
        });
    }
  },
});
