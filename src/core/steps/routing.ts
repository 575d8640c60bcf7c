import * as z from 'zod';
import { joinEvents, joinNotes, notesWhere, pickNotes } from '../score/columns';
import { type Part, type Score, type ScoreTrack } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import { encodeUtf8 } from '../smf/text';
import { count, noteName } from '../target/words';
import { changeParts, defineStep, done, nameOfSeat, withScore } from './define-step';

const channel = z.int().min(1).max(16).describe('Channel, 1 to 16');

/** The track with this name; a new one at the end where there is none. */
export function trackNamed(
  score: Score,
  name: string,
): { tracks: readonly ScoreTrack[]; index: number } {
  const found = score.tracks.findIndex((t) => t.name === name);
  if (found >= 0) return { tracks: score.tracks, index: found };
  const endTick = Math.max(0, ...score.tracks.map((t) => t.endTick));
  const named = { status: META, type: META_TRACK_NAME, bytes: encodeUtf8(name) };
  const track = { name, events: [{ tick: 0, order: 0, ...named }], endTick, endOrder: 0 };
  return { tracks: [...score.tracks, track], index: score.tracks.length };
}

export const route = defineStep({
  id: 'route',
  reach: 'parts',
  title: 'Seat a part',
  summary: 'Gives parts a seat at the target: its channel and, where it names one, its track.',
  params: z.strictObject({
    seat: z.string().describe('Seat, by its id; nothing where the target takes parts as they are'),
    channel: channel.optional(),
    track: z.string().optional().describe('Name of the track that the part moves to'),
  }),
  describe: (p, named) =>
    (p.seat === '' ? 'take as it is' : `seat at ${nameOfSeat(p.seat, named)}`) +
    (p.channel === undefined ? '' : ` (channel ${p.channel})`),
  apply(input) {
    const { params, piece } = input;
    const to = params.track === undefined ? null : trackNamed(piece.score, params.track);
    let notes = 0;
    const base = to === null ? piece : withScore(piece, { tracks: to.tracks });
    const next = changeParts(
      { ...input, piece: base },
      (part) => {
        notes += part.notes.count;
        return {
          ...part,
          seat: params.seat === '' ? null : params.seat,
          seatChosen: true,
          leftOut: false,
          channel: params.channel ?? part.channel,
          track: to?.index ?? part.track,
        };
      },
      { leftOutToo: true },
    );
    if (next === base) return { refused: 'There is no part to seat.' };
    return done(next, { changed: notes, verb: 'seated', says: 'A part without notes seated' });
  },
});

export const leaveOut = defineStep({
  id: 'leave-out',
  reach: 'notes',
  title: 'Leave out',
  summary: 'Leaves out whole parts, or only some of their notes. They stay on the sheet, faint.',
  params: z.strictObject({
    below: z.int().min(0).max(127).optional().describe('Leave out notes below this number'),
    above: z.int().min(0).max(127).optional().describe('Leave out notes above this number'),
    keys: z.array(z.int().min(0).max(127)).optional().describe('Leave out these note numbers'),
    empty: z.boolean().optional().describe('Leave out notes of no length'),
  }),
  describe: (p) => {
    const what = [
      p.below === undefined ? '' : `notes below ${noteName(p.below)}`,
      p.above === undefined ? '' : `notes above ${noteName(p.above)}`,
      p.keys === undefined ? '' : `the keys ${p.keys.map(noteName).join(', ')}`,
      p.empty ? 'notes of no length' : '',
    ].filter(Boolean);
    return what.length === 0 ? 'leave out' : `leave out ${what.join(' and ')}`;
  },
  apply(input) {
    const { below, above, keys, empty } = input.params;
    const byNote = below !== undefined || above !== undefined || keys !== undefined || empty;
    const gone = new Set(keys ?? []);
    let dropped = 0;
    // Whole parts stay in the score and are listed by name; single notes are a loss.
    let lost = 0;
    let silent = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      if (!byNote && input.select.whole) {
        dropped += notes.count;
        if (notes.count === 0) silent++;
        return { ...part, leftOut: true, seat: null, seatChosen: true };
      }
      const kept = notesWhere(notes, (i) => {
        if (!input.select.note(part, i)) return true;
        if (!byNote) return false;
        const key = notes.noteNumber[i]!;
        if (empty && notes.end[i] === notes.start[i]) return false;
        return !(key < (below ?? 0) || key > (above ?? 127) || gone.has(key));
      });
      if (kept.length === notes.count) return part;
      dropped += notes.count - kept.length;
      lost += notes.count - kept.length;
      return { ...part, notes: pickNotes(notes, kept) };
    });
    const says = silent > 0 ? { says: `${count(silent, 'part')} without notes left out` } : {};
    return done(piece, { dropped, ...says }, [{ what: 'notes', count: lost }]);
  },
});

export const join = defineStep({
  id: 'join',
  reach: 'parts',
  title: 'Join parts',
  summary: 'Makes several parts one, on the track and channel of the first.',
  params: z.strictObject({}),
  describe: () => 'join in one part',
  apply({ piece, select }) {
    const joined = piece.score.parts.filter((p) => select.part(p) && !p.leftOut);
    if (joined.length < 2) return { refused: 'Two parts or more are needed to join.' };
    const first = joined[0]!;
    const alike = joined.every((p) => p.sourceTrack === first.sourceTrack);
    const whole: Part = {
      ...first,
      sourceTrack: alike ? first.sourceTrack : -1,
      notes: joinNotes(joined.map((p) => p.notes)),
      events: joinEvents(joined.map((p) => p.events)),
    };
    const parts = piece.score.parts.flatMap((p) =>
      p === first ? [whole] : joined.includes(p) ? [] : [p],
    );
    return done(withScore(piece, { parts }), { changed: whole.notes.count, verb: 'in one part' });
  },
});

export const setChannel = defineStep({
  id: 'set-channel',
  reach: 'parts',
  title: 'Set channel',
  summary: 'Moves parts to another channel.',
  params: z.strictObject({ channel }),
  describe: (p) => `to channel ${p.channel}`,
  apply(input) {
    let changed = 0;
    const piece = changeParts(input, (part) => {
      if (part.channel === input.params.channel) return part;
      changed += part.notes.count;
      return { ...part, channel: input.params.channel };
    });
    return done(piece, { changed, verb: `on channel ${input.params.channel}` });
  },
});
