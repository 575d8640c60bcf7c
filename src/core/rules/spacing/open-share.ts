import type { LineNotes, OutputLine } from '../../reading/lines';
import type { Maps } from '../../score/inventory';
import type { Piece } from '../../score/piece';
import type { Target } from '../../target/schema';
import type { Mend } from '../finding';
import { playing } from '../seats/playing';
import { clearing, idleSeats, inTurn, namesOf } from '../seats/spread';
import { HAIR, SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { causeOf, onlyPart } from './line-names';
import { limitOpen } from '../../steps/spacing/limit-open';
import { plain, sayMs } from '../../target/words';

export const openShare = defineRule({
  id: 'open-share',
  summary: 'How long a seat may sound within any stretch of time.',
  story: {
    why: 'Each note is short enough, and too many follow each other.',
    mends: 'Idle seats take turns with it, or notes are shortened so that no stretch is too full.',
  },
  block: 'spacing',
  reads: ['mostOpenMs'],
  phase: 'spacing',
  codes: {
    'open-too-long': says<{ name: string; most: string; stretch: string; allowed: string }>({
      title: 'Part open for too long',
      wrong: (f) => `“${f.name}” is open for up to ${f.most} ms in ${f.stretch} ms.`,
      then: (f, w) => `${w.Target} runs out of breath after ${f.allowed} ms and falls silent.`,
    }),
  },
  check({ block, groups, maps, piece, target, report }) {
    const { mostOpenMs, openInMs } = block;
    if (mostOpenMs === undefined || openInMs === undefined) return;
    for (const group of groups()) {
      const { places, most } = openTimes(group.notes, maps, mostOpenMs, openInMs);
      if (places.count === 0) continue;
      report({
        code: 'open-too-long',
        cause: causeOf(group),
        ...onlyPart(group),
        ...places.found,
        data: {
          name: group.parts.map((p) => p.name).join(' + '),
          most: sayMs(most, mostOpenMs),
          stretch: plain(openInMs),
          allowed: plain(mostOpenMs),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { mostOpenMs, openInMs },
        mends: [
          ...(most > mostOpenMs * MUCH
            ? takingTurns(group, piece, target, Math.ceil(most / mostOpenMs))
            : []),
          mend(
            'Shorten each in proportion',
            limitOpen,
            { mostOpenMs, inMs: openInMs, evenly: true },
            group.parts,
          ),
          mend(
            'Shorten the notes that stay open too long',
            limitOpen,
            { mostOpenMs, inMs: openInMs },
            group.parts,
          ),
        ],
      });
    }
  },
});

/** By less than that notes are rather shortened a little. */
const MUCH = 1.1;

/** Seats that nobody has take turns with it, as many as give it breath. */
function takingTurns({ parts }: OutputLine, piece: Piece, target: Target, wanted: number): Mend[] {
  const there = parts.filter(playing);
  const [part] = there;
  const own = target.seats.find((s) => s.id === part?.seat);
  const seats = own ? [own, ...idleSeats(piece, target)].slice(0, wanted) : [];
  if (!part || there.length > 1 || seats.length < 2) return [];
  return [
    mendBy(
      `Alternate between ${namesOf(seats)}`,
      ...clearing(piece.score.parts, seats),
      ...inTurn(part, seats),
    ),
  ];
}

/** Sounding time in every window that begins with a note or ends with one: there it is greatest. */
function openTimes(
  notes: LineNotes,
  { clock }: Pick<Maps, 'clock'>,
  allowed: number,
  within: number,
) {
  // Stretches in which something sounds, merged.
  const open: { from: number; to: number; first: number; last: number }[] = [];
  for (let i = 0; i < notes.count; i++) {
    const from = clock.msAt(notes.start[i]!);
    const to = clock.msAt(notes.end[i]!);
    const last = open.at(-1);
    if (last && from <= last.to) {
      last.to = Math.max(last.to, to);
      last.last = i;
    } else open.push({ from, to, first: i, last: i });
  }
  const sums = new Float64Array(open.length + 1);
  open.forEach((s, k) => (sums[k + 1] = sums[k]! + s.to - s.from));
  const full = new Uint8Array(open.length);
  let most = 0;
  const look = (low: number, high: number) => {
    let a = 0;
    let b = open.length;
    while (a < b) {
      const mid = (a + b) >> 1;
      if (open[mid]!.to <= low) a = mid + 1;
      else b = mid;
    }
    let end = a;
    let hi = open.length;
    while (end < hi) {
      const mid = (end + hi) >> 1;
      if (open[mid]!.from < high) end = mid + 1;
      else hi = mid;
    }
    if (a >= end) return;
    let total = sums[end]! - sums[a]!;
    total -= Math.max(0, low - open[a]!.from) + Math.max(0, open[end - 1]!.to - high);
    if (total > most) most = total;
    if (total <= allowed + HAIR) return;
    full.fill(1, a, end);
  };
  for (const { from, to } of open) {
    look(from, from + within);
    look(to - within, to);
  }
  const places = new SpanList();
  open.forEach(({ first, last }, k) => {
    if (full[k] === 1) for (let i = first; i <= last; i++) places.addNote(notes, i);
  });
  return { places, most };
}
