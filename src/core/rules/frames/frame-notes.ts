import { frameNotes } from '../../reading/frame-notes';
import { frameRateOf, frameShiftOf } from '../../reading/frames';
import type { Part } from '../../score/score';
import { callStep } from '../../steps/define-step';
import { metadata } from '../../steps/facts';
import { join } from '../../steps/routing';
import { thin } from '../../steps/spacing/thin';
import { count } from '../../target/words';
import { defineRule, mend, mendBy, says, spanAt } from '../define-rule';

export const notesInFrames = defineRule({
  id: 'frame-notes',
  summary: 'Notes of one key begin in frames of their own, and none before the first frame.',
  story: {
    why: 'A roll is faster than the frames; a shift was typed with the wrong sign.',
    mends: 'One note stays in each frame, or the shift is made smaller.',
  },
  block: 'frames',
  phase: 'notes',
  codes: {
    'frame-shared': says<{ countText: string; one: number; rate: number }>({
      title: 'Two notes in one frame',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'begins' : 'begin'} in the frame of another of the same key, at ${f.rate} frames a second.`,
      then: (_, w) => `${w.Target} sees one of them.`,
    }),
    'before-first-frame': says<{ countText: string; one: number; shift: number }>({
      title: 'Notes before the first frame',
      wrong: (f) => `The shift of ${f.shift} frames moves ${f.countText} before the first frame.`,
      then: (_, w) => `${w.Target} begins at frame 0 and never sees them.`,
    }),
  },
  check({ piece, maps, report }) {
    const rate = frameRateOf(piece);
    if (rate === null || !Number.isInteger(rate)) return;
    const shift = frameShiftOf(piece);
    const { notes, shared, on } = frameNotes(piece, maps, rate, shift);
    const ids = (list: readonly number[]) => Uint32Array.from(list, (i) => notes.id[i]!);
    if (shared.length > 0) {
      const byChannel = new Map<number, Part[]>();
      for (const part of notes.parts)
        byChannel.set(part.channel, [...(byChannel.get(part.channel) ?? []), part]);
      const channels = new Set(shared.map((i) => notes.parts[notes.part[i]!]!.channel));
      const steps = [...byChannel].flatMap(([channel, parts]) => {
        if (!channels.has(channel)) return [];
        const refs = { parts: parts.map((p) => p.ref) };
        const one = { parts: [parts[0]!.ref] };
        return [
          // On one line they are thinned together.
          ...(parts.length > 1 ? [callStep(join, {}, refs)] : []),
          callStep(
            thin,
            { rowsPerSecond: rate, apartRows: 1, per: 'key' as const, keep: 'first' as const },
            one,
          ),
        ];
      });
      report({
        code: 'frame-shared',
        notes: ids(shared),
        spans: shared.slice(0, 500).map((i) => spanAt(notes.start[i]!)),
        data: {
          countText: count(shared.length, 'note'),
          one: shared.length === 1 ? 1 : 0,
          rate,
        },
        measured: { value: shared.length, unit: 'notes' },
        allowed: { notesInAFrame: 1 },
        mends: [mendBy('Keep the first of each frame', ...steps)],
      });
    }
    const early = Array.from(on.keys()).filter((i) => on[i]! < 0);
    if (early.length === 0) return;
    const first = early.reduce((least, i) => Math.min(least, on[i]!), 0);
    report({
      code: 'before-first-frame',
      notes: ids(early),
      spans: early.slice(0, 500).map((i) => spanAt(notes.start[i]!)),
      data: { countText: count(early.length, 'note'), one: early.length === 1 ? 1 : 0, shift },
      measured: { value: first, unit: 'frames' },
      allowed: { leastFrame: 0 },
      mends: [
        mend('Shift by as much as there is room for', metadata, {
          frameShift: String(shift - first),
        }),
      ],
    });
  },
});
