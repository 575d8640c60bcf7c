import * as z from 'zod';
import type { Maps } from '../../score/inventory';
import { Cuts, Gone, applyTo, crowdsOf, weightIn, type Crowd } from '../crowd';
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
    keep: z
      .enum(['first', 'loudest', 'beats'])
      .describe(
        'Of what stands too close: the first, the loudest, or what is missed most: the tune and the beats',
      ),
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
    const beats = p.keep === 'beats' ? ', keep the beats' : '';
    if (p.mostInASecond !== undefined) return `thin to ${p.mostInASecond} strikes a second${beats}`;
    if (p.apartRows !== undefined) return `thin to ${p.apartRows} rows apart${per}${beats}`;
    return `thin to ${plain(p.apartMs ?? 0)} ms apart${per}, keep the ${p.keep}`;
  },
  apply({ piece, params, select, maps, came }) {
    const { apartMs, apartRows, rowsPerSecond, mostInASecond } = params;
    const rows = apartRows !== undefined && rowsPerSecond !== undefined;
    if (apartMs === undefined && mostInASecond === undefined && !rows)
      return { refused: 'A distance is needed: milliseconds, rows, or strikes a second.' };
    const gone = new Gone();
    const weight = params.keep === 'beats' ? weightIn(came) : null;
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      const lanes = params.lanes && new Set(params.lanes);
      const ours = Array.from({ length: crowd.count }, (_, n) => n).filter(
        (n) => lanes === undefined || lanes.has(crowd.key[n]!),
      );
      const worth = weight && ((n: number) => ITSELF + weight(crowd, n));
      if (mostInASecond !== undefined)
        if (worth) keepStrongest(crowd, ours, maps, mostInASecond, worth, gone);
        else thinSeconds(crowd, ours, maps, mostInASecond, gone);
      else {
        const apart = rows ? apartRows : apartMs!;
        // A hair's breadth under is rounding in the derived clock time, not a breach.
        const place = rows
          ? (tick: number) => Math.round((maps.clock.msAt(tick) * rowsPerSecond) / 1000)
          : (tick: number) => maps.clock.msAt(tick) + 1e-6;
        if (worth) keepBeats(crowd, ours, params, place, apart, worth, gone);
        else
          thinApart(
            crowd,
            ours,
            { ...params, loudest: params.keep === 'loudest' },
            place,
            apart,
            gone,
          );
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
  p: { per: 'key' | 'seat'; loudest: boolean; chordsToo?: boolean | undefined },
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
    else if (p.loudest && before.kept.every((kept) => crowd.velocity[n]! > crowd.velocity[kept]!)) {
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

/** What a note counts for being one, beside what is lost without it. */
const ITSELF = 0.3;

interface Strike {
  readonly at: number;
  readonly notes: number[];
  worth: number;
}

/** Notes that stay or go together, by slot: each by itself, or what is struck at one tick. */
function strikesOf(
  crowd: Crowd,
  ours: readonly number[],
  slotOf: (n: number) => number,
  chords: boolean,
  place: (tick: number) => number,
  worth: (n: number) => number,
): Map<number, Strike[]> {
  const slots = new Map<number, Strike[]>();
  for (const n of ours) {
    const slot = slotOf(n);
    const list = slots.get(slot) ?? [];
    if (list.length === 0) slots.set(slot, list);
    const last = list.at(-1);
    if (chords && last && crowd.start[last.notes[0]!] === crowd.start[n]) {
      last.notes.push(n);
      last.worth += worth(n);
    } else list.push({ at: place(crowd.start[n]!), notes: [n], worth: worth(n) });
  }
  return slots;
}

/** Of each slot the strikes that are worth most together, none too close to another: by stages. */
function keepBeats(
  crowd: Crowd,
  ours: readonly number[],
  p: { per: 'key' | 'seat'; chordsToo?: boolean | undefined },
  place: (tick: number) => number,
  apart: number,
  worth: (n: number) => number,
  gone: Gone,
) {
  const slotOf = (n: number) => (p.per === 'key' ? crowd.key[n]! : 0);
  const chords = p.per === 'seat' && !p.chordsToo;
  for (const strikes of strikesOf(crowd, ours, slotOf, chords, place, worth).values()) {
    const best = new Float64Array(strikes.length + 1);
    const before = new Int32Array(strikes.length);
    let earlier = 0;
    strikes.forEach((strike, i) => {
      while (earlier < i && strike.at - strikes[earlier]!.at >= apart - 2e-6) earlier++;
      before[i] = earlier;
      best[i + 1] = Math.max(best[i]!, best[earlier]! + strike.worth);
    });
    for (let i = strikes.length - 1; i >= 0;) {
      // Of two that are worth the same the earlier stays.
      if (best[before[i]!]! + strikes[i]!.worth > best[i]!) {
        for (let k = i - 1; k >= before[i]!; k--)
          strikes[k]!.notes.forEach((n) => gone.add(crowd, n));
        i = before[i]! - 1;
      } else strikes[i--]!.notes.forEach((n) => gone.add(crowd, n));
    }
  }
}

/** Wherever a second holds too much, the weakest strike in it goes. */
function keepStrongest(
  crowd: Crowd,
  ours: readonly number[],
  { clock }: Maps,
  most: number,
  worth: (n: number) => number,
  gone: Gone,
) {
  const time = (tick: number) => clock.msAt(tick);
  for (const strikes of strikesOf(crowd, ours, () => 0, true, time, worth).values()) {
    const kept: Strike[] = [];
    for (const strike of strikes) {
      while (kept.length > 0 && strike.at - kept[0]!.at >= 1000 - 1e-6) kept.shift();
      kept.push(strike);
      if (kept.length <= most) continue;
      let weakest = kept.length - 1;
      kept.forEach((k, i) => {
        if (k.worth < kept[weakest]!.worth) weakest = i;
      });
      for (const n of kept.splice(weakest, 1)[0]!.notes) gone.add(crowd, n);
    }
  }
}
