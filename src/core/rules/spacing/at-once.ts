import type { Piece } from '../../score/piece';
import type { Target } from '../../target/schema';
import { fitVoices } from '../../steps/spacing/fit-voices';
import { playing } from '../seats/playing';
import { clearing, idleSeats, namesOf, spreadOver, widest } from '../seats/spread';
import type { Mend } from '../finding';
import { SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { Sounding } from '../../reading/sounding';
import { causeOf, onlyPart } from './line-names';
import { sayKept } from './say-kept';
import { isIn, type Part } from '../../score/score';
import { keepVoices } from '../../steps/spacing/keep-voices';
import { shorten } from '../../steps/spacing/shorten';
import { notesTogether, type LineNotes, type OutputLine } from '../../reading/lines';

export const atOnce = defineRule({
  id: 'at-once',
  summary: 'No more notes sounding in the same instant than the target can play.',
  story: {
    why: 'Chords or ringing notes on something that has one voice, or few.',
    mends: 'Shorten overlaps, or keep the highest, loudest or newest.',
  },
  block: 'polyphony',
  reads: ['together'],
  phase: 'spacing',
  codes: {
    'at-once': says<{ most: number; together: number; places: number }>({
      title: 'Too many notes at once',
      named: (f) => `${f.most} at once, plays ${f.together}`,
      wrong: (f, w) =>
        `Up to ${f.most} ${w.notes} sound together, in ${f.places} ${f.places === 1 ? 'place' : 'places'}.`,
      then: (f, w) =>
        `${w.Target} plays ${f.together === 1 ? `one ${w.note}` : `${f.together} ${w.notes}`} at a time and drops the others.`,
    }),
  },
  check({ block, target, piece, groups: seats, report }) {
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
        mend(sayKept(keep, together), keepVoices, { voices: together, keep, over }, scope);
      report({
        code: 'at-once',
        ...(line ? { cause: causeOf(line), ...onlyPart(line) } : {}),
        ...places.found,
        data: { most, together, places: moments },
        measured: { value: most, unit: 'notes at once' },
        allowed: { together },
        mends: [
          ...(struckTogether ? spreading(line, target, { piece }, together) : []),
          mend(
            struckTogether
              ? 'Shorten overlaps, keep the most important chord notes'
              : 'Shorten overlaps',
            fitVoices,
            { voices: together, over },
            scope,
          ),
          ...(together === 1 ? [shortening(struckTogether, scope)] : []),
          dropping('highest'),
          dropping('loudest'),
          ...(together === 1 ? [] : [dropping('newest')]),
        ],
      });
    }
  },
});

/** Seats of one voice that nobody has take the other notes of its chords, line by line. */
function spreading(
  line: OutputLine | undefined,
  target: Target,
  { piece }: { readonly piece: Piece },
  together: number,
): Mend[] {
  // A part that only sets up its channel plays nothing there.
  const parts = line?.parts.filter(playing) ?? [];
  const [part] = parts;
  if (!part || together !== 1) return [];
  const free = idleSeats(piece, target);
  const own = target.seats.find((s) => s.id === part.seat);
  const seats = own ? [own, ...free].slice(0, widest(line!.notes)) : [];
  if (seats.length < 2) return [];
  const title = `Spread its chords over ${namesOf(seats)}`;
  return [mendBy(title, ...clearing(piece.score.parts, seats), ...spreadOver(parts, seats))];
}

/** One voice: what still sounds gives way to the next; of notes struck together the highest stays. */
function shortening(struckTogether: boolean, scope: readonly Part[] | undefined): Mend {
  const cut = mend('Shorten overlaps', shorten, { until: 'next-note' as const }, scope);
  if (!struckTogether) return cut;
  const keep = { voices: 1, keep: 'highest', over: 'seat' } as const;
  return {
    title: `${cut.title}, keep the highest of each chord`,
    steps: [...cut.steps, ...mend('', keepVoices, keep, scope).steps],
  };
}

/** Where more sounds than may; a note of no length sounds in no instant, and has a rule of its own. */
function crowded(notes: LineNotes, together: number) {
  const places = new SpanList();
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
