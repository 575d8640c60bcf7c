import { holdClockAt, holdingBars, stretches, tempoToHold } from './holding';
import { bpmOf } from '../../time/tempo-map';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { holdBars } from '../../steps/timing/one-tempo-holding-bars';
import { plain, sayTimes } from '../../target/words';

export const tempoConstant = defineRule({
  id: 'tempo-constant',
  summary: 'One tempo, written at tick 0.',
  story: {
    why: 'The session follows a live recording; the target counts one tempo.',
    mends:
      'Hold every note at its clock time and rewrite the bars, or keep the bars and let the clock move.',
  },
  block: 'tempo',
  reads: ['constant'],
  phase: 'tempo and meter',
  codes: {
    'tempo-changes': says<{ changes: number; lowest: string; highest: string }>({
      title: 'Tempo changes not supported',
      wrong: (f) =>
        `The tempo changes ${sayTimes(f.changes)}, from ${f.lowest} to ${f.highest} BPM.`,
      then: (_, w) =>
        `${w.Target} runs at one tempo, so its ${w.notes} drift after the first change.`,
    }),
    'tempo-repeated': says<{ times: number; bpm: string }>({
      title: 'Tempo repeated',
      wrong: (f) => `The tempo is given ${sayTimes(f.times)}, each time as ${f.bpm} BPM.`,
      then: (_, w) => `${w.Target} runs at one tempo and may take the next for a change.`,
    }),
  },
  check({ block, piece, target, report }) {
    if (!block.constant) return;
    const { tempos } = piece.score.conductor;
    const all = stretches(piece.score);
    const changes = all.filter((t, i) => i > 0 && t.us !== all[i - 1]!.us);
    if (changes.length === 0 && tempos.length <= 1) return;
    if (changes.length === 0) {
      // The same tempo said again: one event is enough, and nothing moves. Where one of the same tick
      // puts another one out, a device that reads the first runs at that.
      const written = tempos.map((t) => bpmOf(t.microsecondsPerQuarter));
      const alike = tempos.every(
        (t) => t.microsecondsPerQuarter === tempos[0]!.microsecondsPerQuarter,
      );
      if (tempos[0]!.tick !== 0) return;
      const common = {
        cause: 'repeated',
        spans: tempos.slice(1).map((t) => spanAt(t.tick)),
        mends: [mend('Say the tempo once', holdBars, { microsecondsPerQuarter: all[0]!.us })],
      };
      if (alike)
        report({
          ...common,
          code: 'tempo-repeated',
          severity: 'caution',
          data: { times: tempos.length, bpm: plain(written[0]!) },
        });
      else
        report({
          ...common,
          code: 'tempo-changes',
          data: {
            changes: tempos.length - 1,
            lowest: plain(written.reduce((a, b) => Math.min(a, b))),
            highest: plain(written.reduce((a, b) => Math.max(a, b))),
          },
        });
      return;
    }
    const us = tempoToHold(piece.score, block);
    const rates = all.map((t) => bpmOf(t.us));
    report({
      code: 'tempo-changes',
      spans: changes.map((t) => spanAt(t.tick)),
      data: {
        changes: changes.length,
        lowest: plain(rates.reduce((a, b) => Math.min(a, b))),
        highest: plain(rates.reduce((a, b) => Math.max(a, b))),
      },
      measured: { value: changes.length + 1, unit: 'tempos' },
      allowed: { tempos: 1 },
      mends: [holdClockAt(piece.score, target, us), ...holdingBars(piece.score, block, us)],
    });
  },
});
