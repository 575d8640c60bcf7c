import { barsUntil, lengthAllowed, type End } from './common';
import { count, plain } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd, lastNoteEnd } from '../../reading/ends';
import { setLength } from '../../steps/length';

/** The nearest allowed lengths: the next longer one first, then the next shorter. */
export function nearestLengths(end: End, bars: number): number[] {
  const most = Math.max(end.mostBars ?? 0, ...(end.onlyBars ?? []), Math.ceil(bars) + 1);
  let up: number | null = null;
  let down: number | null = null;
  for (let n = Math.max(1, Math.ceil(bars)); n <= most && up === null; n++)
    if (lengthAllowed(end, n)) up = n;
  for (let n = Math.min(most, Math.floor(bars)); n >= 1 && down === null; n--)
    if (lengthAllowed(end, n)) down = n;
  return [up, down].filter((n): n is number => n !== null);
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
      title: 'Ends inside a bar',
      wrong: (f) => `The piece is ${f.bars} bars long.`,
      then: (_, w) => `${w.Target} goes on at the end of the file, so the beat stumbles there.`,
    }),
    'bars-not-allowed': says<{ bars: string; barsText: string; allowed: string }>({
      title: 'A length it does not take',
      wrong: (f) => `The piece is ${f.barsText} long.`,
      then: (f, w) => `${w.Target} takes ${f.allowed}.`,
    }),
  },
  check({ block, piece, maps, report }) {
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
    const allowed = onlyBars
      ? `${onlyBars.join(', ')} bars`
      : leastBars !== undefined && mostBars !== undefined
        ? `${leastBars} to ${mostBars} whole bars`
        : mostBars !== undefined
          ? `at most ${count(mostBars, 'bar')}`
          : 'whole bars';
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
      mends: lengths.map((n) => mend(`Make it ${count(n, 'bar')} long`, setLength, { bars: n })),
      ...(lengths.length === 0 ? { noMend: 'No length near this one is allowed.' } : {}),
    });
  },
});
