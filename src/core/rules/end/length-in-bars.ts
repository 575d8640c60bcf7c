import { ppqAllowed } from '../file/ppq';
import { ticksPerQuarterOf } from '../../score/score';
import { setPpq } from '../../steps/timing/set-ppq';
import { barsUntil, lengthAllowed, ppqForBars, type End } from './whole-bars';
import { count, plain } from '../../target/words';
import type { Mend } from '../finding';
import type { Piece } from '../../score/piece';
import type { Target } from '../../target/schema';
import { goesRoundBest, patternsOf } from '../../reading/carvings';
import { chain } from '../../steps/chain';
import { callStep } from '../../steps/define-step';
import { soundFollow } from '../../steps/companion';
import { soundGoesOut } from '../../target/sound';
import { keepBars } from '../../steps/keep-bars';
import { carve } from '../../steps/splitting';
import { defineRule, mend, mendBy, says, spanAt } from '../define-rule';
import { deliveredEnd, lastNoteEnd } from '../../reading/ends';
import { setLength } from '../../steps/length';

/** The nearest allowed lengths: the next longer one first, then the next shorter. */
export function nearestLengths(end: End, bars: number): number[] {
  const { onlyBars, leastBars = 1, mostBars = Infinity } = end;
  const list = onlyBars ?? [
    Math.max(Math.ceil(bars), leastBars, 1),
    Math.min(Math.floor(bars), mostBars),
  ];
  const allowed = list.filter((n) => n >= 1 && lengthAllowed(end, n)).sort((a, b) => a - b);
  const up = allowed.find((n) => n >= bars);
  const down = allowed.filter((n) => n <= bars).at(-1);
  return [...new Set([up, down])].filter((n) => n !== undefined);
}

const MOST_STRETCHES = 3;

/** Stretches of the piece that are as long as it may be, the best to go round first. */
const stretches = (piece: Piece, end: End): Mend[] =>
  goesRoundBest(piece, (n) => lengthAllowed(end, n))
    .slice(0, MOST_STRETCHES)
    .map(({ fromBar, bars, says: why }) =>
      mend(`Keep bars ${fromBar} to ${fromBar + bars - 1} (${why})`, keepBars, { fromBar, bars }),
    );

/** With the sound at hand its same bars are kept as well. */
const withSound = (mends: readonly Mend[], there: boolean): Mend[] =>
  there
    ? mends.flatMap((m) => [
        {
          title: `${m.title}, and the same of the sound`,
          steps: [...m.steps, callStep(soundFollow, {})],
        },
        m,
      ])
    : [...mends];

/** Where patterns are chained, a longer piece is its sections and their order. */
function chained(piece: Piece, { chains, seats }: Target, mostBars: number): Mend[] {
  if (!chains || !Number.isFinite(mostBars)) return [];
  const made = patternsOf(piece, { ...chains, mostBars });
  if (!made || made.places.length < 2) return [];
  const voices = seats.flatMap((s) => (s.kind === 'voice' ? [s] : [])).map((_, i) => i + 1);
  const links = made.links.map((l) => ({ ...l, shift: 0, voices }));
  return [
    mendBy(
      `Carve it into ${count(made.places.length, 'pattern')} and chain them`,
      callStep(carve, { places: [...made.places] }),
      callStep(chain, { links }),
    ),
  ];
}

