import { carveBySections } from '../../reading/carvings';
import { defineRule, mend, says } from '../define-rule';
import { placeOfPiece, placesOf } from '../../reading/places';
import { takePlace } from '../../steps/splitting';

export const placesFilled = defineRule({
  id: 'places-filled',
  summary: 'Places that must not be missing are taken, and none is taken twice.',
  story: {
    why: 'A song was carved by hand and one place forgotten.',
    mends: 'The file takes the missing place where it is the only one.',
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
      if (times > 1)
        report({
          code: 'place-twice',
          cause: place.id,
          data: words,
          measured: { value: times, unit: 'files' },
          noMend: 'Edit the step “Carve into files”: a place takes one file.',
        });
    }
  },
});
