import * as z from 'zod';
import { mapsOf } from '../score/inventory';
import { endTickOf, isIn } from '../score/score';
import { cutPiece } from './cut';
import { defineStep, done, withScore } from './define-step';

const MOST_LOOKS = 8;

export const keepBars = defineStep({
  id: 'keep-bars',
  reach: 'piece',
  title: 'Keep a stretch of bars',
  summary:
    'The stretch becomes the piece, with what is in force where it begins. What rings on is cut.',
  params: z.strictObject({
    fromBar: z.int().min(1).max(100_000).describe('First bar, from 1'),
    bars: z.int().min(1).max(100_000).describe('How many'),
  }),
  describe: (p) => `keep bars ${p.fromBar} to ${p.fromBar + p.bars - 1}`,
  apply({ piece, params, maps }) {
    const from = maps.bars.barStart(params.fromBar - 1);
    const to = maps.bars.barStart(params.fromBar - 1 + params.bars);
    if (from >= endTickOf(piece.score))
      return { refused: `The piece has no bar ${params.fromBar}.` };
    // Bars of a broken number of ticks, and meters inside one, are counted anew from where it begins.
    let made = cutPiece(piece, from, to);
    const lengths = [to - from];
    while (lengths.length < MOST_LOOKS) {
      const counted = mapsOf(made.piece.score).bars.barStart(params.bars);
      if (counted === lengths.at(-1)) break;
      lengths.push(counted);
      made = cutPiece(piece, from, from + counted);
    }
    // A meter that begins where the last bar ends without it, and ends that bar, goes.
    if (lengths.length === MOST_LOOKS) {
      const [short, long] = [...lengths.slice(-2)].sort((x, y) => x - y) as [number, number];
      const cut = cutPiece(piece, from, from + long);
      const { conductor } = cut.piece.score;
      const meters = conductor.meters.filter((m) => m.tick < short);
      made = { ...cut, piece: withScore(cut.piece, { conductor: { ...conductor, meters } }) };
    }
    const before = piece.score.parts.reduce((n, p) => n + (isIn(p) ? p.notes.count : 0), 0);
    const captions = (piece.captions?.length ?? 0) - (made.piece.captions?.length ?? 0);
    return done(made.piece, { changed: made.taken.size, verb: 'kept' }, [
      { what: 'notes outside the bars', count: before - made.taken.size },
      { what: 'notes cut at the end', count: made.cut },
      { what: 'captions outside the bars', count: captions },
    ]);
  },
});
