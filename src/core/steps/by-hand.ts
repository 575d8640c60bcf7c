import * as z from 'zod';
import { joinNotes, notesWhere, pickNotes, sortNotes } from '../score/columns';
import type { Marker, Part } from '../score/score';
import { encodeUtf8 } from '../smf/text';
import { LATEST_TICK } from '../smf/file';
import { count } from '../target/words';
import type { Clock } from '../time/tempo-map';
import { mapTick } from '../time/time-map';
import { PartAddress } from './address';
import { defineStep, done, NewIds, withScore } from './define-step';
import { notesOf } from './keys';

const noteNumber = z.int().min(0).max(127);
const velocity = z.int().min(1).max(127);
const ticks = z.int().min(-LATEST_TICK).max(LATEST_TICK);
const length = z.int().min(1).max(LATEST_TICK);

/** What was done to one note: `note` is its place among the notes that the step is for. */
export const HandEdit = z.strictObject({
  note: z.int().min(0).max(999_999).describe('Which of the notes that the step is for, from 0'),
  ticks: ticks.optional().describe('Ticks later'),
  us: z
    .int()
    .min(-600_000_000)
    .max(600_000_000)
    .optional()
    .describe('Microseconds later on the clock, on top of that'),
  semitones: z.int().min(-127).max(127).optional(),
  longerTicks: ticks.optional().describe('Ticks; a note keeps a length of one at least'),
  louder: z.int().min(-127).max(127).optional().describe('Velocity, within 1 to 127'),
  gone: z.boolean().optional().describe('Taken out'),
});
export type HandEdit = Readonly<z.infer<typeof HandEdit>>;

/** A note that was drawn; its tick is one of the base, as those of scopes are. */
export const HandNote = z.strictObject({
  part: PartAddress,
  tick: z.int().min(0).max(LATEST_TICK).describe('Ticks'),
  lengthTicks: length.describe('Ticks'),
  noteNumber,
  velocity,
  label: z.string().min(1).max(200).optional().describe('A marker that is set with it'),
});
export type HandNote = Readonly<z.infer<typeof HandNote>>;