export const wholeBars = defineRule({
  id: 'length-in-bars',
  summary: 'The piece is whole bars long, and as many as the target takes.',
  story: {
    why: 'An export ends with the last note, or a beat late where a tail rings on.',
    mends: 'The end is set to a bar line: filled up, or cut with what lies beyond listed.',
  },
  block: 'end',
  reads: ['wholeBars', 'leastBars', 'mostBars', 'onlyBars'],
  phase: 'end',
  codes: {
    'not-whole-bars': says<{ bars: string; barsText: string; allowed: string }>({
      title: 'Length not in whole bars',
      named: (f) => `${f.bars} bars, needs whole bars`,
      wrong: (f) => `The piece is ${f.bars} bars long.`,
      then: (_, w) => `${w.Target} goes on at the end of the file, so the beat stumbles there.`,
    }),
    'bars-not-allowed': says<{ bars: string; barsText: string; allowed: string }>({
      title: 'Length in bars not supported',
      named: (f) => `${f.barsText} long, takes ${f.allowed}`,
      wrong: (f) => `The piece is ${f.barsText} long.`,
      then: (f, w) => `${w.Target} takes ${f.allowed}.`,
    }),
  },
  check({ block, piece, pieces, target, maps, soundName, report }) {
    const { onlyBars, leastBars, mostBars } = block;
    const limited = onlyBars ?? leastBars ?? mostBars;
    if (!block.wholeBars && limited === undefined) return;
    const end = deliveredEnd(piece);
    // Nothing is delivered yet: no part has a seat.
    if (end === 0) return;
    const { whole, over } = barsUntil(maps, end);
    const bars = whole + over;
    if (over === 0 && lengthAllowed(block, whole)) return;
    const sounding = barsUntil(maps, lastNoteEnd(piece.score));
    const needed = sounding.whole + (sounding.over > 0 ? 1 : 0);
    // What the notes need comes first: an export that is too long or too short is mended by it.
    const lengths = [
      ...new Set([
        ...(lengthAllowed(block, needed) ? [needed] : []),
        ...nearestLengths(block, bars),
      ]),
    ];
    const longest = onlyBars ? Math.max(...onlyBars) : (mostBars ?? Infinity);
    const tooLong = needed > longest;
    const allowed = onlyBars
      ? `${onlyBars.join(', ')} bars`
      : leastBars !== undefined && mostBars !== undefined
        ? `${leastBars} to ${mostBars} whole bars`
        : mostBars !== undefined
          ? `at most ${count(mostBars, 'bar')}`
          : 'whole bars';
    // A bar line that stands between two ticks cannot be an end: finer ticks come first.
    const own = ticksPerQuarterOf(piece.score.division);
    const finer = ppqForBars(piece.score);
    const ppqLimits = target.file?.ppq;
    const ppq = finer !== null && finer !== own && ppqAllowed(ppqLimits, finer) ? finer : null;
    const between = finer !== own && piece.score.division.kind === 'ppq';
    const long = (n: number): Mend =>
      between
        ? mendBy(
            `Write PPQ ${ppq} and make it ${count(n, 'bar')} long`,
            callStep(setPpq, { ticksPerQuarter: ppq! }),
            callStep(setLength, { bars: n }),
          )
        : mend(`Make it ${count(n, 'bar')} long`, setLength, { bars: n });
    const reachable = between && ppq === null ? [] : lengths;
    const taken = soundName !== null && soundGoesOut(target);
    report({
      code: over > 0 ? 'not-whole-bars' : 'bars-not-allowed',
      spans: [spanAt(Math.max(0, end - 1))],
      data: { bars: plain(bars), barsText: count(whole, 'bar'), allowed },
      measured: { value: Math.round(bars * 1000) / 1000, unit: 'bars' },
      allowed: {
        ...(onlyBars ? { onlyBars } : {}),
        ...(leastBars === undefined ? {} : { leastBars }),
        ...(mostBars === undefined ? {} : { mostBars }),
        wholeBars: true,
      },
      mends: [
        ...(tooLong && pieces.length === 1 ? chained(piece, target, longest) : []),
        ...reachable.filter((n) => !tooLong || n >= bars).map(long),
        // The first bars that fit are no better than any: what goes round comes first.
        ...(tooLong ? withSound(stretches(piece, block), taken) : []),
        ...reachable.filter((n) => tooLong && n < bars).map(long),
      ],
      ...(lengths.length === 0
        ? { noMend: 'No length near this one is allowed.' }
        : reachable.length === 0
          ? {
              noMend: `A bar is no whole number of ticks at PPQ ${own}, and no finer PPQ is taken.`,
            }
          : {}),
    });
  },
});
