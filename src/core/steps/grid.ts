import * as z from 'zod';
import { joinNotes, sortNotes } from '../score/columns';
import { chordsOf } from '../reading/chords';
import { isIn, ticksPerQuarterOf, type Part } from '../score/score';
import type { Clock } from '../time/tempo-map';
import { noteName, plain } from '../target/words';
import { changeParts, defineStep, done, NewIds } from './define-step';
import { notesOf } from './keys';
import { crowdsOf, setEnds } from './crowd';

export const quantise = defineStep({
  id: 'quantise',
  reach: 'notes',
  title: 'Quantise',
  summary:
    'Moves the starts of notes to a grid of beats or of rows a second, wholly or by a share. Lengths stay.',
  params: z.strictObject({
    dividePer: z
      .int()
      .min(1)
      .max(96)
      .optional()
      .describe('Grid places in a quarter note: 4 for sixteenths, 3 for triplets'),
    rowsPerSecond: z.number().min(0.1).max(1000).optional().describe('Rows a second'),
    strengthPercent: z.int().min(1).max(100).optional().describe('Percent of the way'),
    chordWithinMs: z
      .number()
      .min(0)
      .max(500)
      .optional()
      .describe('Milliseconds: notes this close are struck together'),
  }),
  describe: (p) =>
    [
      p.dividePer === undefined ? '' : `quantise to ${p.dividePer} in a quarter`,
      p.rowsPerSecond === undefined ? '' : `quantise to ${plain(p.rowsPerSecond)} rows a second`,
      p.chordWithinMs === undefined
        ? ''
        : `strike chords together (within ${plain(p.chordWithinMs)} ms)`,
      p.strengthPercent === undefined || p.strengthPercent === 100
        ? ''
        : `by ${p.strengthPercent} percent`,
    ]
      .filter(Boolean)
      .join(', ') || 'quantise',
  apply(input) {
    const { params, select, maps, piece } = input;
    if (params.dividePer === undefined && params.rowsPerSecond === undefined)
      if (params.chordWithinMs === undefined)
        return { refused: 'A grid is needed: places in a quarter note, rows a second, or chords.' };
    const quarter = ticksPerQuarterOf(piece.score.division);
    const share = (params.strengthPercent ?? 100) / 100;
    const { clock } = maps;
    const onGrid = (tick: number) => {
      if (params.rowsPerSecond !== undefined) {
        const row = 1000 / params.rowsPerSecond;
        return nearestTick(clock, Math.round(clock.msAt(tick) / row) * row);
      }
      if (params.dividePer === undefined) return tick;
      // Bars may begin between quarters: the grid begins anew with each.
      const bar = maps.bars.barStart(maps.bars.barAt(tick));
      const place = Math.round(((tick - bar) * params.dividePer) / quarter);
      return bar + Math.round((place * quarter) / params.dividePer);
    };
    // Chords over all parts begin where their first note does.
    const together = new Map<number, number>();
    if (params.chordWithinMs !== undefined) {
      const starts = new Set<number>();
      for (const part of piece.score.parts)
        if (isIn(part) && select.part(part))
          for (let i = 0; i < part.notes.count; i++)
            if (select.note(part, i)) starts.add(part.notes.start[i]!);
      let head = -1;
      for (const tick of [...starts].sort((a, b) => a - b)) {
        if (head < 0 || clock.msAt(tick) - clock.msAt(head) > params.chordWithinMs) head = tick;
        together.set(tick, head);
      }
    }
    let changed = 0;
    const next = changeParts(input, (part) => {
      const { notes } = part;
      const start = Int32Array.from(notes.start);
      const end = Int32Array.from(notes.end);
      const onOrder = Uint32Array.from(notes.onOrder);
      const offOrder = Uint32Array.from(notes.offOrder);
      let touched = 0;
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        const from = start[i]!;
        const wanted = onGrid(together.get(from) ?? from);
        const to = Math.max(0, Math.round(from + (wanted - from) * share));
        if (to === from) continue;
        start[i] = to;
        end[i] = end[i]! + to - from;
        onOrder[i] = 0;
        offOrder[i] = 0;
        touched++;
      }
      changed += touched;
      if (touched === 0) return part;
      return { ...part, notes: sortNotes({ ...notes, start, end, onOrder, offOrder }) };
    });
    return done(next, { changed, verb: 'on the grid' });
  },
});

