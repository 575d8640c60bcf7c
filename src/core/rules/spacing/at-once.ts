import type { Mend } from '../../diagnostic/finding';
import { Places, defineRule, mend, says } from '../define-rule';
import { Sounding } from '../../reading/sounding';
import { causeOf, onlyPart } from './common';
import { isIn, type Part } from '../../score/score';
import { keepVoices } from '../../steps/spacing/keep-voices';
import { shorten } from '../../steps/spacing/shorten';
import { notesTogether, type LineNotes, type OutputLine } from '../../reading/lines';

export const atOnce = defineRule({
  id: 'at-once',
  summary: 'No more notes sounding in the same instant than the target can play.',
  story: {
    why: 'Chords or ringing notes on something that has one voice, or few.',
    mends: 'End each where the next begins, or keep the highest, loudest or newest.',
  },
  block: 'polyphony',
  reads: ['together'],
  phase: 'spacing',
  codes: {
    'at-once': says<{ most: number; together: number; places: number }>({
      title: 'Too many at once',
      wrong: (f, w) =>
        `Up to ${f.most} ${w.notes} sound together, in ${f.places} ${f.places === 1 ? 'place' : 'places'}.`,
      then: (f, w) =>
        `${w.Target} plays ${f.together === 1 ? `one ${w.note}` : `${f.together} ${w.notes}`} at a time and drops the others.`,
    }),
  },
  check({ block, piece, groups: seats, report }) {
    const { together, over } = block;
    const groups: { notes: LineNotes; line?: OutputLine }[] =
      over === 'all'
        ? [{ notes: notesTogether(piece.score.parts.filter(isIn)) }]
        : [...seats()]
            .filter(
              (line) =>
                !block.seats || line.parts.some((p) => p.seat && block.seats!.includes(p.seat)),
            )
            .map((line) => ({ notes: line.notes, line }));
    for (const { notes, line } of groups) {
      const { places, most, moments, struckTogether } = crowded(notes, together);
      if (places.count === 0) continue;
      const scope = line?.parts;
      const dropping = (keep: 'highest' | 'loudest' | 'newest') =>
        mend(
          `Keep the ${keep}${together === 1 ? '' : ` ${together}`}`,
          keepVoices,
          { voices: together, keep, over },
          scope,
        );
      report({
        code: 'at-once',
        ...(line ? { cause: causeOf(line), ...onlyPart(line) } : {}),
        ...places.found,
        data: { most, together, places: moments },
        measured: { value: most, unit: 'notes at once' },
        allowed: { together },
        mends: [
          ...(together === 1 ? [shortening(struckTogether, scope)] : []),
          dropping('highest'),
          dropping('loudest'),
          ...(together === 1 ? [] : [dropping('newest')]),
        ],
      });
    }
  },
});

/** One voice: what still sounds gives way to the next; of notes struck together the highest stays. */
function shortening(struckTogether: boolean, scope: readonly Part[] | undefined): Mend {
  const cut = mend(
    'End each where the next begins',
    shorten,
    { until: 'next-note' as const },
    scope,
  );
  if (!struckTogether) return cut;
  const keep = { voices: 1, keep: 'highest', over: 'seat' } as const;
  return {
    title: `${cut.title}, of two struck together keep the highest`,
    steps: [...cut.steps, ...mend('', keepVoices, keep, scope).steps],
  };
}

/** Where more sounds than may; a note of no length sounds in no instant, and has a rule of its own. */
function crowded(notes: LineNotes, together: number) {
  const places = new Places();
  const sounding = new Sounding(notes);
  let most = 0;
  let moments = 0;
  let inside = false;
  let struckTogether = false;
  let tick = -1;
  let struck = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    if (notes.end[i]! <= start) continue;
    struck = start === tick ? struck + 1 : 1;
    tick = start;
    sounding.until(start);
    sounding.add(i);
    if (sounding.count > most) most = sounding.count;
    if (sounding.count <= together) {
      inside = false;
      continue;
    }
    if (!inside) moments++;
    inside = true;
    if (struck > 1) struckTogether = true;
    sounding.nameAll(start, (n) => places.addNote(notes, n));
  }
  return { places, most, moments, struckTogether };
}
