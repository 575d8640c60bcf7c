import { SpanList, defineRule, mend, says } from '../define-rule';
import { Sounding } from '../../reading/sounding';
import { causeOf, onlyPart } from './line-names';
import { dropShared } from '../../steps/spacing/drop-shared';
import { keepReach } from '../../steps/spacing/keep-reach';

export const hands = defineRule({
  id: 'hands',
  summary: 'What a hand can reach, and no key for two hands at once.',
  story: {
    why: 'A part was split by pitch, or two players were drawn into one hand.',
    mends:
      'What cannot be reached is dropped from one side; of a shared key the first holder keeps it.',
  },
  block: 'polyphony',
  reads: ['spanSemitones', 'sharedNotes'],
  phase: 'spacing',
  codes: {
    'too-wide': says<{ name: string; most: number; allowed: number }>({
      title: 'Span too wide for one hand',
      wrong: (f) => `“${f.name}” spans up to ${f.most} semitones at once.`,
      then: (f, w) => `${w.Target} draws a hand of ${f.allowed} semitones; nobody can play more.`,
    }),
    'shared-key': says<{ countText: string }>({
      title: 'One key for two hands',
      wrong: (f) => `${f.countText} on a key that another seat is holding.`,
      then: (_, w) => `${w.Target} shows one of the two and waits for the other.`,
    }),
  },
  check({ block, groups, report }) {
    const all = [...groups()].filter(
      (g) => !block.seats || g.parts.some((p) => p.seat && block.seats!.includes(p.seat)),
    );
    const span = block.spanSemitones;
    if (span !== undefined)
      for (const group of all) {
        const places = new SpanList();
        let most = 0;
        const { notes } = group;
        const sounding = new Sounding(notes);
        for (let i = 0; i < notes.count; i++) {
          const start = notes.start[i]!;
          sounding.until(start);
          if (notes.end[i]! > start) sounding.add(i);
          const wide = sounding.span;
          if (wide > most) most = wide;
          if (wide > span) sounding.nameAll(start, (n) => places.addNote(notes, n));
        }
        if (places.count === 0) continue;
        report({
          code: 'too-wide',
          cause: causeOf(group),
          ...onlyPart(group),
          ...places.found,
          data: { name: group.parts.map((p) => p.name).join(' + '), most, allowed: span },
          measured: { value: most, unit: 'semitones' },
          allowed: { spanSemitones: span },
          mends: [
            {
              title: 'Let none ring into the next, and drop what is out of reach from the top',
              steps: mend('', keepReach, { semitones: span, keep: 'lowest' }, group.parts).steps,
            },
            {
              title: 'Let none ring into the next, and drop what is out of reach from the bottom',
              steps: mend('', keepReach, { semitones: span, keep: 'highest' }, group.parts).steps,
            },
          ],
        });
      }
    if (block.sharedNotes !== 'none' || all.length < 2) return;
    const places = new SpanList();
    const flat = all.flatMap((g, k) =>
      Array.from({ length: g.notes.count }, (_, i) => ({ k, i, start: g.notes.start[i]! })),
    );
    flat.sort((a, b) => a.start - b.start || a.k - b.k);
    // By key until when each seat holds it.
    const held = new Map<number, Map<number, number>>();
    for (const { k, i, start } of flat) {
      const { notes } = all[k]!;
      const key = notes.noteNumber[i]!;
      const there = held.get(key) ?? new Map<number, number>();
      if ([...there].some(([other, end]) => other !== k && end > start)) places.addNote(notes, i);
      there.set(k, Math.max(there.get(k) ?? 0, notes.end[i]!));
      held.set(key, there);
    }
    if (places.count === 0) return;
    report({
      code: 'shared-key',
      ...places.found,
      data: { countText: places.count === 1 ? 'One note begins' : `${places.count} notes begin` },
      measured: { value: places.count, unit: 'notes' },
      allowed: { sharedNotes: 'none' },
      mends: [
        mend(
          'Keep the one that was there first',
          dropShared,
          {},
          all.flatMap((g) => g.parts),
        ),
      ],
    });
  },
});
