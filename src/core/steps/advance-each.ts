import * as z from 'zod';
import { joinNotes, newNotes, notesWhere, pickNotes } from '../score/columns';
import { isIn, OFF_BY_NOTE_OFF, ticksPerQuarterOf, type Part } from '../score/score';
import { noteName } from '../target/words';
import type { Clock } from '../time/tempo-map';
import { done, NewIds, withScore, defineStep } from './define-step';

/**
 * Which of the advances turns to which caption, both in order of time; −1 where none does. Each advance
 * is for the word that it is nearest to, and of several the nearest; a word without one takes what is
 * left over between its neighbours.
 */
function matched(advances: readonly number[], captions: readonly number[], most: number): number[] {
  const out = new Array<number>(captions.length).fill(-1);
  const off = (k: number, c: number) => Math.abs(advances[k]! - captions[c]!);
  let c = 0;
  for (let k = 0; k < advances.length && captions.length > 0; k++) {
    while (c + 1 < captions.length && off(k, c + 1) <= off(k, c)) c++;
    const best = out[c]!;
    if (off(k, c) <= most && (best < 0 || off(k, c) <= off(best, c))) out[c] = k;
  }
  /** The next advance that is taken behind each word. */
  const behind = new Int32Array(captions.length).fill(advances.length);
  for (c = captions.length - 2; c >= 0; c--)
    behind[c] = out[c + 1]! >= 0 ? out[c + 1]! : behind[c + 1]!;
  let before = -1;
  for (c = 0; c < captions.length; c++) {
    if (out[c]! < 0) {
      for (let k = before + 1; k < behind[c]!; k++)
        if (off(k, c) <= most && (out[c]! < 0 || off(k, c) <= off(out[c]!, c))) out[c] = k;
    }
    before = Math.max(before, out[c]!);
  }
  return out;
}

/**
 * When each caption is turned to, and whether by the advance that it has: that stays where the next can
 * follow it. Else, and where there is none, it is turned to at its word, or so much sooner.
 */
function turnsFor(
  words: readonly number[],
  had: readonly (number | null)[],
  { withinMs, apartMs = 0 }: { withinMs: number; apartMs?: number | undefined },
  /** The last time at or before one at which a tick stands. */
  tickedMs: (ms: number) => number,
): { ms: number; kept: boolean }[] {
  const out: { ms: number; kept: boolean }[] = [];
  let next = Infinity;
  for (let c = words.length - 1; c >= 0; c--) {
    const own = had[c] ?? null;
    const sooner = next - apartMs < words[c]! ? tickedMs(next - apartMs) : words[c]!;
    const may = sooner >= Math.max(0, words[c]! - withinMs);
    const kept = own !== null && (own <= next - apartMs || !may);
    const ms = kept ? own : may ? sooner : words[c]!;
    out[c] = { ms, kept };
    next = ms;
  }
  return out;
}

const tickBefore = ({ tickAt, msAt }: Clock, ms: number): number => {
  const tick = tickAt(ms);
  return msAt(tick) > ms && tick > 0 ? tick - 1 : tick;
};

export const advanceEach = defineStep({
  id: 'advance-each',
  reach: 'piece',
  title: 'An advance for each caption',
  summary:
    'Keeps the note that turns to each caption, where the next can follow it. Others are left out; what is missing is added at the word, or as long before it as the next needs.',
  params: z.strictObject({
    noteNumber: z.int().min(0).max(127).describe('The note that turns to the next caption'),
    withinMs: z.number().min(0).max(60_000).describe('Milliseconds from the word, at most'),
    apartMs: z
      .number()
      .min(0)
      .max(60_000)
      .optional()
      .describe('From one to the next, where what is added can be turned sooner'),
  }),
  describe: (p) => `an advance (${noteName(p.noteNumber)}) for each caption`,
  apply({ piece, params, maps }) {
    const captions = piece.captions ?? [];
    if (captions.length === 0) return { refused: 'There are no captions yet.' };
    const playing = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const [first] = playing;
    if (!first) return { refused: 'No part is seated that could turn them.' };
    const { clock } = maps;
    const advances: { part: Part; index: number; ms: number }[] = [];
    for (const part of playing)
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.noteNumber[i] === params.noteNumber)
          advances.push({ part, index: i, ms: clock.msAt(part.notes.start[i]!) });
    advances.sort((a, b) => a.ms - b.ms);
    const words = captions.map((c) => clock.msAt(c.tick));
    const of = matched(
      advances.map((a) => a.ms),
      words,
      params.withinMs,
    );
    const turns = turnsFor(
      words,
      of.map((k) => (k < 0 ? null : advances[k]!.ms)),
      params,
      (ms) => clock.msAt(tickBefore(clock, ms)),
    );
    const kept = new Map<Part, Set<number>>();
    of.forEach((k, c) => {
      if (!turns[c]!.kept) return;
      const { part, index } = advances[k]!;
      kept.set(part, (kept.get(part) ?? new Set<number>()).add(index));
    });
    const missing = captions.flatMap((_, c) => (turns[c]!.kept ? [] : [c]));
    const ids = new NewIds(piece);
    const length = Math.max(1, Math.round(ticksPerQuarterOf(piece.score.division) / 4));
    const added = newNotes(missing.length);
    missing.forEach((c, i) => {
      const { ms } = turns[c]!;
      const tick = ms < words[c]! ? clock.tickAt(ms) : captions[c]!.tick;
      added.start[i] = tick;
      added.end[i] = tick + length;
      added.noteNumber[i] = params.noteNumber;
      added.velocity[i] = 96;
      added.offKind[i] = OFF_BY_NOTE_OFF;
      added.id[i] = ids.next();
    });
    let dropped = 0;
    const parts = piece.score.parts.map((part) => {
      if (!playing.includes(part)) return part;
      const mine = kept.get(part);
      const stays = notesWhere(
        part.notes,
        (i) => part.notes.noteNumber[i] !== params.noteNumber || mine?.has(i) === true,
      );
      dropped += part.notes.count - stays.length;
      const notes = pickNotes(part.notes, stays);
      return { ...part, notes: part === first ? joinNotes([notes, added]) : notes };
    });
    return done(
      ids.keep(withScore(piece, { parts })),
      { dropped, added: missing.length, says: 'Each caption has its advance' },
      [{ what: 'notes', count: dropped }],
    );
  },
});
