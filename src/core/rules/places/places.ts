import { barsUntil, deliveredBars } from '../end/whole-bars';
import { carve, takePlace } from '../../steps/splitting';
import { carveByLength, carveBySections } from '../../reading/carvings';
import { carveAtMarkers, type Carved } from '../../target/carving';
import { defineRule, mend, says } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { freePlaces, inPlaces, placeOfPiece, placesOf, takes } from '../../reading/places';
import type { Maps } from '../../score/inventory';
import type { Piece } from '../../score/piece';
import { isIn } from '../../score/score';

/** Whether a note begins in a stretch of bars. */
function beginIn({ score }: Piece, { bars }: Maps): (fromBar: number, bars: number) => boolean {
  const begun = new Set<number>();
  for (const { notes } of score.parts.filter(isIn))
    for (let i = 0; i < notes.count; i++) begun.add(bars.barAt(notes.start[i]!) + 1);
  return (fromBar, count) => {
    for (let bar = fromBar; bar < fromBar + count; bar++) if (begun.has(bar)) return true;
    return false;
  };
}

const barsOf = (places: readonly Carved[]) => places.reduce((n, p) => n + p.bars, 0);

export const places = defineRule({
  id: 'places',
  summary: 'Every file takes a place that the target has.',
  story: {
    why: 'The device plays many small files; the song is one.',
    mends: 'The song is carved at its markers, or the file takes a place as it is.',
  },
  block: 'seats',
  phase: 'seating',
  codes: {
    'no-place': says<{ name: string }>({
      title: 'File without a place',
      wrong: (f) => `“${f.name}” takes none of the places.`,
      then: (_, w) => `${w.Target} plays files by their places and passes over any other.`,
    }),
  },
  check({ block: seats, piece, pieces, index, maps, report }) {
    if (placesOf(seats).length === 0) return;
    const name = piece.delivery.fileName;
    if (!placeOfPiece(piece, seats)) {
      const end = deliveredEnd(piece);
      const length = barsUntil(maps, end);
      // What stands before it and has none gets one as well: each is offered another.
      const before = pieces.slice(0, index).filter((p) => !placeOfPiece(p, seats));
      const free = freePlaces(pieces, seats);
      const own = inPlaces([...before.map(deliveredBars), length], free)[before.length];
      const offer = [own, free[0]].filter((s, i, all) => s !== undefined && all.indexOf(s) === i);
      const cuts =
        pieces.length === 1
          ? carveAtMarkers(
              piece.score.conductor.markers,
              maps.bars,
              end,
              seats,
              beginIn(piece, maps),
            )
          : [];
      const sections = pieces.length === 1 ? carveBySections(piece, seats) : null;
      const stretches =
        pieces.length === 1 && cuts.length < 2 && !sections ? carveByLength(piece, seats) : null;
      const carvings = [
        ...(cuts.length > 1
          ? [{ title: `Carve it at its markers into ${cuts.length} files`, places: cuts }]
          : []),
        ...(sections
          ? [{ title: `Carve it by what repeats: ${sections.says}`, places: sections.places }]
          : []),
        ...(stretches
          ? [
              {
                title: `Carve it one behind the other: ${stretches.says}`,
                places: stretches.places,
              },
            ]
          : []),
      ].sort((a, b) => barsOf(b.places) - barsOf(a.places));
      // A song that is longer than a place would lose its end there.
      const fitting = offer.filter((s) => carvings.length === 0 || takes(s!, length));
      report({
        code: 'no-place',
        data: { name },
        allowed: { places: placesOf(seats).length },
        mends: [
          ...fitting.map((s) =>
            mend(`Make it ${s!.name.toLowerCase()}`, takePlace, {
              place: s!.id,
              fileName: s!.fileName,
            }),
          ),
          // What holds more of the piece comes first; of equals what somebody marked.
          ...carvings.map(({ title, places }) => mend(title, carve, { places: [...places] })),
        ],
        ...(offer.length === 0
          ? { noMend: 'There are more files than places: leave this one out.' }
          : {}),
      });
    }
  },
});
