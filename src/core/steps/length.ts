import * as z from 'zod';
import { deliveredEnd } from '../reading/ends';
import type { Piece } from '../score/piece';
import { endTickOf, isIn } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import type { Maps } from '../score/inventory';
import { count, plain } from '../target/words';
import { sayClock } from '../time/meter-map';
import { eventsWhere, notesUntil } from './cut';
import { changeParts, defineStep, done, withScore } from './define-step';

/** The first tick that lies so long behind the last event and the last note. */
function behindLast({ score }: Piece, tailMs: number, { clock }: Maps): number {
  let last = 0;
  for (const { events, notes, leftOut } of score.parts) {
    if (leftOut) continue;
    if (events.count > 0) last = Math.max(last, events.tick[events.count - 1]!);
    for (let i = 0; i < notes.count; i++) last = Math.max(last, notes.end[i]!);
  }
  const until = clock.msAt(last) + tailMs;
  let tick = Math.max(1, last, Math.floor(clock.tickAt(until)) - 1);
  while (clock.msAt(tick) < until) tick++;
  return tick;
}

export const setLength = defineStep({
  id: 'set-length',
  reach: 'piece',
  title: 'Set the length',
  summary:
    'Ends every track at one place: a bar line, a moment, a tick, the end of the tracks as they are, or the common end. Cuts what lies beyond.',
  params: z.strictObject({
    bars: z.number().min(0.25).max(100_000).optional().describe('Length in bars'),
    toMs: z.number().min(0.001).max(86_400_000).optional().describe('Length in milliseconds'),
    toTick: z
      .int()
      .min(1)
      .max(LATEST_TICK)
      .optional()
      .describe('Ticks of the piece as it is there'),
    tailMs: z
      .number()
      .min(0)
      .max(3_600_000)
      .optional()
      .describe('So long behind the last event, in milliseconds'),
    tracksEnd: z
      .boolean()
      .optional()
      .describe('Where the last track that plays ends, whatever rings past it'),
  }),
  describe: (p) =>
    p.bars !== undefined
      ? `end after ${count(p.bars, 'bar')}`
      : p.toMs !== undefined
        ? `end after ${sayClock(p.toMs)}`
        : p.toTick !== undefined
          ? `end at tick ${p.toTick}`
          : p.tailMs !== undefined
            ? `end ${plain(p.tailMs)} ms behind the last event`
            : p.tracksEnd
              ? 'end where the tracks end'
              : 'end all tracks at the common end',
  apply(input) {
    const { piece, params, maps } = input;
    const { score } = piece;
    let end = params.toTick ?? (params.tracksEnd ? lastTrackEnd(piece) : deliveredEnd(piece));
    if (params.toMs !== undefined) end = Math.max(1, maps.clock.tickAt(params.toMs));
    if (params.tailMs !== undefined) end = behindLast(piece, params.tailMs, maps);
    if (params.bars !== undefined) {
      const whole = Math.floor(params.bars);
      const from = maps.bars.barStart(whole);
      const next = maps.bars.barStart(whole + 1);
      end = from + Math.round((next - from) * (params.bars - whole));
    }
    if (end < 1) return { refused: 'The tracks have no length: say one.' };
    if (end > LATEST_TICK)
      return { refused: 'The end would pass the latest tick that a file can hold.' };
    let dropped = 0;
    let cut = 0;
    let events = 0;
    const early = (tick: number) => tick < end || tick === 0;
    const count2 = <T extends { tick: number }>(list: readonly T[]): readonly T[] => {
      const kept = list.filter((e) => early(e.tick));
      events += list.length - kept.length;
      return kept.length === list.length ? list : kept;
    };
    const keepTexts = <T extends { tick: number }>(list: readonly T[]): readonly T[] => {
      const kept = list.filter((e) => e.tick <= end);
      events += list.length - kept.length;
      return kept;
    };
    const next = changeParts(
      { ...input, select: { ...input.select, part: () => true } },
      (part) => {
        const { notes } = part;
        let rings = 0;
        for (let i = 0; i < notes.count; i++) {
          if (notes.start[i]! >= end) dropped++;
          else if (notes.end[i]! > end) rings++;
        }
        cut += rings;
        const over = notes.count > 0 && (rings > 0 || notes.start[notes.count - 1]! >= end);
        // An event at the very end prepares nothing any more, but costs nothing either.
        const kept = eventsWhere(part.events, (tick) => tick <= end);
        events += part.events.count - kept.count;
        if (!over && kept === part.events) return part;
        return { ...part, notes: over ? notesUntil(notes, end) : notes, events: kept };
      },
    );
    const { conductor } = score;
    const ended = withScore(next, {
      conductor: {
        tempos: count2(conductor.tempos),
        meters: count2(conductor.meters),
        keys: count2(conductor.keys),
        markers: count2(conductor.markers),
      },
      tracks: next.score.tracks.map((t) => ({
        ...t,
        endTick: end,
        events: keepTexts(t.events),
      })),
    });
    const longer = end > endTickOf(score);
    const captions = piece.captions?.filter((c) => c.tick < end);
    const captionsGone = (piece.captions?.length ?? 0) - (captions?.length ?? 0);
    return done(
      captionsGone > 0 && captions ? { ...ended, captions } : ended,
      {
        dropped,
        changed: cut,
        verb: 'cut at the end',
        events,
        eventWords: 'events past the end taken out',
        says: longer ? 'Filled up to the end' : 'Ended there',
      },
      [
        { what: 'notes past the end', count: dropped },
        { what: 'events past the end', count: events },
        { what: 'captions past the end', count: captionsGone },
      ],
    );
  },
});

/** Where the last of the tracks ends whose parts go out. */
const lastTrackEnd = ({ score }: Piece): number =>
  score.parts
    .filter((p) => isIn(p) && p.notes.count > 0)
    .reduce((end, p) => Math.max(end, score.tracks[p.track]?.endTick ?? 0), 0);
