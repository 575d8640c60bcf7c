import * as z from 'zod';
import { notesWhere, pickEvents, pickNotes } from '../score/columns';
import { isKnownMeta, isTextMeta } from '../score/inventory';
import { layoutOf } from '../score/layout';
import type { EventColumns, NoteColumns, Part, TrackEvent } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import { repeatsOf, type Repeats } from '../reading/news';
import type { Piece } from '../score/piece';
import { Gone, crowdsOf } from './crowd';
import { changeParts, defineStep, done, withScore, type Loss, type Selection } from './define-step';

const KINDS = [
  'track names',
  'text',
  'markers',
  'controllers',
  'programs',
  'bends',
  'aftertouch',
  'sysex',
  'unknown meta',
  'stray note-offs',
] as const;
type Kind = (typeof KINDS)[number];

const eventKind = (kind: number): Kind =>
  kind === 0xb0
    ? 'controllers'
    : kind === 0xc0
      ? 'programs'
      : kind === 0xe0
        ? 'bends'
        : kind === 0xa0 || kind === 0xd0
          ? 'aftertouch'
          : 'stray note-offs';

const trackEventKind = (e: TrackEvent): Kind | null =>
  e.status !== META
    ? 'sysex'
    : e.type === META_TRACK_NAME
      ? 'track names'
      : isTextMeta(e.type)
        ? 'text'
        : isKnownMeta(e.type)
          ? null
          : 'unknown meta';

export const strip = defineStep({
  id: 'strip',
  reach: 'stretch',
  title: 'Strip events',
  summary: 'Takes out kinds of events that the target does not accept.',
  params: z.strictObject({
    kinds: z.array(z.enum(KINDS)).min(1),
    controllers: z
      .array(z.int().min(0).max(127))
      .optional()
      .describe('Only these controllers; all where nothing is said'),
    keepMarker: z.string().max(200).optional().describe('The marker of this name stays'),
    keepNames: z.int().min(0).optional().describe('Track names that stay, from the first'),
  }),
  describe: (p) => {
    const which = p.controllers ? ` (${p.controllers.join(', ')})` : '';
    const names = p.keepNames
      ? `, keep the first ${p.keepNames === 1 ? 'name' : `${p.keepNames} names`}`
      : '';
    return `strip ${p.kinds.join(', ')}${which}${names}`;
  },
  apply(input) {
    const { params, select } = input;
    const kinds = new Set<Kind>(params.kinds);
    const numbers = params.controllers && new Set(params.controllers);
    const lost = new Map<Kind, number>();
    const lose = (kind: Kind) => lost.set(kind, (lost.get(kind) ?? 0) + 1);
    // What stands in a track that is not written is taken out and is no loss: it would not go out.
    const written = new Set(layoutOf(input.piece).flatMap((t) => t.tracks));
    const inStretch = (tick: number) => select.at(tick);

    const keep = (events: EventColumns, i: number) => {
      const kind = eventKind(events.kind[i]!);
      if (!kinds.has(kind) || !inStretch(events.tick[i]!)) return true;
      if (kind === 'controllers' && numbers && !numbers.has(events.data1[i]!)) return true;
      lose(kind);
      return false;
    };
    let piece = changeParts(input, (part) => {
      const kept: number[] = [];
      for (let i = 0; i < part.events.count; i++) if (keep(part.events, i)) kept.push(i);
      return kept.length === part.events.count
        ? part
        : { ...part, events: pickEvents(part.events, kept) };
    });

    const onTracks = new Set(piece.score.parts.filter((p) => select.part(p)).map((p) => p.track));
    const all = piece.score.parts.every((p) => select.part(p));
    let names = params.keepNames ?? 0;
    const tracks = piece.score.tracks.map((track, index) => {
      if (!all && !onTracks.has(index)) return track;
      const events = track.events.filter((e) => {
        const kind = trackEventKind(e);
        if (kind === null || !kinds.has(kind) || !inStretch(e.tick)) return true;
        if (kind === 'track names' && names > 0) {
          names--;
          return true;
        }
        if (written.has(index)) lose(kind);
        return false;
      });
      if (events.length === track.events.length) return track;
      // A name that is not written is none: who looks for a track by it does not find it.
      const named = events.some((e) => trackEventKind(e) === 'track names');
      return { ...track, events, name: named ? track.name : null };
    });
    const { conductor } = piece.score;
    const markers = kinds.has('markers')
      ? conductor.markers.filter(
          (m) => !inStretch(m.tick) || m.text === params.keepMarker || void lose('markers'),
        )
      : conductor.markers;
    piece = withScore(piece, { tracks, conductor: { ...conductor, markers } });
    const losses: Loss[] = [...lost].map(([what, n]) => ({ what, count: n }));
    const events = losses.reduce((sum, l) => sum + l.count, 0);
    return done(piece, { events, eventWords: 'events taken out' }, losses);
  },
});

