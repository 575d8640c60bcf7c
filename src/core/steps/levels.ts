import * as z from 'zod';
import { joinNotes, newNotes } from '../score/columns';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { NO_EVENTS, type NoteColumns, type Part } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { count } from '../target/words';
import { mapTick } from '../time/time-map';
import { holdRules, reduceChords } from './chart';
import {
  defineStep,
  done,
  everything,
  NewIds,
  withScore,
  type StepDefinition,
} from './define-step';
import { notesOf } from './keys';
import { trackNamed } from './routing';
import { fitVoices } from './spacing/fit-voices';
import { thin } from './spacing/thin';

const noteNumber = z.int().min(0).max(127);
const laneNotes = z.array(noteNumber).min(1).max(64);

/** A note of a level as somebody left it; its tick is one of the base, as those of scopes are. */
export const LevelNote = z.strictObject({
  tick: z.int().min(0).max(LATEST_TICK).describe('Ticks'),
  lengthTicks: z.int().min(1).max(LATEST_TICK).describe('Ticks'),
  noteNumber,
  velocity: z.int().min(1).max(127),
});
export type LevelNote = Readonly<z.infer<typeof LevelNote>>;

export const Level = z.strictObject({
  seat: z.string().min(1).max(60),
  name: z.string().min(1).max(200),
  channel: z.int().min(1).max(16),
  track: z.string().min(1).max(200).optional().describe('Track that it goes to'),
  laneNotes: laneNotes.describe('Note numbers of its lanes, from the left'),
  together: z.int().min(1).max(16).describe('Notes that may be struck together'),
  strikesASecond: z.int().min(1).max(1000).describe('Strikes in any one second'),
  holdMs: z.number().min(1).max(10_000).optional().describe('As long as this is a hold'),
  releaseGapMs: z.number().min(0).max(10_000).optional(),
  holdsOverlap: z.boolean().optional(),
  kept: z
    .array(LevelNote)
    .max(100_000)
    .optional()
    .describe('Touched by hand: these notes, and no others'),
});
export type Level = Readonly<z.infer<typeof Level>>;

/**
 * Levels of one part, made from its hardest: chords reduced, thinned by the beat, lanes merged. They
 * are made anew whenever the plan runs, but for those that somebody changed by hand.
 */
export const makeLevels = defineStep({
  id: 'make-levels',
  reach: 'parts',
  title: 'Make levels',
  summary: 'Makes easier levels of a part: fewer notes together, fewer strikes, fewer lanes.',
  params: z.strictObject({
    from: laneNotes.describe('Note numbers of the lanes of the hardest, from the left'),
    levels: z.array(Level).min(1).max(16),
  }),
  describe: ({ levels }) => `make ${levels.map((l) => l.name).join(', ')} of it`,
  apply({ piece, params, select }) {
    const ids = new NewIds(piece);
    let { tracks } = piece.score;
    const hardest = piece.score.parts.filter((p) => select.part(p) && !p.leftOut);
    if (hardest.length !== 1)
      return { refused: 'One part is needed that plays: the hardest, which levels are made of.' };
    const [from] = hardest as [Part];
    const said: string[] = [];
    let added = 0;
    const made = params.levels.map((level): Part => {
      const to =
        level.track === undefined ? null : trackNamed({ ...piece.score, tracks }, level.track);
      if (to) tracks = to.tracks;
      const notes = level.kept
        ? asKept(piece, level.kept, ids)
        : easier(piece, from, params.from, level, ids);
      added += notes.count;
      said.push(`${level.name} ${count(notes.count, 'note')}${level.kept ? ' (by hand)' : ''}`);
      return {
        ...from,
        id: `${from.id}~${level.seat}`,
        ref: { ...from.ref, track: `${from.ref.track}, ${level.seat}` },
        name: level.name,
        track: to?.index ?? from.track,
        sourceTrack: -1,
        channel: level.channel,
        seat: level.seat,
        seatChosen: true,
        events: NO_EVENTS,
        notes,
      };
    });
    const parts = piece.score.parts.flatMap((p) => (p === from ? [p, ...made] : [p]));
    const result = done(ids.keep(withScore(piece, { parts, tracks })), { added });
    return { ...result, effect: { ...result.effect, says: said.join(', ') } };
  },
});

