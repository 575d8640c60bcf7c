import { defineRule, mend, says, spanAt } from '../define-rule';
import { stateTempo } from '../../steps/timing/state-tempo';

export const tempoAbsent = defineRule({
  id: 'tempo-absent',
  summary: 'A tempo is written at tick 0.',
  story: {
    why: 'The export of a single track often leaves the tempo behind.',
    mends: 'The tempo that readers assume, 120 BPM, is written at the start.',
  },
  block: null,
  phase: 'tempo and meter',
  codes: {
    'tempo-absent': says<{ none: number; bar: number }>({
      title: 'Tempo missing at the start',
      wrong: (f) =>
        f.none ? 'The file names no tempo.' : `The first tempo stands at bar ${f.bar}.`,
      then: (_, w) => `Readers assume 120 BPM until then; ${w.target} may keep the tempo it had.`,
    }),
  },
  check({ piece, maps, report }) {
    const { conductor, division } = piece.score;
    const first = conductor.tempos[0];
    if (division.kind === 'smpte' || first?.tick === 0) return;
    report({
      code: 'tempo-absent',
      severity: 'caution',
      spans: [spanAt(0)],
      data: { none: first ? 0 : 1, bar: first ? maps.bars.barAt(first.tick) + 1 : 0 },
      mends: [mend('Write 120 BPM at the start', stateTempo, {})],
    });
  },
});
