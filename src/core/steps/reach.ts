import * as z from 'zod';
import { ticksPerQuarterOf, type NoteColumns } from '../score/score';
import { allowedKeys } from '../target/limits';
import { count, noteName } from '../target/words';
import { changeParts, defineStep, done } from './define-step';
import { foldKey } from './pitch';

const noteNumber = z.int().min(0).max(127);
const MOST_OCTAVES = 5;
/** A rest of this many quarters parts two phrases. */
const REST_QUARTERS = 0.75;
/** A line without rests is cut here: nobody hears a leap of octaves behind so many notes as a fault. */
const LONGEST_PHRASE = 64;

/** Where phrases begin: behind rests. Notes stand in order of time. */
export function phrasesOf(notes: NoteColumns, quarter: number): number[] {
  const from: number[] = [];
  let end = -Infinity;
  for (let i = 0; i < notes.count; i++) {
    const rest = notes.start[i]! - end >= quarter * REST_QUARTERS;
    const long = i - (from.at(-1) ?? 0) >= LONGEST_PHRASE && notes.start[i]! >= end;
    if (i === 0 || rest || long) from.push(i);
    end = Math.max(end, notes.end[i]!);
  }
  return from;
}

/**
 * The octave of each phrase, by dynamic programming: as few notes as can be out of reach, then as
 * little movement, and phrases that follow each other together.
 */
export function octavesOf(
  notes: NoteColumns,
  phrases: readonly number[],
  allowed: readonly boolean[],
  chosen: (i: number) => boolean,
): number[] {
  const span = 2 * MOST_OCTAVES + 1;
  const cost = phrases.map((from, p) => {
    const to = phrases[p + 1] ?? notes.count;
    const row = new Float64Array(span);
    for (let o = 0; o < span; o++) {
      const by = (o - MOST_OCTAVES) * 12;
      let out = 0;
      for (let i = from; i < to; i++)
        if (chosen(i) && allowed[notes.noteNumber[i]! + by] !== true) out++;
      row[o] = out * 10 + Math.abs(o - MOST_OCTAVES) * 2;
    }
    return row;
  });
  const back: Int8Array[] = [];
  let sums = cost[0] ? Float64Array.from(cost[0]) : new Float64Array(span);
  for (let p = 1; p < cost.length; p++) {
    const next = new Float64Array(span);
    const from = new Int8Array(span);
    for (let o = 0; o < span; o++) {
      let best = Infinity;
      for (let q = 0; q < span; q++) {
        const sum = sums[q]! + Math.abs(o - q) * 3;
        if (sum < best) {
          best = sum;
          from[o] = q;
        }
      }
      next[o] = best + cost[p]![o]!;
    }
    back.push(from);
    sums = next;
  }
  let o = sums.indexOf(Math.min(...sums));
  const out = new Array<number>(phrases.length);
  for (let p = phrases.length - 1; p >= 0; p--) {
    out[p] = o - MOST_OCTAVES;
    if (p > 0) o = back[p - 1]![o]!;
  }
  return out;
}

/** The allowed key nearest to one that has none of its octaves; the lower of two as near. */
function nearestKey(key: number, allowed: readonly boolean[]): number {
  for (let by = 0; by < 128; by++) {
    if (allowed[key - by]) return key - by;
    if (allowed[key + by]) return key + by;
  }
  return -1;
}

export const bringIntoReach = defineStep({
  id: 'bring-into-reach',
  reach: 'notes',
  title: 'Bring into reach',
  summary:
    'Moves whole phrases by octaves until the target has their notes, single notes last; what has no octave there may go to the nearest key.',
  params: z.strictObject({
    lowest: noteNumber.optional(),
    highest: noteNumber.optional(),
    without: z.array(noteNumber).optional(),
    only: z.array(noteNumber).optional(),
    nearest: z.boolean().optional().describe('What has no octave there goes to the nearest key'),
  }),
  describe: (p) =>
    `bring into reach, phrase by phrase${p.nearest ? ', the rest to the nearest key' : ''}` +
    (p.lowest === undefined && p.highest === undefined
      ? ''
      : ` (${noteName(p.lowest ?? 0)}–${noteName(p.highest ?? 127)})`),
  apply(input) {
    const allowed = allowedKeys(input.params);
    const quarter = ticksPerQuarterOf(input.piece.score.division);
    let moved = 0;
    let elsewhere = 0;
    let left = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const chosen = (i: number) => input.select.note(part, i);
      const phrases = phrasesOf(notes, quarter);
      const octaves = octavesOf(notes, phrases, allowed, chosen);
      const keys = Uint8Array.from(notes.noteNumber);
      let touched = 0;
      phrases.forEach((from, p) => {
        const to = phrases[p + 1] ?? notes.count;
        for (let i = from; i < to; i++) {
          if (!chosen(i)) continue;
          const was = notes.noteNumber[i]!;
          const wanted = was + octaves[p]! * 12;
          let key = allowed[wanted] ? wanted : foldKey(Math.max(0, Math.min(127, wanted)), allowed);
          if (key < 0 && input.params.nearest) key = nearestKey(was, allowed);
          if (key < 0) {
            left++;
            continue;
          }
          if (key === was) continue;
          keys[i] = key;
          touched++;
          if ((key - was) % 12 === 0) moved++;
          else elsewhere++;
        }
      });
      return touched === 0 ? part : { ...part, notes: { ...notes, noteNumber: keys } };
    });
    if (moved + elsewhere === 0 && left > 0)
      return { refused: `None of the ${count(left, 'note')} has an octave that is allowed.` };
    return done(piece, {
      changed: moved + elsewhere,
      verb: elsewhere === 0 ? 'moved by octaves' : `moved, ${elsewhere} of them to the nearest key`,
    });
  },
});
