import * as z from 'zod';
import { joinEvents, joinNotes, notesWhere, pickNotes } from '../score/columns';
import { eventsOf, inForceAt, rowsBetween } from '../score/in-force';
import { setsUp } from '../score/map-ticks';
import type { NoteFlag } from '../score/piece';
import { endTickOf, type NoteColumns, type Part, type TrackEvent } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { mapper, opened } from '../time/time-map';
import { eventsWhere, notesUntil } from './cut';
import { plain } from '../target/words';
import { defineStep, done, NewIds, withScore } from './define-step';
import { seeded } from '../sound/seeded';
import { sayVaried, varied, type Variation, type Varied } from './vary';

const sayBars = (p: { fromBar: number; bars: number }) =>
  p.bars === 1 ? `bar ${p.fromBar}` : `bars ${p.fromBar}–${p.fromBar + p.bars - 1}`;

/** How far passes may differ; null where they are all alike. */
const variationOf = ({
  velocity,
  ms,
}: {
  velocity?: number | undefined;
  ms?: number | undefined;
}): Variation | null =>
  velocity === undefined && ms === undefined ? null : { velocity: velocity ?? 0, ms: ms ?? 0 };

/**
 * Each further pass begins as the first did: what was in force at the start of the stretch is said
 * again there. What sounded before the stretch and through it sounds on through all passes; what
 * begins in it and rings over is cut where the next pass begins, and rings on from the last.
 */
