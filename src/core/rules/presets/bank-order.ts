import type { Preset } from '../../reading/curves';
import { gatherBanks } from '../../steps/presets/presets';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { places } from './block-presets';

export const bankOrder = defineRule({
  id: 'bank-order',
  summary: 'The bank of a preset stands right before its program.',
  story: {
    why: 'Bank and program were written by hand, at two places.',
    mends: 'The bank is written at the tick of its program, before it.',
  },
  block: 'presets',
  reads: ['bankWithinMs'],
  phase: 'events',
  codes: {
    'bank-far': says<{ countText: string; mostText: string; allowedText: string; one: number }>({
      title: 'Bank select too far before its program',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'stands' : 'stand'} up to ${f.mostText} ms before the program.`,
      then: (f, w) => `${w.Target} waits ${f.allowedText} ms for a program and forgets the bank.`,
    }),
  },
  check({ presets, block, maps, report }) {
    const most = block.bankWithinMs;
    if (most === undefined) return;
    const far: Preset[] = [];
    let widest = 0;
    for (const p of presets()) {
      if (!p.sent) continue;
      const gap = maps.clock.msAt(p.tick) - maps.clock.msAt(p.sent.tick);
      if (gap <= most + HAIR) continue;
      far.push(p);
      widest = Math.max(widest, gap);
    }
    if (far.length === 0) return;
    report({
      code: 'bank-far',
      spans: places(far.map((p) => p.sent!)),
      data: {
        countText: count(far.length, 'bank'),
        mostText: plain(Math.ceil(widest)),
        allowedText: plain(most),
        one: far.length === 1 ? 1 : 0,
      },
      measured: { value: widest, unit: 'ms' },
      allowed: { bankWithinMs: most },
      mends: [mend('Move bank selects to their programs', gatherBanks, {})],
    });
  },
});
