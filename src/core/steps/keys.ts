import * as z from 'zod';
import { joinNotes, newNotes, notesWhere, pickNotes } from '../score/columns';
import { OFF_BY_NOTE_OFF, ticksPerQuarterOf, type NoteColumns } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { count, noteName } from '../target/words';
import { mapTick } from '../time/time-map';
import { changeParts, defineStep, done, NewIds } from './define-step';
import { seeded } from '../sound/seeded';

const noteNumber = z.int().min(0).max(127);

export const mapKeys = defineStep({
  id: 'map-keys',
  reach: 'notes',
  title: 'Map keys',
  summary: 'Moves notes from one key to another, key by key: drums of one kit to those of another.',
  params: z.strictObject({
    keys: z
      .array(
        z.strictObject({
          from: noteNumber.describe('Note number'),
          to: noteNumber.describe('Note number'),
        }),
      )
      .min(1)
      .max(128),
  }),
  describe: ({ keys }) =>
    `map ${keys
      .slice(0, 4)
      .map((k) => `${k.from} to ${k.to}`)
      .join(', ')}${keys.length > 4 ? ` and ${keys.length - 4} more` : ''}`,
  apply(input) {
    const to = new Map(input.params.keys.map((k) => [k.from, k.to]));
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const mapped = Uint8Array.from(part.notes.noteNumber);
      let touched = 0;
      for (let i = 0; i < part.notes.count; i++) {
        const key = to.get(mapped[i]!);
        if (key === undefined || key === mapped[i] || !input.select.note(part, i)) continue;
        mapped[i] = key;
        touched++;
      }
      changed += touched;
      return touched === 0 ? part : { ...part, notes: { ...part.notes, noteNumber: mapped } };
    });
    return done(piece, { changed, verb: 'on other keys' });
  },
});

export const replaceByPattern = defineStep({
  id: 'replace-by-pattern',
  reach: 'notes',
  title: 'Replace by a pattern',
  summary: 'Puts a pattern of notes in the place of one note: what a sampled loop stood for.',
  params: z.strictObject({
    noteNumber: noteNumber.describe('The note that stands for the loop'),
    pattern: z
      .array(
        z.strictObject({
          beat: z.number().min(0).max(256).describe('Quarter notes from its start'),
          lengthBeats: z.number().min(0.01).max(256).describe('Quarter notes'),
          noteNumber,
          velocity: z.int().min(1).max(127),
        }),
      )
      .min(1)
      .max(512),
    everyBeats: z
      .number()
      .min(0.25)
      .max(256)
      .optional()
      .describe('Quarter notes after which it comes again while the note sounds'),
  }),
  describe: (p) =>
    `replace ${noteName(p.noteNumber)} by a pattern of ${count(p.pattern.length, 'note')}`,
  apply(input) {
    const { params, piece, select } = input;
    const quarter = ticksPerQuarterOf(piece.score.division);
    const ids = new NewIds(piece);
    let replaced = 0;
    let added = 0;
    const next = changeParts(input, (part) => {
      const { notes } = part;
      const loops = notesWhere(
        notes,
        (i) => notes.noteNumber[i] === params.noteNumber && select.note(part, i),
      );
      if (loops.length === 0) return part;
      const gone = new Set(loops);
      const rows: [number, number, number, number, number][] = [];
      for (const i of loops) {
        const end = notes.end[i]!;
        const every = params.everyBeats === undefined ? Infinity : params.everyBeats * quarter;
        for (let pass = 0; notes.start[i]! + pass < end; pass += every) {
          for (const p of params.pattern) {
            const start = Math.round(notes.start[i]! + pass + p.beat * quarter);
            if (start >= end) continue;
            const stop = Math.min(end, Math.round(start + p.lengthBeats * quarter));
            rows.push([
              start,
              Math.max(stop, start + 1),
              p.noteNumber,
              p.velocity,
              notes.origin[i]!,
            ]);
          }
          if (every === Infinity) break;
        }
      }
      replaced += loops.length;
      added += rows.length;
      const kept = pickNotes(
        notes,
        notesWhere(notes, (i) => !gone.has(i)),
      );
      return { ...part, notes: joinNotes([kept, notesOf(rows, ids.next)]) };
    });
    return done(ids.keep(next), { dropped: replaced, added }, [
      { what: 'notes replaced', count: replaced },
    ]);
  },
});

