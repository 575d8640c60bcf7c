import type { Preset } from '../../reading/curves';
import { changePreset } from '../../steps/presets/presets';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { knownAs, nameOf, places } from './block-presets';

export const presetsKnown = defineRule({
  id: 'presets-known',
  summary: 'Every preset that is chosen is one that the target has.',
  story: {
    why: 'The program was counted from 1, or the bank is that of another device.',
    mends: 'The nearest preset of the same bank is chosen instead, or none.',
  },
  block: 'presets',
  phase: 'events',
  codes: {
    'preset-unknown': says<{ name: string; countText: string }>({
      title: 'Preset that does not exist',
      named: (f) => `No preset at ${f.name}`,
      wrong: (f) => `There is no preset at ${f.name}; it is chosen ${f.countText}.`,
      then: (_, w) => `${w.Target} has nothing there and goes silent.`,
    }),
  },
  check({ presets, block, report }) {
    const unknown = new Map<string, Preset[]>();
    for (const p of presets()) {
      if (knownAs(block, p)) continue;
      const slot = `${p.bank}.${p.program}`;
      unknown.set(slot, [...(unknown.get(slot) ?? []), p]);
    }
    for (const [slot, found] of unknown) {
      const { bank, program } = found[0]!;
      const near = block.list.reduce((best, p) =>
        far(p, bank, program) < far(best, bank, program) ? p : best,
      );
      const instead = { toBank: near.bank, toProgram: near.program };
      report({
        code: 'preset-unknown',
        cause: slot,
        spans: places(found),
        data: { name: nameOf(block, found[0]!), countText: count(found.length, 'time') },
        measured: { value: found.length, unit: 'presets' },
        allowed: { presets: block.list.length },
        mends: [
          mend(`Choose ${near.name} instead`, changePreset, { bank, program, ...instead }),
          mend('Choose no preset there', changePreset, { bank, program }),
        ],
      });
    }
  },
});

const far = (p: { bank: number; program: number }, bank: number, program: number) =>
  Math.abs(p.bank - bank) * 128 + Math.abs(p.program - program);
