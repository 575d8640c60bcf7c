import * as z from 'zod';
import { CHORD_MS, Cuts, Gone, applyTo, crowdsOf, endAt, weightIn, type Crowd } from '../crowd';
import { defineStep, done } from '../define-step';

export const fitVoices = defineStep({
  id: 'fit-voices',
  reach: 'notes',
  title: 'Fit to its voices',
  summary:
    'Where more sounds than can: what rings longest ends where the next begins; of a chord or a strum that is still too large those notes stay that are missed most: the tune, the bass, then what no other has.',
  params: z.strictObject({
    voices: z.int().min(1).max(128).describe('Notes at once'),
    over: z.enum(['seat', 'channel', 'all']).describe('What the notes are counted over'),
  }),
  describe: (p) => `at most ${p.voices} at once, of chords what is missed most`,
  apply({ piece, params, select, maps, came }) {
    const cuts = new Cuts();
    const gone = new Gone();
    const weight = weightIn(came);
    const ms = (tick: number) => maps.clock.msAt(tick);
    for (const crowd of crowdsOf(piece, select, params.over)) {
      const { start, end } = crowd;
      /** Notes that sound, in the order in which they were struck. */
      let sounding: number[] = [];
      for (let from = 0; from < crowd.count;) {
        const to = chordEnd(crowd, from, ms);
        const tick = start[from]!;
        const chord = strongest(crowd, from, to, params.voices, weight);
        for (let n = from; n < to; n++)
          if (end[n]! > start[n]! && !chord.includes(n)) gone.add(crowd, n);
        sounding = sounding.filter((n) => end[n]! > tick);
        // Room for all of the chord: what was struck first has been heard longest.
        while (sounding.length + chord.length > params.voices && sounding.length > 0) {
          endAt(crowd, sounding.shift()!, tick, maps, cuts, gone);
        }
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

/**
 * The end of the chord that begins at a note: all that is struck at its tick, and what of a strum
 * follows before any of it has ended.
 */
function chordEnd({ start, end, count }: Crowd, from: number, ms: (tick: number) => number) {
  const until = ms(start[from]!) + CHORD_MS - 1e-6;
  let to = from + 1;
  let firstEnd = end[from]!;
  while (
    to < count &&
    (start[to] === start[from] || (ms(start[to]!) < until && start[to]! < firstEnd))
  )
    firstEnd = Math.min(firstEnd, end[to++]!);
  return to;
}

/** Of a chord those that are missed most, in the order in which they are struck. */
function strongest(
  crowd: Crowd,
  from: number,
  to: number,
  voices: number,
  weight: (crowd: Crowd, n: number) => number,
): number[] {
  const chord: number[] = [];
  for (let n = from; n < to; n++) if (crowd.end[n]! > crowd.start[n]!) chord.push(n);
  if (chord.length <= voices) return chord;
  const worth = new Map(chord.map((n) => [n, weight(crowd, n)]));
  return [...chord]
    .sort((a, b) => worth.get(b)! - worth.get(a)! || a - b)
    .slice(0, voices)
    .sort((a, b) => a - b);
}
