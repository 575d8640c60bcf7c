import { carveBySections } from '../../reading/carvings';
import { defineRule, mend, says } from '../define-rule';
import { freePlaces, inPlaces, placeOfPiece, placesOf } from '../../reading/places';
import type { Piece } from '../../score/piece';
import { callStep } from '../../steps/define-step';
import { takePlace } from '../../steps/splitting';
import type { Seat } from '../../target/schema';
import { deliveredBars } from '../end/whole-bars';
import type { Mend } from '../finding';

/** Each of some pieces in a place that is free; null where one has none, or cannot be told apart. */
function elsewhere(
  others: readonly Piece[],
  pieces: readonly Piece[],
  seats: readonly Seat[],
): Mend | null {
  const names = pieces.map((p) => p.delivery.fileName);
  const isTold = ({ delivery: { fileName } }: Piece) =>
    names.filter((n) => n === fileName).length === 1;
  const found = inPlaces(others.map(deliveredBars), freePlaces(pieces, seats)).flatMap(
    (s) => s ?? [],
  );
  if (found.length < others.length || !others.every(isTold)) return null;
  const steps = found.map(({ id, fileName }, i) =>
    callStep(takePlace, { place: id, fileName }, { file: others[i]!.delivery.fileName }),
  );
  const where = found.map((s) => s.name.toLowerCase());
  const more = where.length > 3 ? ` and ${where.length - 3} more` : '';
  return {
    title: `Put the ${found.length === 1 ? 'other' : 'others'} in ${where.slice(0, 3).join(', ')}${more}`,
    steps,
  };
}

export const placesFilled = defineRule({
  id: 'places-filled',
  summary: 'Places that must not be missing are taken, and none is taken twice.',
  story: {
    why: 'A song was carved by hand and one place forgotten.',
    mends:
      'The file takes the missing place where it is the only one; of two in one place the other takes a free one.',
  },
  block: 'seats',
  phase: 'naming',
  over: 'delivery',
  codes: {
    'place-missing': says<{ place: string; file: string; times: number }>({
      title: 'Place without a file',
      wrong: (f) => `No file takes ${f.place} (${f.file}).`,
      then: (_, w) => `${w.Target} does not show a song without it.`,
    }),
    'place-twice': says<{ place: string; file: string; times: number }>({
      title: 'Two files in one place',
      wrong: (f) => `${f.times} files take ${f.place}.`,
      then: (_, w) => `${w.Target} keeps one of them.`,
    }),
  },
  check({ block: seats, pieces, report }) {
    const all = placesOf(seats);
    if (all.length === 0) return;
    const taken = pieces.map((p) => placeOfPiece(p, seats));
    for (const place of all) {
      const times = taken.filter((t) => t?.id === place.id).length;
      const words = { place: place.name.toLowerCase(), file: place.fileName, times };
      if (times === 0 && !place.optional) {
        const [first] = pieces;
        const markers = first?.score.conductor.markers.length ?? 0;
        // With markers or sections the song is carved by the finding of its own.
        const alone =
          pieces.length === 1 &&
          taken[0] === undefined &&
          markers < 2 &&
          carveBySections(first!, seats) === null;
        report({
          code: 'place-missing',
          cause: place.id,
          data: words,
          ...(alone
            ? {
                mends: [
                  mend(`Make this file ${words.place}`, takePlace, {
                    place: place.id,
                    fileName: place.fileName,
                  }),
                ],
              }
            : { noMend: 'Carve it out with the step “Carve into files”.' }),
        });
      }
      if (times > 1) {
        const [, ...others] = pieces.filter((_, i) => taken[i]?.id === place.id);
        const moved = elsewhere(others, pieces, seats);
        report({
          code: 'place-twice',
          cause: place.id,
          data: words,
          measured: { value: times, unit: 'files' },
          ...(moved
            ? { mends: [moved] }
            : { noMend: 'Edit the step “Carve into files”: a place takes one file.' }),
        });
      }
    }
  },
});
