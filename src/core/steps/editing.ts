import * as z from 'zod';
import { joinNotes, notesWhere, pickNotes, sortNotes } from '../score/columns';
import { LATEST_TICK } from '../smf/file';
import type { Clock } from '../time/tempo-map';
import { noteName } from '../target/words';
import { changeParts, defineStep, done, NewIds } from './define-step';
import { notesOf } from './keys';

export const moveNotes = defineStep({
  id: 'move-notes',
  reach: 'notes',
  title: 'Move notes',
  summary: 'Moves the chosen notes in time and pitch, or changes their length and velocity.',
  params: z.strictObject({
    ticks: z.int().min(-LATEST_TICK).max(LATEST_TICK).optional().describe('Ticks later'),
    ms: z.number().min(-3_600_000).max(3_600_000).optional().describe('Milliseconds later'),
    semitones: z.int().min(-127).max(127).optional(),
    lengthTicks: z.int().min(1).max(LATEST_TICK).optional().describe('Ticks'),
    velocity: z.int().min(1).max(127).optional(),
  }),
  describe: (p) =>
    [
      p.ticks === undefined ? '' : `${p.ticks} ticks later`,
      p.ms === undefined ? '' : `${p.ms} ms later`,
      p.semitones === undefined ? '' : `${p.semitones > 0 ? '+' : ''}${p.semitones} semitones`,
      p.lengthTicks === undefined ? '' : `${p.lengthTicks} ticks long`,
      p.velocity === undefined ? '' : `velocity ${p.velocity}`,
    ]
      .filter(Boolean)
      .join(', ') || 'leave as they are',
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    let refused: string | null = null;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const next = {
        start: Int32Array.from(notes.start),
        end: Int32Array.from(notes.end),
        noteNumber: Uint8Array.from(notes.noteNumber),
        velocity: Uint8Array.from(notes.velocity),
        onOrder: Uint32Array.from(notes.onOrder),
        offOrder: Uint32Array.from(notes.offOrder),
      };
      let touched = 0;
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        const from = next.start[i]!;
        const length = params.lengthTicks ?? next.end[i]! - from;
        const start =
          from + (params.ticks ?? 0) + (params.ms ? later(maps.clock, from, params.ms) - from : 0);
        const key = next.noteNumber[i]! + (params.semitones ?? 0);
        if (start < 0 || start + length > LATEST_TICK)
          refused = 'A note would leave the piece: before its start or past the latest tick.';
        else if (key < 0 || key > 127) refused = 'A note would leave the note numbers 0 to 127.';
        if (refused) return part;
        next.start[i] = start;
        next.end[i] = start + length;
        next.noteNumber[i] = key;
        if (params.velocity !== undefined) next.velocity[i] = params.velocity;
        if (start !== from) next.onOrder[i] = 0;
        if (next.end[i] !== notes.end[i]) next.offOrder[i] = 0;
        touched++;
      }
      changed += touched;
      return touched === 0 ? part : { ...part, notes: sortNotes({ ...notes, ...next }) };
    });
    if (refused) return { refused };
    return done(piece, { changed });
  },
});

/** The tick that is so much later on the clock; −1 where that is before the start. */
function later(clock: Clock, tick: number, ms: number): number {
  const time = clock.msAt(tick) + ms;
  return time < 0 ? -1 : clock.tickAt(time);
}

export const addNote = defineStep({
  id: 'add-note',
  reach: 'parts',
  title: 'Add a note',
  summary: 'Adds one note to a part.',
  params: z.strictObject({
    tick: z.int().min(0).max(LATEST_TICK).describe('Ticks'),
    lengthTicks: z.int().min(1).max(LATEST_TICK).describe('Ticks'),
    noteNumber: z.int().min(0).max(127),
    velocity: z.int().min(1).max(127),
  }),
  describe: (p) => `add ${noteName(p.noteNumber)} at tick ${p.tick}`,
  apply(input) {
    const { params: p, piece, select } = input;
    if (p.tick + p.lengthTicks > LATEST_TICK)
      return { refused: 'The end would pass the latest tick that a file can hold.' };
    const first = piece.score.parts.find((part) => select.part(part) && !part.leftOut);
    if (!first) return { refused: 'Choose the part that the note goes to.' };
    const ids = new NewIds(piece);
    const row = [p.tick, p.tick + p.lengthTicks, p.noteNumber, p.velocity, 0] as const;
    const next = changeParts(input, (part) =>
      part === first ? { ...part, notes: joinNotes([part.notes, notesOf([row], ids.next)]) } : part,
    );
    return done(ids.keep(next), { added: 1 });
  },
});

export const deleteNotes = defineStep({
  id: 'delete-notes',
  reach: 'notes',
  title: 'Delete notes',
  summary: 'Takes the chosen notes out.',
  params: z.strictObject({}),
  describe: () => 'delete the chosen notes',
  apply(input) {
    if (input.select.whole && !input.select.chosen)
      return { refused: 'Choose the notes or the stretch that goes.' };
    let dropped = 0;
    const next = changeParts(input, (part) => {
      const kept = notesWhere(part.notes, (i) => !input.select.note(part, i));
      if (kept.length === part.notes.count) return part;
      dropped += part.notes.count - kept.length;
      return { ...part, notes: pickNotes(part.notes, kept) };
    });
    return done(next, { dropped }, [{ what: 'notes', count: dropped }]);
  },
});
