import { SpanList, defineRule, mend, says } from '../define-rule';
import { count } from '../../target/words';
import { dropDuplicates } from '../../steps/strip';
import { shorten } from '../../steps/spacing/shorten';

export const overlap = defineRule({
  id: 'overlap',
  summary: 'A key is not struck again on its track and channel while it still sounds.',
  story: {
    why: 'A pedal or a long decay was drawn into the notes, or two tracks were merged into one.',
    mends:
      'The earlier note ends where the later begins; of notes struck twice at once the longest stays.',
  },
  block: null,
  phase: 'integrity',
  codes: {
    overlap: says<{ countText: string; one: number; name: string }>({
      title: 'Notes on one key overlap',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'begins' : 'begin'} while the same key still sounds.`,
      then: (_, w) => `The first note-off ends both for ${w.target}: one is cut, or hangs.`,
    }),
    doubled: says<{ countText: string; one: number; name: string }>({
      title: 'Notes struck twice at once',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'is' : 'are'} struck twice at the same tick.`,
      then: (_, w) => `${w.Target} plays one of the two, or hangs on the other.`,
    }),
  },
  check({ lines, report }) {
    for (const line of lines()) {
      const { notes, parts } = line;
      const overlapping = new SpanList();
      const doubled = new SpanList();
      const last = new Int32Array(128).fill(-1);
      for (let i = 0; i < notes.count; i++) {
        const key = notes.noteNumber[i]!;
        const before = last[key]!;
        if (before >= 0 && notes.end[before]! > notes.start[i]!)
          (notes.start[before] === notes.start[i] ? doubled : overlapping).addNote(notes, i);
        // The one that sounds longest is what the next may overlap.
        if (before < 0 || notes.end[i]! >= notes.end[before]!) last[key] = i;
      }
      const name = parts.map((p) => p.name).join(' + ');
      const base = {
        severity: 'caution' as const,
        cause: `${line.channel}:${parts.map((p) => p.ref.track).join('+')}`,
        ...(parts.length === 1 ? { part: parts[0]! } : {}),
      };
      const facts = (n: number) => ({ countText: count(n, 'note'), one: n === 1 ? 1 : 0, name });
      if (overlapping.count > 0)
        report({
          code: 'overlap',
          ...base,
          ...overlapping.found,
          data: facts(overlapping.count),
          measured: { value: overlapping.count, unit: 'notes' },
          mends: [
            mend('End the earlier one first', shorten, { until: 'next-same-key' as const }, parts),
          ],
        });
      if (doubled.count > 0)
        report({
          code: 'doubled',
          ...base,
          ...doubled.found,
          data: facts(doubled.count),
          measured: { value: doubled.count, unit: 'notes' },
          mends: [
            mend(
              'Keep one of each',
              dropDuplicates,
              // Doubles that stand in two parts are no doubles within either.
              { notes: true, events: false, ...(parts.length > 1 ? { between: true } : {}) },
              parts,
            ),
          ],
        });
    }
  },
});