function nearestTick(clock: Clock, ms: number): number {
  const tick = clock.tickAt(ms);
  const off = (t: number) => Math.abs(clock.msAt(t) - ms);
  return [tick - 1, tick + 1].reduce((a, b) => (b >= 0 && off(b) < off(a) ? b : a), tick);
}

export const addTriggerKeys = defineStep({
  id: 'add-trigger-keys',
  reach: 'notes',
  title: 'Add trigger keys',
  summary: 'Adds a trigger key wherever a chord begins and none is struck with it.',
  params: z.strictObject({
    key: z.int().min(0).max(127).describe('Note number of the trigger'),
    chordLowest: z.int().min(0).max(127),
    chordHighest: z.int().min(0).max(127),
    triggerLowest: z.int().min(0).max(127),
    triggerHighest: z.int().min(0).max(127),
    leastNotes: z.int().min(1).max(16).describe('Notes that make a chord'),
    withinMs: z.number().min(0).max(500).describe('Milliseconds'),
  }),
  describe: (p) => `add the trigger key ${noteName(p.key)} to chords without one`,
  apply(input) {
    const { piece, params: p, maps, select } = input;
    const ids = new NewIds(piece);
    // Chords are struck on a channel, whichever parts their notes are of.
    const rows = new Map<Part, [number, number, number, number, number][]>();
    const everyNote = { ...select, part: () => true, note: () => true };
    for (const crowd of crowdsOf(piece, everyNote, 'channel')) {
      const part = (n: number) => crowd.parts[crowd.part[n]!]!;
      const notes = { count: crowd.count, start: crowd.start, noteNumber: crowd.key };
      for (const { first, indices, struck } of chordsOf(notes, maps.clock, p, p.withinMs)) {
        if (indices.length < p.leastNotes || struck) continue;
        const head = indices.find(
          (n) => select.part(part(n)) && select.note(part(n), crowd.index[n]!),
        );
        if (head === undefined) continue;
        const end = Math.max(first + 1, crowd.end[head]!);
        const list = rows.get(part(head)) ?? [];
        list.push([first, end, p.key, crowd.velocity[head]!, 0]);
        rows.set(part(head), list);
      }
    }
    let added = 0;
    const next = changeParts(input, (part) => {
      const more = rows.get(part);
      if (!more) return part;
      added += more.length;
      return { ...part, notes: joinNotes([part.notes, notesOf(more, ids.next)]) };
    });
    return done(ids.keep(next), { added });
  },
});

export const closeGaps = defineStep({
  id: 'close-gaps',
  reach: 'notes',
  title: 'Close gaps',
  summary: 'Lets each note sound until the next of its part begins, where the gap is short.',
  params: z.strictObject({ longestMs: z.number().min(1).max(10_000).describe('Milliseconds') }),
  describe: (p) => `close gaps up to ${plain(p.longestMs)} ms`,
  apply(input) {
    const { params, select, maps } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const ends = new Map<number, number>();
      let next = Infinity;
      for (let i = notes.count - 1; i >= 0; i--) {
        const start = notes.start[i]!;
        const later = notes.start[i + 1] ?? Infinity;
        if (later > start) next = later;
        if (next === Infinity || !select.note(part, i)) continue;
        const gap = maps.clock.msAt(next) - maps.clock.msAt(notes.end[i]!);
        if (gap > 0 && gap <= params.longestMs) ends.set(i, next);
      }
      changed += ends.size;
      return ends.size === 0 ? part : { ...part, notes: setEnds(notes, ends) };
    });
    return done(piece, { changed, verb: 'lengthened to the next' });
  },
});