export const byHand = defineStep({
  id: 'by-hand',
  reach: 'notes',
  title: 'Notes by hand',
  summary: 'Moves, lengthens, draws and takes out single notes, each as it was done by hand.',
  params: z.strictObject({
    edits: z.array(HandEdit).max(100_000).optional(),
    drawn: z.array(HandNote).max(100_000).optional(),
  }),
  describe({ edits = [], drawn = [] }) {
    const said = `${count(edits.length + drawn.length, 'note')} by hand`;
    const moved = edits.flatMap((e) => (e.us === undefined ? [] : [e.us / 1000]));
    if (moved.length === 0) return said;
    const [least, most] = [Math.min(...moved.slice(0, 9999)), Math.max(...moved.slice(0, 9999))];
    const signed = (ms: number) => `${ms < 0 ? '−' : '+'}${Math.abs(Math.round(ms))}`;
    return `${said}, ${least === most ? '' : `${signed(least)} to `}${signed(most)} ms`;
  },
  apply(input) {
    const { params, piece, select, maps } = input;
    const edits = new Map((params.edits ?? []).map((e) => [e.note, e]));
    const ids = new NewIds(piece);
    const drawn = new Map<Part, HandNote[]>();
    for (const note of params.drawn ?? []) {
      const to = select.find(note.part);
      if (!to) continue;
      drawn.set(to, [...(drawn.get(to) ?? []), note]);
    }
    let [changed, dropped, added] = [0, 0, 0];
    let refused: string | null = null;

    /** The notes of a part as the edits have them; the same object where none is of it. */
    const edited = (of: Part): Part => {
      const { notes } = of;
      const rows: number[] = [];
      const gone = new Set<number>();
      for (let i = 0; i < notes.count; i++) {
        const edit = edits.get(select.place(of, i));
        if (!edit || !select.note(of, i)) continue;
        if (edit.gone) gone.add(i);
        else rows.push(i);
      }
      if (rows.length + gone.size === 0) return of;
      const next = {
        start: Int32Array.from(notes.start),
        end: Int32Array.from(notes.end),
        noteNumber: Uint8Array.from(notes.noteNumber),
        velocity: Uint8Array.from(notes.velocity),
        onOrder: Uint32Array.from(notes.onOrder),
        offOrder: Uint32Array.from(notes.offOrder),
      };
      for (const i of rows) {
        const edit = edits.get(select.place(of, i))!;
        const start = laterOnClock(maps.clock, notes.start[i]! + (edit.ticks ?? 0), edit.us);
        const was = notes.end[i]! - notes.start[i]!;
        const longer = edit.longerTicks ?? 0;
        const end = start + (longer === 0 ? was : Math.max(1, was + longer));
        const key = notes.noteNumber[i]! + (edit.semitones ?? 0);
        if (start < 0 || end > LATEST_TICK)
          refused = 'A note would leave the piece: before its start or past the latest tick.';
        else if (key < 0 || key > 127) refused = 'A note would leave the note numbers 0 to 127.';
        if (refused) return of;
        next.start[i] = start;
        next.end[i] = end;
        next.noteNumber[i] = key;
        if (edit.louder)
          next.velocity[i] = Math.max(1, Math.min(127, notes.velocity[i]! + edit.louder));
        // What is moved stands behind what was there.
        if (start !== notes.start[i]) next.onOrder[i] = 0;
        if (end !== notes.end[i]) next.offOrder[i] = 0;
      }
      changed += rows.length;
      dropped += gone.size;
      const moved = sortNotes({ ...notes, ...next });
      if (gone.size === 0) return { ...of, notes: moved };
      const goneIds = new Set([...gone].map((i) => notes.id[i]!));
      const kept = notesWhere(moved, (i) => !goneIds.has(moved.id[i]!));
      return { ...of, notes: pickNotes(moved, kept) };
    };
    const withDrawn = (of: Part, to: Part): Part => {
      const list = drawn.get(of);
      if (!list) return to;
      added += list.length;
      const rows = list.map((n): [number, number, number, number, number] => {
        const start = mapTick(piece.fromBase, n.tick);
        return [start, start + n.lengthTicks, n.noteNumber, n.velocity, 0];
      });
      return { ...to, notes: joinNotes([to.notes, notesOf(rows, ids.next)]) };
    };
    const parts = piece.score.parts.map((p) => {
      const next = p.leftOut ? p : withDrawn(p, edited(p));
      return next;
    });
    if (refused) return { refused };
    if (changed + dropped + added === 0) return done(piece, {}, []);
    const { conductor } = piece.score;
    const labels = (params.drawn ?? []).flatMap((n): Marker[] => {
      if (n.label === undefined || !select.find(n.part)) return [];
      const tick = mapTick(piece.fromBase, n.tick);
      const bytes = encodeUtf8(n.label);
      const track = conductor.markers[0]?.track ?? 0;
      return [{ tick, track, order: 0, text: n.label, encoding: 'utf-8', bytes }];
    });
    const markers = [...conductor.markers, ...labels].sort((a, b) => a.tick - b.tick);
    const score = labels.length > 0 ? { parts, conductor: { ...conductor, markers } } : { parts };
    return done(ids.keep(withScore(piece, score)), { changed, dropped, added }, [
      { what: 'notes taken out by hand', count: dropped },
    ]);
  },
});

/** The tick that is so much later on the clock; −1 where that is before the start. */
function laterOnClock(clock: Clock, tick: number, us = 0): number {
  if (us === 0) return tick;
  const ms = clock.msAt(tick) + us / 1000;
  return ms < -1e-6 ? -1 : clock.tickAt(ms);
}
