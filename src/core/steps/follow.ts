import * as z from 'zod';
import { joinNotes, notesWhere, pickNotes, withoutOrder } from '../score/columns';
import { BASS, importanceOf, TUNE } from '../reading/importance/importance';
import { isDrumPart } from '../reading/importance/drums';
import type { Part } from '../score/score';
import { count } from '../target/words';
import { PartAddress } from './address';
import { defineStep, done, withScore } from './define-step';

export const LINES = ['tune', 'bass', 'chords', 'beat'] as const;
export type FollowedLine = (typeof LINES)[number];

const TITLES: Readonly<Record<FollowedLine, string>> = {
  tune: 'the tune',
  bass: 'the bass',
  chords: 'the chords of all',
  beat: 'all drums as one',
};

/** How the new part is found: by the name of the part that had most of it. */
export const followedName = (track: string, line: FollowedLine): string => `${track}, ${line}`;

const takes = z.strictObject({
  fromBar: z.int().min(1).describe('First bar, from 1'),
  bars: z.int().min(1).max(100_000),
  part: PartAddress,
});

export const follow = defineStep({
  id: 'follow',
  reach: 'parts',
  title: 'Follow a line',
  summary:
    'Makes one part of several: phrase by phrase the notes of whoever has the tune, or the bass; or the chords of all, or all drums. What is not taken stays where it was.',
  params: z.strictObject({
    line: z.enum(LINES),
    voices: z.int().min(1).max(16).optional().describe('Notes at once, of chords'),
    takes: z
      .array(takes)
      .max(1000)
      .optional()
      .describe('Bars in which it is taken from a part of your choice'),
  }),
  describe: (p) =>
    `follow ${TITLES[p.line]}` +
    (p.voices === undefined ? '' : `, ${p.voices} at once`) +
    (p.takes?.length ? `, ${count(p.takes.length, 'stretch', 'stretches')} by choice` : ''),
  apply({ piece, params, select, maps, came }) {
    const { line, voices = 4 } = params;
    const players = piece.score.parts.filter(
      (p) =>
        select.part(p) && !p.leftOut && p.notes.count > 0 && (line === 'beat') === isDrumPart(p),
    );
    if (players.length === 0) return { refused: `Nobody plays ${TITLES[line]}.` };
    const { flags, weight, moment } = importanceOf(came.score);
    const chosen = choice(params.takes ?? [], select.find, maps.bars);
    const wanted = new Map<Part, Uint8Array>(
      players.map((p) => [p, new Uint8Array(p.notes.count)] as const),
    );
    for (const part of players) {
      const { notes } = part;
      const marks = wanted.get(part)!;
      for (let i = 0; i < notes.count; i++) {
        const by = chosen(notes.start[i]!);
        const flag = flags[notes.origin[i]!] ?? 0;
        if (line === 'beat') marks[i] = 1;
        else if (line === 'chords') marks[i] = flag & (TUNE | BASS) ? 0 : 1;
        else if (by !== undefined)
          marks[i] = by === part && isOuter(part, i, line === 'tune') ? 1 : 0;
        else marks[i] = flag & (line === 'tune' ? TUNE : BASS) ? 1 : 0;
      }
    }
    if (line === 'chords') thinChords(players, wanted, { weight, moment }, voices);
    const own = players.flatMap((part) => {
      const marks = wanted.get(part)!;
      const kept = notesWhere(part.notes, (i) => marks[i] === 1);
      return kept.length === 0 ? [] : [{ part, notes: pickNotes(part.notes, kept) }];
    });
    if (own.length === 0) return { refused: `Nobody plays ${TITLES[line]}.` };
    const main = own.reduce((a, b) => (b.notes.count > a.notes.count ? b : a)).part;
    const made: Part = {
      ...main,
      id: `${main.id}.${line}`,
      ref: { ...main.ref, track: followedName(main.ref.track, line) },
      name: followedName(main.name, line),
      sourceTrack: -1,
      notes: joinNotes(own.map((o) => o.notes)),
      events: withoutOrder(main.events),
      seat: null,
      seatChosen: false,
    };
    const parts = piece.score.parts.flatMap((part): Part[] => {
      const marks = wanted.get(part);
      if (!marks) return [part];
      const rest = notesWhere(part.notes, (i) => marks[i] === 0);
      const left: Part[] =
        rest.length === part.notes.count
          ? [part]
          : [{ ...part, notes: pickNotes(part.notes, rest) }];
      return part === main ? [made, ...left] : left;
    });
    return done(withScore(piece, { parts }), {
      changed: made.notes.count,
      verb: `taken from ${count(own.length, 'part')}`,
    });
  },
});

/** Whose notes are taken by choice at a tick; undefined where nobody chose. */
function choice(
  list: readonly z.infer<typeof takes>[],
  find: (ref: z.infer<typeof PartAddress>) => Part | undefined,
  bars: { barStart(bar: number): number },
): (tick: number) => Part | null | undefined {
  const spans = list.map((t) => ({
    from: bars.barStart(t.fromBar - 1),
    to: bars.barStart(t.fromBar - 1 + t.bars),
    part: find(t.part) ?? null,
  }));
  // What was said last counts.
  return (tick) => spans.findLast((s) => tick >= s.from && tick < s.to)?.part;
}

/** Whether no note of its part that is struck with it lies further out. */
function isOuter({ notes }: Part, i: number, highest: boolean): boolean {
  const further = (k: number) =>
    highest
      ? notes.noteNumber[k]! > notes.noteNumber[i]!
      : notes.noteNumber[k]! < notes.noteNumber[i]!;
  for (let k = i - 1; k >= 0 && notes.start[k] === notes.start[i]; k--)
    if (further(k)) return false;
  for (let k = i + 1; k < notes.count && notes.start[k] === notes.start[i]; k++)
    if (further(k)) return false;
  return true;
}

/** Of each moment every pitch class once, and no more than so many: those that are missed most. */
function thinChords(
  players: readonly Part[],
  wanted: ReadonlyMap<Part, Uint8Array>,
  { weight, moment }: { weight: Float32Array; moment: Uint32Array },
  voices: number,
) {
  const moments = new Map<number, { part: Part; i: number }[]>();
  for (const part of players)
    for (let i = 0; i < part.notes.count; i++) {
      if (wanted.get(part)![i] === 0) continue;
      const at = moment[part.notes.origin[i]!] ?? 0;
      const there = moments.get(at);
      if (there) there.push({ part, i });
      else moments.set(at, [{ part, i }]);
    }
  const worth = ({ part, i }: { part: Part; i: number }) => weight[part.notes.origin[i]!] ?? 0;
  for (const notes of moments.values()) {
    const classes = new Set<number>();
    for (const note of notes.sort((a, b) => worth(b) - worth(a))) {
      const pitchClass = note.part.notes.noteNumber[note.i]! % 12;
      if (classes.has(pitchClass) || classes.size >= voices) wanted.get(note.part)![note.i] = 0;
      else classes.add(pitchClass);
    }
  }
}