/** Columns from rows of start, end, key, velocity and origin. */
export function notesOf(
  rows: readonly (readonly [number, number, number, number, number])[],
  id: () => number,
): NoteColumns {
  const notes = newNotes(rows.length);
  rows.forEach(([start, end, key, velocity, origin], i) => {
    notes.start[i] = start;
    notes.end[i] = end;
    notes.noteNumber[i] = key;
    notes.velocity[i] = velocity;
    notes.offVelocity[i] = 64;
    notes.offKind[i] = OFF_BY_NOTE_OFF;
    notes.id[i] = id();
    notes.origin[i] = origin;
  });
  return notes;
}

/** A stretch, on ticks of the base, whose notes take lanes in an order that was written down. */
const Directed = z.strictObject({
  fromTick: z.int().min(0).max(LATEST_TICK).describe('Ticks'),
  toTick: z.int().min(1).max(LATEST_TICK).describe('Ticks'),
  order: z
    .array(z.int().min(1).max(64))
    .min(1)
    .max(512)
    .describe('Lanes from 1, note for note, round and round'),
});

export const lanes = defineStep({
  id: 'lanes',
  reach: 'notes',
  title: 'Lay on lanes',
  summary:
    'Puts notes on the lanes of a chart: by their keys, by the contour of the line, or shuffled.',
  params: z.strictObject({
    lanes: z.array(noteNumber).min(1).max(64).describe('Note numbers of the lanes, from the left'),
    by: z.enum(['keys', 'contour', 'shuffle']),
    seed: z.int().min(0).max(0x7fffffff).optional().describe('For the shuffle'),
    directed: z
      .array(Directed)
      .max(200)
      .optional()
      .describe('Stretches that are laid by hand; the rest stays as it is laid'),
  }),
  describe: (p) =>
    `lay on ${count(p.lanes.length, 'lane')} by ${p.by}` +
    (p.by === 'shuffle' ? ` (seed ${p.seed ?? 1})` : '') +
    (p.directed?.length ? `, ${count(p.directed.length, 'stretch', 'stretches')} by hand` : ''),
  apply(input) {
    const { params, select } = input;
    const all = params.lanes;
    const told = params.directed?.flatMap((d) => d.order).find((n) => n > all.length);
    if (told !== undefined)
      return { refused: `There is no lane ${told}: the seat has ${count(all.length, 'lane')}.` };
    const directed = (params.directed ?? []).map((d) => ({
      ...d,
      from: mapTick(input.piece.fromBase, d.fromTick),
      to: mapTick(input.piece.fromBase, d.toTick),
    }));
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const chosen = notesWhere(notes, (i) => select.note(part, i));
      if (chosen.length === 0) return part;
      const moved = Uint8Array.from(notes.noteNumber);
      const pick = seeded(params.seed ?? 1);
      // Keys in order share the lanes evenly, so that higher stays further right.
      const keys = [...new Set(chosen.map((i) => notes.noteNumber[i]!))].sort((a, b) => a - b);
      const rank = new Map(keys.map((key, i) => [key, i]));
      const last = keys.length - 1;
      const byKey = (key: number) =>
        last === 0 ? 0 : Math.round((rank.get(key)! * (all.length - 1)) / last);
      let before = -1;
      let lane = Math.floor((all.length - 1) / 2);
      let taken = new Set<number>();
      let tick = -1;
      const turn = directed.map(() => 0);
      for (const i of chosen) {
        const key = notes.noteNumber[i]!;
        if (notes.start[i] !== tick) taken = new Set();
        tick = notes.start[i]!;
        const by = directed.findIndex((d) => tick >= d.from && tick < d.to);
        if (by >= 0) {
          // The order goes round, note for note; where it ends the contour goes on from its lane.
          const { order } = directed[by]!;
          lane = order[turn[by]!++ % order.length]! - 1;
          if (params.by === 'shuffle') pick(all.length);
        } else if (params.by === 'keys') lane = byKey(key);
        else if (params.by === 'shuffle') lane = pick(all.length);
        else if (before >= 0) {
          // One lane for a step, two for a leap; at the edge the line turns round.
          const by = Math.sign(key - before) * (Math.abs(key - before) > 4 ? 2 : 1);
          const to = lane + by;
          lane = to < 0 || to >= all.length ? lane - by : to;
          lane = Math.max(0, Math.min(all.length - 1, lane));
        }
        before = key;
        let free = lane;
        for (let k = 0; taken.has(free) && k < all.length; k++) free = (free + 1) % all.length;
        taken.add(free);
        if (moved[i] !== all[free]) changed++;
        moved[i] = all[free]!;
      }
      return { ...part, notes: { ...notes, noteNumber: moved } };
    });
    return done(piece, { changed, verb: 'on a lane' });
  },
});
