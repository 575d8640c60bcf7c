import * as z from 'zod';
import type { Maps } from '../../score/inventory';
import { Cuts, Gone, applyTo, crowdsOf, type Crowd } from '../crowd';
import { defineStep, done } from '../define-step';
import { plain } from '../../target/words';

export const thin = defineStep({
  id: 'thin',
  reach: 'notes',
  title: 'Thin',
  summary: 'Drops notes that follow another too soon, or that are too many for a second.',
  params: z.strictObject({
    apartMs: z.number().min(0).max(60_000).optional().describe('Milliseconds from start to start'),
    mostInASecond: z
      .int()
      .min(1)
      .max(1000)
      .optional()
      .describe('Strikes in any one second over the seat; a chord counts once'),
    rowsPerSecond: z.number().min(0.1).max(1000).optional().describe('Rows of a strip'),
    apartRows: z.int().min(1).max(100).optional().describe('Rows from start to start'),
    per: z.enum(['key', 'seat']).describe('Counted on each key, or over the seat'),
    keep: z.enum(['first', 'loudest']),
    chordsToo: z
      .boolean()
      .optional()
      .describe('Over the seat: of notes struck together only one stays'),
    lanes: z
      .array(z.int().min(0).max(127))
      .max(64)
      .optional()
      .describe('Only on these note numbers'),
  }),
  describe: (p) => {
    const per = p.per === 'key' ? ' on a key' : '';
    if (p.mostInASecond !== undefined) return `thin to ${p.mostInASecond} strikes a second`;
    if (p.apartRows !== undefined) return `thin to ${p.apartRows} rows apart${per}`;
    return `thin to ${plain(p.apartMs ?? 0)} ms apart${per}, keep the ${p.keep}`;
  },
  apply({ piece, params, select, maps }) {
    const { apartMs, apartRows, rowsPerSecond, mostInASecond } = params;
    const rows = apartRows !== undefined && rowsPerSecond !== undefined;
    if (apartMs === undefined && mostInASecond === undefined && !rows)
      return { refused: 'A distance is needed: milliseconds, rows, or strikes a second.' };
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      const lanes = params.lanes && new Set(params.lanes);
      const ours = Array.from({ length: crowd.count }, (_, n) => n).filter(
        (n) => lanes === undefined || lanes.has(crowd.key[n]!),
      );
      if (mostInASecond !== undefined) thinSeconds(crowd, ours, maps, mostInASecond, gone);
      else {
        const apart = rows ? apartRows : apartMs!;
        // A hair's breadth under is rounding in the derived clock time, not a breach.
        const place = rows
          ? (tick: number) => Math.round((maps.clock.msAt(tick) * rowsPerSecond) / 1000)
          : (tick: number) => maps.clock.msAt(tick) + 1e-6;
        thinApart(crowd, ours, params, place, apart, gone);
      }
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});

/** Keeps what stands far enough from the last that was kept in its slot. */
function thinApart(
  crowd: Crowd,
  ours: readonly number[],
  p: { per: 'key' | 'seat'; keep: 'first' | 'loudest'; chordsToo?: boolean | undefined },
  place: (tick: number) => number,
  apart: number,
  gone: Gone,
) {
  const chords = p.per === 'seat' && !p.chordsToo;
  // The last notes that were kept, struck together, in each slot.
  const slots: { kept: number[]; at: number }[] = [];
  for (const n of ours) {
    const slot = p.per === 'key' ? crowd.key[n]! : 0;
    const before = slots[slot];
    const start = crowd.start[n]!;
    if (before && chords && crowd.start[before.kept[0]!] === start) {
      before.kept.push(n);
      continue;
    }
    const at = place(start);
    if (!before || at - before.at >= apart - 2e-6) slots[slot] = { kept: [n], at };
    else if (
      p.keep === 'loudest' &&
      before.kept.every((kept) => crowd.velocity[n]! > crowd.velocity[kept]!)
    ) {
      before.kept.forEach((kept) => gone.add(crowd, kept));
      slots[slot] = { kept: [n], at };
    } else gone.add(crowd, n);
  }
}

/** As few strikes as can be go so that no second holds more than it may. */
function thinSeconds(
  crowd: Crowd,
  ours: readonly number[],
  { clock }: Maps,
  most: number,
  gone: Gone,
) {
  /** Times of the strikes that were kept; the last `most` of them decide. */
  const kept: number[] = [];
  let tick = -1;
  let keeps = true;
  for (const n of ours) {
    if (crowd.start[n] !== tick) {
      tick = crowd.start[n]!;
      const ms = clock.msAt(tick);
      const earlier = kept[kept.length - most];
      keeps = earlier === undefined || ms - earlier >= 1000 - 1e-6;
      if (keeps) kept.push(ms);
    }
    if (!keeps) gone.add(crowd, n);
  }
}
