import * as z from 'zod';
import type { Caption, Piece } from '../score/piece';
import { notesWhere, pickNotes, withoutOrder } from '../score/columns';
import { endTickOf, NO_EVENTS, type Part } from '../score/score';
import { noteName } from '../target/words';
import { count } from '../target/words';
import { defineStep, done, nameOfSeat, withScore, type Selection } from './define-step';
import { NoteAddressShape } from './address';
import { cutPiece } from './cut';
import { handsOf } from './hands';

const BY = ['key', 'hand', 'voice', 'stretch', 'channel', 'velocity', 'column', 'turn'] as const;
type By = (typeof BY)[number];

const HANDS = ['left hand', 'right hand'];

interface SplitParams {
  by: By;
  at?: number | undefined;
  voices?: number | undefined;
}

/** Names of the groups and the group of each note of a part. */
export function groupsOf(
  part: Part,
  { by, at, voices = 2 }: SplitParams,
  select: Pick<Selection, 'note'>,
) {
  const { notes } = part;
  const group = new Uint16Array(notes.count);
  if (by === 'key') {
    const from = at ?? 60;
    for (let i = 0; i < notes.count; i++) group[i] = notes.noteNumber[i]! >= from ? 1 : 0;
    return { names: [`below ${noteName(from)}`, `from ${noteName(from)}`], group };
  }
  if (by === 'velocity') {
    const from = at ?? 64;
    for (let i = 0; i < notes.count; i++) group[i] = notes.velocity[i]! >= from ? 1 : 0;
    return { names: [`softer than ${from}`, `from velocity ${from}`], group };
  }
  if (by === 'hand') return { names: HANDS, group: handsOf(part.notes) };
  if (by === 'stretch') {
    for (let i = 0; i < notes.count; i++) group[i] = select.note(part, i) ? 1 : 0;
    return { names: ['elsewhere', 'stretch'], group };
  }
  const names = Array.from({ length: voices }, (_, v) => `${by} ${v + 1}`);
  if (by === 'voice') return { names, group: voicesOf(part, voices) };
  if (by === 'turn') {
    // One strike each, in turn; a chord stays together.
    let turn = -1;
    for (let i = 0; i < notes.count; i++) {
      if (i === 0 || notes.start[i] !== notes.start[i - 1]) turn++;
      group[i] = turn % voices;
    }
    return { names, group };
  }
  // Columns: the notes of each chord from the top, so that a part of chords becomes lines.
  for (let from = 0; from < notes.count;) {
    let to = from + 1;
    while (to < notes.count && notes.start[to] === notes.start[from]) to++;
    const chord = Array.from({ length: to - from }, (_, k) => from + k);
    chord.sort((a, b) => notes.noteNumber[b]! - notes.noteNumber[a]!);
    chord.forEach((i, rank) => (group[i] = Math.min(rank, voices - 1)));
    from = to;
  }
  return { names, group };
}

/** Each note goes to the voice that is free and nearest in pitch; where none is, to the nearest. */
function voicesOf({ notes }: Pick<Part, 'notes'>, voices: number): Uint16Array {
  const group = new Uint16Array(notes.count);
  const free = new Int32Array(voices);
  const pitch = new Int32Array(voices).fill(-1);
  for (let from = 0; from < notes.count;) {
    let to = from + 1;
    while (to < notes.count && notes.start[to] === notes.start[from]) to++;
    const chord = Array.from({ length: to - from }, (_, k) => from + k);
    chord.sort((a, b) => notes.noteNumber[b]! - notes.noteNumber[a]!);
    let above = -1;
    for (const i of chord) {
      const key = notes.noteNumber[i]!;
      let best = -1;
      let least = Infinity;
      for (let v = 0; v < voices; v++) {
        const busy = free[v]! > notes.start[i]!;
        const crossed = v <= above;
        const far = pitch[v]! < 0 ? 24 : Math.abs(pitch[v]! - key);
        // A voice that is not free loses a note; voices that cross are merely less clear.
        const cost = far + (busy ? 4000 : 0) + (crossed ? 2000 : 0);
        if (cost < least) [least, best] = [cost, v];
      }
      group[i] = best;
      above = best;
      free[best] = Math.max(free[best]!, notes.end[i]!);
      pitch[best] = key;
    }
    from = to;
  }
  return group;
}

