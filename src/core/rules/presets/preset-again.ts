import type { Preset } from '../../reading/curves';
import { dropPresetRepeats } from '../../steps/presets/presets';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { follow, nameOf, places } from './block-presets';

export const presetAgain = defineRule({
  id: 'preset-again',
  summary: 'No preset is chosen that is there already.',
  story: {
    why: 'Every section of the song sets itself up again.',
    mends: 'What is there already is not chosen again.',
  },
  block: 'presets',
  reads: ['again'],
  phase: 'events',
  codes: {
    'preset-again': says<{ countText: string; name: string; one: number }>({
      title: 'Preset chosen again',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'chooses' : 'choose'} what is there already, ${f.name} first.`,
      then: (_, w) => `${w.Target} loads it again, and the tail of its sound is cut.`,
    }),
  },
  check({ presets, block, maps, report }) {
    if (block.again === undefined) return;
    const again: Preset[] = [];
    for (const { before, preset } of follow(presets(), maps))
      if (before.bank === preset.bank && before.program === preset.program) again.push(preset);
    if (again.length === 0) return;
    report({
      code: 'preset-again',
      severity: block.again,
      spans: places(again),
      data: {
        countText: count(again.length, 'preset'),
        name: nameOf(block, again[0]!),
        one: again.length === 1 ? 1 : 0,
      },
      measured: { value: again.length, unit: 'presets' },
      allowed: { again: block.again },
      mends: [mend('Keep the first choice of each preset', dropPresetRepeats, {})],
    });
  },
});