export const repeat = defineStep({
  id: 'repeat',
  reach: 'piece',
  title: 'Repeat',
  summary: 'Plays a stretch of whole bars again behind itself; what follows moves later.',
  params: z.strictObject({
    fromBar: z.int().min(1).describe('First bar, from 1'),
    bars: z.int().min(1).max(1000).describe('Bars'),
    times: z.int().min(1).max(64).describe('Times more'),
    velocity: z
      .int()
      .min(0)
      .max(64)
      .optional()
      .describe('Velocity: each further pass up to so much louder or softer'),
    ms: z
      .number()
      .min(0)
      .max(60)
      .optional()
      .describe('Milliseconds: its strikes up to so much earlier or later'),
    seed: z.int().min(0).max(0x7fffffff).optional().describe('For what differs'),
  }),
  describe: (p) =>
    `repeat ${sayBars(p)} ${p.times === 1 ? 'once more' : `${p.times} times more`}` +
    (variationOf(p)
      ? `, each varied by ${p.velocity ?? 0} of velocity and ${plain(p.ms ?? 0)} ms`
      : ''),
  apply({ piece, params, maps }) {
    const { score } = piece;
    const from = maps.bars.barStart(params.fromBar - 1);
    const to = maps.bars.barStart(params.fromBar - 1 + params.bars);
    const length = to - from;
    if (from >= endTickOf(score)) return { refused: `The piece has no bar ${params.fromBar}.` };
    const grown = length * params.times;
    if (endTickOf(score) + grown > LATEST_TICK)
      return { refused: 'The end would pass the latest tick that a file can hold.' };
    const inside = (tick: number) => tick >= from && tick < to;
    const map = opened(to, grown);
    const at = mapper(map);
    const passes = Array.from({ length: params.times }, (_, k) => length * (k + 1));
    const moved = <T extends { tick: number }>(list: readonly T[]): T[] =>
      list.map((e) => ({ ...e, tick: at(e.tick) }));
    const again = <T extends { tick: number }>(list: readonly T[]): T[] => {
      const here = list.filter((e) => inside(e.tick));
      const copies = passes.flatMap((by) =>
        here.map((e) => ({ ...e, tick: e.tick + by, order: 0 })),
      );
      return [...moved(list), ...copies].sort((a, b) => a.tick - b.tick);
    };
    /** Of what conducts, the value at the start comes again with each pass, where it had changed. */
    const conducted = <T extends { tick: number }>(
      list: readonly T[],
      same: (a: T | undefined, b: T | undefined) => boolean,
      first: Omit<T, 'tick'>,
    ): T[] => {
      const all = again(list);
      if (list.some((e) => e.tick === from)) return all;
      const begun = list.filter((e) => e.tick <= from).at(-1);
      const ended = list.filter((e) => e.tick < to).at(-1);
      if (same(begun, ended)) return all;
      const restored = passes.map(
        (by) => ({ ...(begun ?? first), tick: from + by }) as unknown as T,
      );
      return [...all, ...restored].sort((a, b) => a.tick - b.tick);
    };

    const ids = new NewIds(piece);
    const vary = variationOf(params);
    const pick = seeded(params.seed ?? 1);
    const differing = passes.map((): Varied[] => []);
    const copyOf = new Map<number, number[]>();
    let added = 0;
    let cut = 0;
    const parts = score.parts.map((part): Part => {
      const { notes } = part;
      const here = notesWhere(notes, (i) => inside(notes.start[i]!));
      const over = here.filter((i) => notes.end[i]! > to);
      cut += over.length * params.times;
      const rings = new Set(over);
      const stretch = pickNotes(notes, here);
      const untilNext = notesUntil(stretch, to);
      const first: NoteColumns = {
        ...notes,
        start: notes.start.map(at),
        end: notes.end.map((t, i) =>
          rings.has(i) ? to : t <= to && notes.start[i]! < to ? t : at(t),
        ),
        offOrder: notes.offOrder.map((order, i) => (rings.has(i) ? 0 : order)),
      };
      const copies = passes.map((by, k): NoteColumns => {
        const last = k === passes.length - 1;
        let of = last ? stretch : untilNext;
        if (vary) {
          const made = varied(of, vary, { clock: maps.clock, from, to }, pick);
          differing[k]!.push(made);
          of = made.notes;
        }
        added += of.count;
        const id = of.id.map((old) => {
          const made = ids.next();
          copyOf.set(old, [...(copyOf.get(old) ?? []), made]);
          return made;
        });
        return {
          ...of,
          start: of.start.map((t) => t + by),
          end: of.end.map((t) => t + by),
          onOrder: new Uint32Array(of.count),
          offOrder: new Uint32Array(of.count),
          id,
        };
      });
      const events = eventsWhere(part.events, inside);
      const restore = rowsBetween(inForceAt(part.events, to), inForceAt(part.events, from));
      return {
        ...part,
        notes: joinNotes([first, ...copies]),
        events: joinEvents([
          { ...part.events, tick: part.events.tick.map(at) },
          ...passes.flatMap((by) => [
            eventsOf(restore, from + by),
            {
              ...events,
              tick: events.tick.map((t) => t + by),
              order: new Uint32Array(events.count),
            },
          ]),
        ]),
      };
    });
    const { conductor } = score;
    const texts = (list: readonly TrackEvent[]) => {
      const sung = list.filter((e) => inside(e.tick) && !setsUp(e));
      const copies = passes.flatMap((by) =>
        sung.map((e) => ({ ...e, tick: e.tick + by, order: 0 })),
      );
      return [...moved(list), ...copies].sort((a, b) => a.tick - b.tick);
    };
    const flagged = (list: readonly NoteFlag[]): NoteFlag[] =>
      list.map(({ flag, notes }) => ({
        flag,
        notes: new Set([...notes, ...[...notes].flatMap((id) => copyOf.get(id) ?? [])]),
      }));
    const onTrack = { track: 0, order: 0 };
    const next = withScore(piece, {
      parts,
      conductor: {
        tempos: conducted(
          conductor.tempos,
          (a, b) =>
            (a?.microsecondsPerQuarter ?? 500_000) === (b?.microsecondsPerQuarter ?? 500_000),
          { ...onTrack, microsecondsPerQuarter: 500_000 },
        ),
        meters: conducted(
          conductor.meters,
          (a, b) =>
            (a?.numerator ?? 4) === (b?.numerator ?? 4) &&
            (a?.denominator ?? 4) === (b?.denominator ?? 4),
          { ...onTrack, numerator: 4, denominator: 4, rest: Uint8Array.of(24, 8) },
        ),
        keys: conducted(conductor.keys, (a, b) => a?.bytes.join() === b?.bytes.join(), {
          ...onTrack,
          bytes: Uint8Array.of(0, 0),
        }),
        markers: again(conductor.markers),
      },
      tracks: score.tracks.map((t) => ({
        ...t,
        endTick: t.endTick >= to ? t.endTick + grown : t.endTick,
        events: texts(t.events),
      })),
    });
    const result = done(
      ids.keep({
        ...next,
        ...(piece.captions ? { captions: again(piece.captions) } : {}),
        ...(piece.flags ? { flags: flagged(piece.flags) } : {}),
      }),
      { added, changed: cut, verb: 'cut where the next pass begins' },
      [],
      map,
    );
    if (!vary) return result;
    // The first pass stays as it was written; what the others have of their own is told.
    const told = differing.map((all, k) => sayVaried(k + 2, all)).join('; ');
    return { ...result, effect: { ...result.effect, says: `${result.effect.says}; ${told}` } };
  },
});
