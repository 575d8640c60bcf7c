import { HAIR, SpanList, defineRule, says } from '../define-rule';
import { commonOf } from '../../compare/by-id';
import { count, sayMs } from '../../target/words';
import { firstTickOf, isIn } from '../../score/score';
import { mapsOf } from '../../score/inventory';

export const clock = defineRule({
  id: 'clock-time',
  summary:
    'Every note at the clock time it has in the source, plus one common shift where allowed.',
  story: {
    why: 'A step moved notes that must stay beside a recording.',
    mends: 'None: switch the step off, or use one that holds clock time.',
  },
  block: 'clock',
  phase: 'tempo and meter',
  codes: {
    'clock-moved': says<{ notesText: string; ms: string }>({
      title: 'Notes off their clock time',
      wrong: (f) => `${f.notesText} moved on the clock against the source, by up to ${f.ms} ms.`,
      then: (_, w) =>
        `${w.Target} runs beside the recording, so these ${w.notes} come at the wrong moment.`,
    }),
  },
  check({ block, piece, maps, base, report }) {
    // Clock time in what came, by note id; NaN where no note has that id.
    const came = base.rendition.pieces.map((p) => p.score);
    const ids = came.reduce((n, s) => Math.max(n, s.lastId), 0);
    const before = new Float64Array(ids + 1).fill(NaN);
    for (const score of came) {
      const sourceClock = mapsOf(score).clock;
      for (const { notes } of score.parts)
        for (let i = 0; i < notes.count; i++)
          before[notes.id[i]!] = sourceClock.msAt(notes.start[i]!);
    }
    const heard = piece.score.parts.filter(isIn);
    // The first note alone: a view with only what begins first.
    const first = block.of === 'first-note' ? firstTickOf(piece.score) : null;
    const total = heard.reduce((n, p) => n + p.notes.count, 0);
    const moved = new Float64Array(total);
    let n = 0;
    for (const { notes } of heard)
      for (let i = 0; i < notes.count; i++) {
        const origin = notes.origin[i]!;
        const from = origin > 0 && origin <= ids ? before[origin]! : NaN;
        moved[n++] = maps.clock.msAt(notes.start[i]!) - from;
      }
    const known = moved.filter((by) => !Number.isNaN(by));
    const shiftMs = block.shift === 'common' ? commonOf(known) : 0;
    const places = new SpanList();
    let most = 0;
    n = 0;
    for (const part of heard)
      for (let i = 0; i < part.notes.count; i++) {
        // A note of no source has no time to keep: NaN is never beyond the limit.
        const off = Math.abs(moved[n++]! - shiftMs);
        if (!(off > block.withinMs + HAIR)) continue;
        if (first !== null && part.notes.start[i] !== first) continue;
        places.add(part, i);
        if (off > most) most = off;
      }
    if (places.count === 0) return;
    report({
      code: 'clock-moved',
      ...places.found,
      data: {
        notesText:
          first !== null
            ? 'The first note has'
            : `${count(places.count, 'note')} ${places.count === 1 ? 'has' : 'have'}`,
        ms: sayMs(most),
      },
      measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
      allowed: { withinMs: block.withinMs, shift: block.shift },
      noMend:
        'A step in the plan moved them: switch it off, or use one that holds clock time in its place.',
    });
  },
});
