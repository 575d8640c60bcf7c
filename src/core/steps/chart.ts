import * as z from 'zod';
import { count, plain } from '../target/words';
import { defineStep, done } from './define-step';
import { applyTo, crowdsOf, Cuts, Gone } from './crowd';

const noteNumber = z.int().min(0).max(127);

export const reduceChords = defineStep({
  id: 'reduce-chords',
  reach: 'notes',
  title: 'Reduce chords',
  summary: 'Where more notes are struck together than may be, drops the top or the bottom ones.',
  params: z.strictObject({
    most: z.int().min(1).max(16).describe('Notes that may be struck together'),
    drop: z.enum(['top', 'bottom']),
    lanes: z.array(noteNumber).max(64).optional().describe('Only on these note numbers'),
  }),
  describe: (p) => `reduce chords to ${p.most}, drop the ${p.drop}`,
  apply({ piece, params, select }) {
    const lanes = params.lanes && new Set(params.lanes);
    const gone = new Gone();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      for (let from = 0; from < crowd.count;) {
        let to = from + 1;
        while (to < crowd.count && crowd.start[to] === crowd.start[from]) to++;
        const chord: number[] = [];
        for (let n = from; n < to; n++) if (!lanes || lanes.has(crowd.key[n]!)) chord.push(n);
        chord.sort((a, b) => crowd.key[a]! - crowd.key[b]!);
        while (chord.length > params.most)
          gone.add(crowd, params.drop === 'top' ? chord.pop()! : chord.shift()!);
        from = to;
      }
    }
    return done(applyTo(piece, new Cuts(), gone), { dropped: gone.count }, [
      { what: 'notes', count: gone.count },
    ]);
  },
});

export const holdRules = defineStep({
  id: 'hold-rules',
  reach: 'notes',
  title: 'Holds and strikes',
  summary:
    'Says which notes are holds: short ones become strikes, holds leave a gap, or none overlap.',
  params: z.strictObject({
    holdMs: z.number().min(1).max(10_000).describe('Milliseconds: as long as this is a hold'),
    strikeMs: z
      .number()
      .min(1)
      .max(10_000)
      .optional()
      .describe('Milliseconds: shorter notes get this length'),
    releaseGapMs: z
      .number()
      .min(0)
      .max(10_000)
      .optional()
      .describe('Milliseconds from the end of a hold to the next note of its lane'),
    noOverlap: z.boolean().optional().describe('A hold ends where another begins later'),
    lanes: z.array(noteNumber).max(64).optional().describe('Only on these note numbers'),
  }),
  describe: (p) =>
    [
      `holds from ${plain(p.holdMs)} ms`,
      p.strikeMs === undefined ? '' : `strikes of ${plain(p.strikeMs)} ms`,
      p.releaseGapMs === undefined ? '' : `${plain(p.releaseGapMs)} ms between`,
      p.noOverlap ? 'none overlap' : '',
    ]
      .filter(Boolean)
      .join(', '),
  apply({ piece, params, select, maps }) {
    const { clock } = maps;
    const lanes = params.lanes && new Set(params.lanes);
    const tickUpTo = (from: number, ms: number) => {
      let tick = clock.tickAt(ms);
      while (tick > from + 1 && clock.msAt(tick) > ms + 1e-6) tick--;
      return Math.max(from + 1, tick);
    };
    const cuts = new Cuts();
    for (const crowd of crowdsOf(piece, select, 'seat')) {
      const ends = new Map<number, number>();
      const endOf = (n: number) => ends.get(n) ?? crowd.end[n]!;
      const isHold = (n: number) =>
        clock.msAt(endOf(n)) - clock.msAt(crowd.start[n]!) >= params.holdMs - 1e-6;
      const ours: number[] = [];
      for (let n = 0; n < crowd.count; n++) if (!lanes || lanes.has(crowd.key[n]!)) ours.push(n);
      if (params.strikeMs !== undefined)
        for (const n of ours)
          if (!isHold(n))
            ends.set(n, tickUpTo(crowd.start[n]!, clock.msAt(crowd.start[n]!) + params.strikeMs));
      /** Holds that began last, at one tick; those before have ended by then. */
      let held: number[] = [];
      const before = new Map<number, number>();
      for (const n of ours) {
        const start = crowd.start[n]!;
        if (params.noOverlap && isHold(n)) {
          if (held.length > 0 && crowd.start[held[0]!]! < start) {
            for (const h of held) if (endOf(h) > start) ends.set(h, start);
            held = [];
          }
          held.push(n);
        }
        const last = before.get(crowd.key[n]!);
        before.set(crowd.key[n]!, n);
        if (params.releaseGapMs === undefined || last === undefined || !isHold(last)) continue;
        const by = clock.msAt(start) - params.releaseGapMs;
        if (clock.msAt(endOf(last)) > by + 1e-6) ends.set(last, tickUpTo(crowd.start[last]!, by));
      }
      for (const [n, end] of ends) if (end !== crowd.end[n]) cuts.set(crowd, n, end);
    }
    const next = applyTo(piece, cuts, new Gone());
    return done(next, { changed: cuts.count, verb: 'of another length' });
  },
});

export const flags = defineStep({
  id: 'flags',
  reach: 'notes',
  title: 'Flag notes',
  summary: 'Gives the chosen notes a flag of the chart, or takes it from them.',
  params: z.strictObject({
    flag: z.string().min(1).max(60).describe('Flag'),
    take: z.boolean().optional().describe('Take the flag away'),
  }),
  describe: (p) => `${p.take ? 'take the flag' : 'flag'} “${p.flag}”`,
  apply({ piece, params, select }) {
    const there = piece.flags?.find((f) => f.flag === params.flag)?.notes ?? new Set<number>();
    const next = new Set(there);
    for (const part of piece.score.parts) {
      if (!select.part(part) || part.leftOut) continue;
      for (let i = 0; i < part.notes.count; i++) {
        if (!select.note(part, i)) continue;
        if (params.take) next.delete(part.notes.id[i]!);
        else next.add(part.notes.id[i]!);
      }
    }
    const changed = Math.abs(next.size - there.size);
    if (changed === 0) return done(piece, {});
    const others = (piece.flags ?? []).filter((f) => f.flag !== params.flag);
    const list = next.size === 0 ? others : [...others, { flag: params.flag, notes: next }];
    return done(
      { ...piece, flags: list },
      { changed, verb: params.take ? 'without the flag' : 'flagged', says: count(0, 'note') },
    );
  },
});
