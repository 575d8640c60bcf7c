import { barsUntil } from '../end/whole-bars';
import { count, plain } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { placeOfPiece, placesOf, takes } from '../../reading/places';
import { setLength } from '../../steps/length';

const sayBars = (n: number) => (n === 0.5 ? 'half a bar' : count(n, 'bar'));

export const placeLength = defineRule({
  id: 'place-length',
  summary: 'Every file has a length that its place takes.',
  story: {
    why: 'A bed was exported with its tail, or a break with a count-in.',
    mends: 'The end is set to a length that the place takes.',
  },
  block: 'seats',
  phase: 'end',
  codes: {
    'place-length': says<{ name: string; bars: string; place: string; allowed: string }>({
      title: 'File too long or short for its place',
      wrong: (f) => `“${f.name}” is ${f.bars} bars long.`,
      then: (f, w) =>
        `${w.Target} takes ${f.allowed} for ${f.place} and loses the beat at any other length.`,
    }),
  },
  check({ block: seats, piece, maps, report }) {
    if (placesOf(seats).length === 0) return;
    const name = piece.delivery.fileName;
    const place = placeOfPiece(piece, seats);
    if (!place) return;
    const end = deliveredEnd(piece);
    const { whole, over } = barsUntil(maps, end);
    const bars = whole + over;
    const { onlyBars, leastBars, mostBars } = place;
    const exact = onlyBars !== undefined || leastBars !== undefined;
    if (takes(place, { whole, over })) return;
    const choices =
      onlyBars ?? range(exact ? Math.max(1, leastBars ?? 1) : 1, mostBars ?? whole + 1);
    const up = choices.filter((n) => n >= bars - 1e-9).sort((a, b) => a - b)[0];
    const down = choices.filter((n) => n <= bars + 1e-9).sort((a, b) => b - a)[0];
    const lengths = [up, down].filter(
      (n, i, all): n is number => n !== undefined && all.indexOf(n) === i,
    );
    report({
      code: 'place-length',
      spans: [spanAt(Math.max(0, end - 1))],
      data: {
        name,
        bars: plain(bars),
        place: place.name.toLowerCase(),
        allowed: onlyBars
          ? onlyBars.map(sayBars).join(' or ')
          : leastBars === undefined
            ? `at most ${sayBars(mostBars ?? 1)}`
            : `${leastBars} to ${mostBars} whole bars`,
      },
      measured: { value: Math.round(bars * 1000) / 1000, unit: 'bars' },
      allowed: {
        ...(onlyBars ? { onlyBars } : {}),
        ...(leastBars ? { leastBars } : {}),
        ...(mostBars ? { mostBars } : {}),
      },
      mends: lengths.map((n) => mend(`Make it ${sayBars(n)} long`, setLength, { bars: n })),
    });
  },
});

const range = (from: number, to: number) =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