export const split = defineStep({
  id: 'split',
  reach: 'notes',
  title: 'Split a part',
  summary:
    'Makes several parts of one: by pitch, hand, voice, stretch, velocity, chord column, or in turn.',
  params: z.strictObject({
    by: z.enum(BY),
    at: z.int().min(0).max(127).optional().describe('Note number or velocity to split at'),
    voices: z.int().min(2).max(16).optional().describe('Voices, columns, or parts that take turns'),
    channels: z
      .array(z.int().min(1).max(16))
      .max(16)
      .optional()
      .describe('Channels of the new parts, in their order; the part’s own where nothing is said'),
    turned: z
      .array(NoteAddressShape)
      .max(100_000)
      .optional()
      .describe('Single notes that go to the next of the new parts instead'),
  }),
  describe: (p) =>
    `split by ${p.by}${p.at === undefined ? '' : p.by === 'key' ? ` at ${noteName(p.at)}` : ` at ${p.at}`}` +
    (p.voices === undefined ? '' : ` into ${p.voices}`) +
    (p.turned?.length ? `, ${count(p.turned.length, 'note')} by hand` : ''),
  apply({ piece, params, select }) {
    if (params.by === 'channel')
      return { refused: 'Parts are one channel each already: seat or leave them out one by one.' };
    if (!select.whole && params.by !== 'stretch')
      return { refused: 'Chosen notes or bars are split off by stretch.' };
    let made = 0;
    let touched = 0;
    const turned = new Set<number>();
    const missing = (params.turned ?? []).filter((address) => {
      const origin = select.origin(address);
      if (origin !== null) turned.add(origin);
      return origin === null;
    });
    const parts = piece.score.parts.flatMap((part) => {
      if (!select.part(part) || part.leftOut || part.notes.count === 0) return [part];
      const { names, group } = groupsOf(part, params, select);
      if (turned.size > 0)
        for (let i = 0; i < group.length; i++)
          if (turned.has(part.notes.origin[i]!)) group[i] = (group[i]! + 1) % names.length;
      const used = names.map((_, g) => notesWhere(part.notes, (i) => group[i] === g));
      const live = names.map((name, g) => ({ name, g })).filter(({ g }) => used[g]!.length > 0);
      if (live.length < 2) return [part];
      made += live.length - 1;
      touched += part.notes.count;
      // Every channel that they go to gets what sets it up, once.
      const setUp = new Set<number>();
      return live.map(({ name, g }, k): Part => {
        const channel = params.channels?.[g] ?? part.channel;
        const first = k === 0;
        const there = setUp.has(channel);
        setUp.add(channel);
        return {
          ...part,
          id: first ? part.id : `${part.id}.${g + 1}`,
          name: `${part.name}, ${name}`,
          ref: { ...part.ref, track: `${part.ref.track}, ${name}` },
          channel,
          notes: pickNotes(part.notes, used[g]!),
          events: there ? NO_EVENTS : first ? part.events : withoutOrder(part.events),
          seat: null,
          seatChosen: false,
        };
      });
    });
    if (made === 0) return { refused: 'All notes fall on one side: nothing is split.' };
    const counts = { changed: touched, verb: `in ${made + 1} parts` };
    return { ...done(withScore(piece, { parts }), counts), missing };
  },
});

const place = z.strictObject({
  place: z.string().min(1).max(60).describe('Place at the target, by its id'),
  fileName: z.string().min(1).max(120),
  fromBar: z.int().min(1).describe('First bar, from 1'),
  bars: z.number().min(0.25).max(64).describe('Length in bars'),
});

export const carve = defineStep({
  id: 'carve',
  reach: 'piece',
  title: 'Carve into files',
  summary: 'Makes a file of each stretch of bars. What begins in a stretch and rings on is cut.',
  params: z.strictObject({ places: z.array(place).min(1).max(64) }),
  describe: (p) =>
    `carve into ${count(p.places.length, 'file')}: ${p.places
      .slice(0, 4)
      .map((c) => c.fileName)
      .join(', ')}${p.places.length > 4 ? '…' : ''}`,
  apply({ piece, params, maps }) {
    const names = params.places.map((p) => p.fileName.toLowerCase());
    if (new Set(names).size < names.length) return { refused: 'Two files would share a name.' };
    const end = endTickOf(piece.score);
    const taken = new Set<number>();
    const captions = new Set<Caption>();
    let cutShort = 0;
    const pieces: Piece[] = [];
    for (const cut of params.places) {
      const fromTick = maps.bars.barStart(cut.fromBar - 1);
      if (fromTick >= end) return { refused: `The piece has no bar ${cut.fromBar}.` };
      const whole = Math.floor(cut.bars);
      const last = maps.bars.barStart(cut.fromBar - 1 + whole);
      const part = cut.bars - whole;
      const next = maps.bars.barStart(cut.fromBar + whole);
      const toTick = last + Math.round((next - last) * part);
      const made = cutPiece(piece, fromTick, toTick);
      for (const id of made.taken) taken.add(id);
      for (const c of piece.captions ?? [])
        if (c.tick >= fromTick && c.tick < toTick) captions.add(c);
      cutShort += made.cut;
      const { place: seat, fileName } = cut;
      pieces.push({
        ...made.piece,
        delivery: { ...made.piece.delivery, fileName, place: seat },
      });
    }
    const before = piece.score.parts.reduce((n, p) => n + (p.leftOut ? 0 : p.notes.count), 0);
    const verb = `in ${count(pieces.length, 'file')}`;
    const result = done(piece, { changed: taken.size, verb }, [
      { what: 'notes outside the stretches', count: before - taken.size },
      { what: 'notes cut at the end of their file', count: cutShort },
      {
        what: 'captions outside the stretches',
        count: (piece.captions?.length ?? 0) - captions.size,
      },
    ]);
    return { ...result, piece: pieces[0]!, pieces };
  },
});

export const takePlace = defineStep({
  id: 'take-place',
  reach: 'piece',
  title: 'Take a place',
  summary: 'Gives the whole piece one of the places that the target has for files.',
  params: z.strictObject({
    place: z.string().min(1).max(60).describe('Place at the target, by its id'),
    fileName: z.string().min(1).max(120),
  }),
  describe: (p, named) => `take the place ${nameOfSeat(p.place, named)} as ${p.fileName}`,
  apply: ({ piece, params: { place: seat, fileName } }) =>
    done(
      { ...piece, delivery: { ...piece.delivery, place: seat, fileName } },
      { says: `In the place ${seat}` },
    ),
});
