import { isIn } from '../../score/score';
import { firstPreset } from '../../steps/presets/presets';
import { defineRule, mend, says, spanAt, type NoFacts } from '../define-rule';
import { knownAs, nameOf } from './block-presets';

export const presetAtStart = defineRule({
  id: 'preset-at-start',
  summary: 'The piece begins with a preset, at tick 0.',
  story: {
    why: 'The first preset was chosen by hand before the recording.',
    mends: 'The first preset goes to the start, or another is chosen there.',
  },
  block: 'presets',
  reads: ['firstAtStart'],
  phase: 'events',
  codes: {
    'preset-missing': says<NoFacts>({
      title: 'Preset missing at the start',
      wrong: () => 'No preset is chosen at tick 0.',
      then: (_, w) => `${w.Target} begins with what the last song left there.`,
    }),
  },
  check({ presets, block, piece, report }) {
    if (!block.firstAtStart) return;
    const [first] = presets();
    if (first?.tick === 0) return;
    const [begin] = block.list;
    if (!piece.score.parts.some(isIn)) return;
    const { bank, program } = begin!;
    report({
      code: 'preset-missing',
      spans: [spanAt(0)],
      measured: { value: first?.tick ?? -1, unit: 'ticks' },
      allowed: { firstAtStart: true },
      mends: [
        // One that it has not would be the next stop.
        ...(first && knownAs(block, first)
          ? [mend(`Choose ${nameOf(block, first)} from the start`, firstPreset, {})]
          : []),
        mend(`Begin with ${begin!.name}`, firstPreset, { bank, program }),
      ],
    });
  },
});
