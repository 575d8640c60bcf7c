import * as z from 'zod';
import { Cuts, Gone, applyTo, crowdsOf, endAt, weightIn, type Crowd } from '../crowd';
import { defineStep, done } from '../define-step';
import { plain } from '../../target/words';

/** Which of two notes of a crowd is worth less comes last. */
const WORTH: Record<
  'highest' | 'lowest' | 'loudest' | 'newest',
  (c: Crowd) => (a: number, b: number) => number
> = {
  highest: (c) => (a, b) => c.key[b]! - c.key[a]!,
  lowest: (c) => (a, b) => c.key[a]! - c.key[b]!,
  loudest: (c) => (a, b) => c.velocity[b]! - c.velocity[a]! || c.key[b]! - c.key[a]!,
  newest: (c) => (a, b) => c.start[b]! - c.start[a]! || c.key[b]! - c.key[a]!,
};

export const keepVoices = defineStep({
  id: 'keep-voices',
  reach: 'notes',
  title: 'Keep voices',
  summary: 'Where too many notes sound at once, keeps the ones that matter and drops the others.',
  params: z.strictObject({
    voices: z.int().min(1).max(127).describe('Notes that may sound at once'),
    keep: z
      .enum(['missed', 'highest', 'lowest', 'newest', 'loudest'])
      .describe('Those that would be missed most, or by key, time or velocity'),
    over: z.enum(['seat', 'all']).describe('Counted by seat, or over everything'),
    rowsPerSecond: z
      .number()
      .min(0.1)
      .max(1000)
      .optional()
      .describe('Counted by row of a strip, whatever sounds on'),
  }),
  describe: (p) =>
    `keep the ${p.voices === 1 ? '' : `${p.voices} `}${p.keep === 'missed' ? 'most missed' : p.keep} ${p.rowsPerSecond === undefined ? 'at once' : `of a row (${plain(p.rowsPerSecond)} a second)`}`,
  apply({ piece, params, select, maps, came }) {
    const gone = new Gone();
    const cuts = new Cuts();
    const weight = weightIn(came);
    for (const crowd of crowdsOf(piece, select, params.over)) {
      const worth =
        params.keep === 'missed'
          ? (a: number, b: number) => weight(crowd, b) - weight(crowd, a) || a - b
          : WORTH[params.keep](crowd);
      if (params.rowsPerSecond !== undefined) {
        const rows = new Map<number, number[]>();
        for (let n = 0; n < crowd.count; n++) {
          const row = Math.round((maps.clock.msAt(crowd.start[n]!) * params.rowsPerSecond) / 1000);
          const there = rows.get(row);
          if (there) there.push(n);
          else rows.set(row, [n]);
        }
        for (const row of rows.values())
          for (const n of row.sort(worth).slice(params.voices)) gone.add(crowd, n);
        continue;
      }
      const sounding: number[] = [];
      for (let n = 0; n < crowd.count; n++) {
        const start = crowd.start[n]!;
        let still = 0;
        for (const s of sounding) if (crowd.end[s]! > start) sounding[still++] = s;
        sounding.length = still;
        sounding.push(n);
        while (sounding.length > params.voices) {
          sounding.sort(worth);
          const least = sounding.pop()!;
          // What sounded before ends where the better one begins; what begins now and is worth
          // less does not begin.
          if (crowd.start[least]! < start) endAt(crowd, least, start, maps, cuts, gone);
          else gone.add(crowd, least);
        }
      }
    }
    return done(
      applyTo(piece, cuts, gone),
      { dropped: gone.count, changed: cuts.count, verb: 'shortened' },
      [{ what: 'notes', count: gone.count }],
    );
  },
});