export const dropDuplicates = defineStep({
  id: 'drop-duplicates',
  reach: 'notes',
  title: 'Drop duplicates',
  summary: 'Drops events that say again what is already so, and notes struck twice at once.',
  params: z.strictObject({
    notes: z.boolean().describe('The same key of a part struck twice at the same tick'),
    events: z.boolean().describe('Controllers, programs and bends that repeat the value in force'),
    between: z.boolean().optional().describe('Also where two parts of one channel strike it'),
  }),
  describe: (p) =>
    `drop duplicate ${[p.notes ? 'notes' : '', p.events ? 'events' : ''].filter(Boolean).join(' and ')}` +
    (p.notes && p.between ? ', parts of one channel together' : ''),
  apply(input) {
    const { params, select } = input;
    let dropped = 0;
    let gone = 0;
    const repeats = params.events ? repeatsOf(input.piece.score) : new Map<Part, Repeats>();
    const between = params.notes && params.between ? doublesBetween(input.piece, select) : null;
    const piece = changeParts(input, (part) => {
      let next = part;
      if (params.notes) {
        const kept = between
          ? notesWhere(part.notes, (i) => !between.get(part)?.[i])
          : distinctNotes(part.notes, (i) => select.note(part, i));
        dropped += part.notes.count - kept.length;
        if (kept.length < part.notes.count) next = { ...next, notes: pickNotes(part.notes, kept) };
      }
      const again = select.chosen ? undefined : repeats.get(part);
      if (again) {
        const { tick, count } = part.events;
        const kept = Array.from({ length: count }, (_, i) => i).filter(
          (i) => !again.at[i] || !select.at(tick[i]!),
        );
        gone += count - kept.length;
        next = { ...next, events: pickEvents(part.events, kept) };
      }
      return next;
    });
    const losses = [
      { what: 'doubled notes', count: dropped },
      { what: 'events that repeat', count: gone },
    ];
    return done(piece, { dropped, events: gone, eventWords: 'repeats taken out' }, losses);
  },
});

/**
 * Of notes of one channel on one key at one tick the longest stays, of equal ones the loudest: those
 * that go, by part. A crowd is sorted by start and key: doubles follow each other.
 */
function doublesBetween(piece: Piece, select: Selection): ReadonlyMap<Part, Uint8Array> {
  const gone = new Gone();
  for (const crowd of crowdsOf(piece, select, 'channel')) {
    const { start, end, key, velocity } = crowd;
    let best = 0;
    for (let n = 1; n < crowd.count; n++) {
      if (start[n] !== start[best] || key[n] !== key[best]) {
        best = n;
        continue;
      }
      const longer = end[n]! - end[best]!;
      const stays = longer > 0 || (longer === 0 && velocity[n]! > velocity[best]!);
      gone.add(crowd, stays ? best : n);
      if (stays) best = n;
    }
  }
  return gone.marks;
}

/** Of notes on one key at one tick the longest stays. Starts are sorted: a tick is one run of notes. */
function distinctNotes(notes: NoteColumns, selected: (i: number) => boolean): number[] {
  const { count, start, end, noteNumber } = notes;
  const kept: number[] = [];
  /** The longest so far on each key, and the run in which that was. */
  const longest = new Int32Array(128);
  const inRun = new Int32Array(128).fill(-1);
  for (let from = 0; from < count;) {
    let to = from + 1;
    while (to < count && start[to] === start[from]) to++;
    if (to === from + 1) kept.push(from);
    else {
      for (let i = from; i < to; i++) {
        const key = noteNumber[i]!;
        if (!selected(i)) continue;
        if (inRun[key] !== from || end[i]! > end[longest[key]!]!) longest[key] = i;
        inRun[key] = from;
      }
      for (let i = from; i < to; i++)
        if (!selected(i) || longest[noteNumber[i]!] === i) kept.push(i);
    }
    from = to;
  }
  return kept;
}
