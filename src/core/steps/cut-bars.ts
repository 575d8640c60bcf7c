import * as z from 'zod';
import { joinEvents, notesWhere, pickNotes } from '../score/columns';
import { eventsOf, inForceAt, rowsBetween } from '../score/in-force';
import { setsUp } from '../score/map-ticks';
import { endTickOf, isIn, type Part, type TrackEvent } from '../score/score';
import { closed, mapper } from '../time/time-map';
import { eventsWhere } from './cut';
import { defineStep, done, withScore } from './define-step';

const sayBars = (p: { fromBar: number; bars: number }) =>
  p.bars === 1 ? `bar ${p.fromBar}` : `bars ${p.fromBar} to ${p.fromBar + p.bars - 1}`;

/**
 * What stands behind the bars is as it would be after them: programs, controllers, tempo, meter and
 * key that were set in them are set where they were. A note that rings into them ends at the cut; one
 * that rings over them is shorter by as much.
 */
export const cutBars = defineStep({
  id: 'cut-bars',
  reach: 'piece',
  title: 'Cut bars out',
  summary: 'Takes a stretch of whole bars out; what follows moves up, and sounds as it did.',
  params: z.strictObject({
    fromBar: z.int().min(1).max(100_000).describe('First bar, from 1'),
    bars: z.int().min(1).max(100_000).describe('How many'),
  }),
  describe: (p) => `cut ${sayBars(p)} out`,
  apply({ piece, params, maps }) {
    const { score } = piece;
    const from = maps.bars.barStart(params.fromBar - 1);
    const to = maps.bars.barStart(params.fromBar - 1 + params.bars);
    if (from >= endTickOf(score)) return { refused: `The piece has no bar ${params.fromBar}.` };
    const map = closed(from, to);
    const at = mapper(map);
    const inside = (tick: number) => tick >= from && tick < to;
    const outside = (tick: number) => !inside(tick);
    let gone = 0;
    let cut = 0;
    const taken = new Set<number>();
    const parts = score.parts.map((part): Part => {
      const { notes, events } = part;
      const kept = notesWhere(notes, (i) => outside(notes.start[i]!));
      const left = kept.length === notes.count ? notes : pickNotes(notes, kept);
      for (let i = 0; i < notes.count; i++) {
        if (!inside(notes.start[i]!)) continue;
        taken.add(notes.id[i]!);
        if (isIn(part)) gone++;
      }
      const end = left.end.map((t, i) => {
        const rings = left.start[i]! < from && t > from;
        if (rings && isIn(part)) cut++;
        // A note that begins before the cut keeps a tick of it.
        return Math.max(at(t), at(left.start[i]!) + (t > left.start[i]! ? 1 : 0));
      });
      const restore = rowsBetween(inForceAt(events, from), inForceAt(events, to));
      const staying = eventsWhere(events, outside);
      const before = eventsWhere(staying, (t) => t < from);
      const behind = eventsWhere(staying, (t) => t >= to);
      return {
        ...part,
        notes: { ...left, start: left.start.map(at), end },
        events: joinEvents([
          before,
          eventsOf(restore, from),
          { ...behind, tick: behind.tick.map(at) },
        ]),
      };
    });
    const { conductor } = score;
    const moved = <T extends { tick: number }>(list: readonly T[]): T[] =>
      list.filter((e) => outside(e.tick)).map((e) => ({ ...e, tick: at(e.tick) }));
    /** Of what conducts, that which was set in the bars holds behind them. */
    const conducted = <T extends { tick: number }>(list: readonly T[]): T[] => {
      const set = list.filter((e) => inside(e.tick)).at(-1);
      const again = list.some((e) => e.tick === to);
      if (!set || again) return moved(list);
      return [...moved(list), { ...set, tick: from }].sort((a, b) => a.tick - b.tick);
    };
    const texts = (list: readonly TrackEvent[]) =>
      list
        .filter((e) => outside(e.tick) || (e.tick === 0 && setsUp(e)))
        .map((e) => ({ ...e, tick: at(e.tick) }));
    const captions = piece.captions && moved(piece.captions);
    const next = withScore(piece, {
      parts,
      conductor: {
        tempos: conducted(conductor.tempos),
        meters: conducted(conductor.meters),
        keys: conducted(conductor.keys),
        markers: moved(conductor.markers),
      },
      tracks: score.tracks.map((t) => ({ ...t, endTick: at(t.endTick), events: texts(t.events) })),
    });
    const flags = piece.flags?.map(({ flag, notes }) => ({
      flag,
      notes: new Set([...notes].filter((id) => !taken.has(id))),
    }));
    const markers = conductor.markers.filter((m) => inside(m.tick)).length;
    const lost = (piece.captions?.length ?? 0) - (captions?.length ?? 0);
    return done(
      { ...next, ...(captions ? { captions } : {}), ...(flags ? { flags } : {}) },
      { changed: cut, verb: 'cut where the bars were' },
      [
        { what: 'notes in the bars', count: gone },
        { what: 'markers in the bars', count: markers },
        { what: 'captions in the bars', count: lost },
      ],
      map,
    );
  },
});