const asKept = (piece: Piece, kept: readonly LevelNote[], ids: NewIds): NoteColumns =>
  joinNotes([
    notesOf(
      kept.map((n): [number, number, number, number, number] => {
        const start = mapTick(piece.fromBase, n.tick);
        return [start, start + n.lengthTicks, n.noteNumber, n.velocity, 0];
      }),
      ids.next,
    ),
  ]);

/** The part alone goes through the steps that a person would take. */
function easier(
  piece: Piece,
  hardest: Part,
  from: readonly number[],
  level: Level,
  ids: NewIds,
): NoteColumns {
  const { holdMs, releaseGapMs } = level;
  let alone = withScore(piece, {
    parts: [{ ...hardest, notes: onFewerLanes(hardest.notes, from, level.laneNotes) }],
  });
  const through = <P>(step: StepDefinition<P>, params: P) => {
    const result = step.apply({ ...everything(alone), maps: mapsOf(alone.score), params });
    if (!('refused' in result)) alone = result.piece;
  };
  through(reduceChords, { most: level.together, drop: 'bottom' });
  through(thin, { mostInASecond: level.strikesASecond, per: 'seat', keep: 'beats' });
  // What still rings counts as much as what is struck.
  through(fitVoices, { voices: level.together, over: 'seat' });
  if (holdMs !== undefined)
    through(holdRules, {
      holdMs,
      ...(releaseGapMs === undefined ? {} : { releaseGapMs }),
      ...(level.holdsOverlap ? {} : { noOverlap: true }),
    });
  const { notes } = alone.score.parts[0]!;
  // Notes of their own: what is done to the hardest by hand is not done to them as well.
  return {
    ...notes,
    id: notes.id.map(() => ids.next()),
    origin: new Uint32Array(notes.count),
    onOrder: new Uint32Array(notes.count),
    offOrder: new Uint32Array(notes.count),
  };
}

/**
 * Lanes keep their order from the left. What is struck together and would share a lane goes to the
 * nearest that is free; where none is, the softer one goes.
 */
function onFewerLanes(
  notes: NoteColumns,
  from: readonly number[],
  to: readonly number[],
): NoteColumns {
  const rank = new Map(from.map((key, i) => [key, i]));
  const lane = (key: number): number => {
    const at = rank.get(key);
    if (at === undefined) return -1;
    return from.length === 1 ? 0 : Math.round((at * (to.length - 1)) / (from.length - 1));
  };
  const rows: { i: number; key: number }[] = [];
  for (let first = 0; first < notes.count;) {
    let next = first + 1;
    while (next < notes.count && notes.start[next] === notes.start[first]) next++;
    const chord: number[] = [];
    for (let i = first; i < next; i++) if (lane(notes.noteNumber[i]!) >= 0) chord.push(i);
    chord.sort((a, b) => notes.velocity[b]! - notes.velocity[a]!);
    const taken = new Set<number>();
    for (const i of chord) {
      const wanted = lane(notes.noteNumber[i]!);
      const free = to
        .map((_, l) => l)
        .filter((l) => !taken.has(l))
        .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted))[0];
      if (free === undefined) break;
      taken.add(free);
      rows.push({ i, key: to[free]! });
    }
    first = next;
  }
  // In the order of time; keys of one strike in their own.
  rows.sort((a, b) => notes.start[a.i]! - notes.start[b.i]! || a.key - b.key);
  const out = newNotes(rows.length);
  rows.forEach(({ i, key }, n) => {
    out.start[n] = notes.start[i]!;
    out.end[n] = notes.end[i]!;
    out.noteNumber[n] = key;
    out.velocity[n] = notes.velocity[i]!;
    out.offVelocity[n] = notes.offVelocity[i]!;
    out.offKind[n] = notes.offKind[i]!;
    out.id[n] = notes.id[i]!;
    out.origin[n] = notes.origin[i]!;
  });
  return out;
}
