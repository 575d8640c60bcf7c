import * as z from 'zod';
import { Cuts, Gone, applyTo, crowdsOf } from '../crowd';
import { defineStep, done } from '../define-step';

export const fitVoices = defineStep({
  id: 'fit-voices',
  reach: 'notes',
  title: 'Fit to its voices',
  summary:
    'Where more sounds than can: what rings longest ends where the next begins; of a chord that is still too large doublings go first, then inner notes, the softest of equals; top and bottom stay.',
  params: z.strictObject({
    voices: z.int().min(1).max(128).describe('Notes at once'),
    over: z.enum(['seat', 'channel', 'all']).describe('What the notes are counted over'),
  }),
  describe: (p) => `at most ${p.voices} at once, the outer notes of a chord kept`,
  apply({ piece, params, select }) {
    const cuts = new Cuts();
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, params.over)) {
      const { start, end, key, velocity } = crowd;
      /** Notes that sound, in the order in which they were struck. */
      let sounding: number[] = [];
      for (let from = 0; from < crowd.count;) {
        let to = from + 1;
        while (to < crowd.count && start[to] === start[from]) to++;
        const tick = start[from]!;
        let chord = Array.from({ length: to - from }, (_, k) => from + k).filter(
          (n) => end[n]! > tick,
        );
        while (chord.length > params.voices) {
          const out = leastOf(chord, key, velocity);
          gone.add(crowd, out);
          chord = chord.filter((n) => n !== out);
        }
        sounding = sounding.filter((n) => end[n]! > tick);
        // Room for all of the chord: what was struck first has been heard longest.
        while (sounding.length + chord.length > params.voices && sounding.length > 0)
          cuts.set(crowd, sounding.shift()!, tick);
        sounding.push(...chord);
        from = to;
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { changed: cuts.count, verb: 'shortened', dropped: gone.count },
      [{ what: 'notes', count: gone.count }],
    );
  },
});

/** The note of a chord that is missed least: one whose pitch class another has, else an inner one. */
function leastOf(
  chord: readonly number[],
  keys: ArrayLike<number>,
  velocity: ArrayLike<number>,
): number {
  const sorted = [...chord].sort((a, b) => keys[a]! - keys[b]! || a - b);
  const classes = new Map<number, number>();
  for (const n of sorted) classes.set(keys[n]! % 12, (classes.get(keys[n]! % 12) ?? 0) + 1);
  const inner = sorted.length > 2 ? sorted.slice(1, -1) : sorted.slice(0, 1);
  const doubled = inner.filter((n) => classes.get(keys[n]! % 12)! > 1);
  const pool = doubled.length > 0 ? doubled : inner;
  return pool.reduce((a, b) => (velocity[b]! < velocity[a]! ? b : a));
}
