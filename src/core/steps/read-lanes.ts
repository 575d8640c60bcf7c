import * as z from 'zod';
import { notesWhere, pickNotes } from '../score/columns';
import type { NoteFlag } from '../score/piece';
import { NO_EVENTS, type Part } from '../score/score';
import { count, noteName } from '../target/words';
import { defineStep, done, withScore } from './define-step';
import { trackNamed } from './routing';

const key = z.int().min(0).max(127);
const track = z.string().max(200).optional().describe('Only of tracks of this name');

export const readLanes = defineStep({
  id: 'read-lanes',
  reach: 'parts',
  title: 'Read lanes',
  summary: 'Reads the keys of a foreign chart: which are lanes of which seat, which are flags.',
  params: z.strictObject({
    scheme: z.string().min(1).max(200).describe('What the reading is called'),
    rows: z
      .array(
        z.strictObject({
          track,
          keys: z.array(key).min(1).max(64).describe('The key of each lane, lane 1 first'),
          seat: z.string().min(1).max(60),
          name: z.string().min(1).max(200),
          channel: z.int().min(1).max(16),
          to: z.string().min(1).max(200).describe('Track that they go to'),
          laneNotes: z.array(key).min(1).max(64).describe('The keys of the lanes at the target'),
        }),
      )
      .min(1)
      .max(256),
    flags: z.array(z.strictObject({ track, key, flag: z.string().min(1).max(60) })).max(64),
  }),
  describe: (p) => `read as “${p.scheme}”`,
  apply({ piece, params, select }) {
    const { rows, flags } = params;
    if (rows.some((r) => r.keys.length !== r.laneNotes.length))
      return { refused: 'Each row needs as many keys as lanes.' };
    let { tracks } = piece.score;
    const trackOf = (name: string) => {
      const found = trackNamed({ ...piece.score, tracks }, name);
      tracks = found.tracks;
      return found.index;
    };
    const parts: Part[] = [];
    const given = new Map<string, Set<number>>(
      (piece.flags ?? []).map((f) => [f.flag, new Set(f.notes)]),
    );
    const unknown = new Set<number>();
    let read = 0;
    let flagged = 0;
    let rest = 0;
    for (const part of piece.score.parts) {
      const own = piece.score.tracks[part.track]?.name ?? '';
      const here = <T extends { track?: string | undefined }>(list: readonly T[]) =>
        list.filter((r) => r.track === undefined || r.track.toLowerCase() === own.toLowerCase());
      const ours = here(rows);
      if (!select.part(part) || part.leftOut || part.notes.count === 0 || ours.length === 0) {
        parts.push(part);
        continue;
      }
      const { notes } = part;
      const marks = new Map(here(flags).map((f) => [f.key, f.flag]));
      const taken = new Set<number>();
      for (const row of ours) {
        const lane = new Map(row.keys.map((k, i) => [k, row.laneNotes[i]!]));
        const mine = notesWhere(
          notes,
          (i) =>
            lane.has(notes.noteNumber[i]!) && !marks.has(notes.noteNumber[i]!) && !taken.has(i),
        );
        if (mine.length === 0) continue;
        for (const i of mine) taken.add(i);
        read += mine.length;
        const picked = pickNotes(notes, mine);
        parts.push({
          ...part,
          id: `${part.id}~${row.seat}`,
          ref: { ...part.ref, track: `${part.ref.track}, ${row.seat}` },
          name: row.name,
          track: trackOf(row.to),
          sourceTrack: -1,
          channel: row.channel,
          seat: row.seat,
          seatChosen: true,
          events: NO_EVENTS,
          notes: { ...picked, noteNumber: picked.noteNumber.map((k) => lane.get(k)!) },
        });
      }
      for (const [markKey, flag] of marks) {
        const on = notesWhere(notes, (i) => notes.noteNumber[i] === markKey);
        const set = given.get(flag) ?? new Set<number>();
        // Marks stand in order, as notes do: one pass over both.
        let from = 0;
        for (const m of on) {
          const until = Math.max(notes.end[m]!, notes.start[m]! + 1);
          while (from < notes.count && notes.start[from]! < notes.start[m]!) from++;
          for (let i = from; i < notes.count && notes.start[i]! < until; i++)
            if (taken.has(i)) {
              set.add(notes.id[i]!);
              flagged++;
            }
        }
        if (on.length > 0) given.set(flag, set);
      }
      const left = notesWhere(notes, (i) => !taken.has(i));
      for (const i of left)
        if (!marks.has(notes.noteNumber[i]!)) {
          unknown.add(notes.noteNumber[i]!);
          rest++;
        }
      // What is no lane stays on the sheet, and is listed with what is left out.
      if (left.length > 0 || part.events.count > 0)
        parts.push({
          ...part,
          notes: pickNotes(notes, left),
          leftOut: true,
          seat: null,
          seatChosen: true,
        });
    }
    if (read === 0) return { refused: 'No note stands on a key that it names.' };
    const keys = [...unknown].sort((a, b) => a - b).map((k) => `${noteName(k)} (${k})`);
    const next: NoteFlag[] = [...given].map(([flag, ids]) => ({ flag, notes: ids }));
    const says = [
      `${count(read, 'note')} read`,
      flagged > 0 ? `${count(flagged, 'note')} flagged` : '',
      rest > 0
        ? `${count(rest, 'note')} on keys it does not name: ${keys.slice(0, 6).join(', ')}`
        : '',
    ];
    const score = withScore(piece, { parts, tracks });
    return done(next.length > 0 ? { ...score, flags: next } : score, {
      changed: read,
      says: says.filter(Boolean).join(', '),
    });
  },
});
