import { lastAtOrBefore } from '../../time/tempo-map';
import type { Preset } from '../../reading/curves';
import { settleCurve } from '../../steps/curves/rest';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const curveSettled = defineRule({
  id: 'curve-settled',
  summary: 'What moves has come to rest before a preset changes.',
  story: {
    why: 'The foot was still on its way when the next section began.',
    mends: 'The last value is sent earlier, and nothing more before the preset.',
  },
  block: 'curves',
  phase: 'spacing',
  codes: {
    'not-settled': says<{ name: string; countText: string; restText: string; one: number }>({
      title: 'Value still moving before a preset',
      named: (f) => `${f.name} still moves before a preset`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'comes' : 'come'} within ${f.restText} ms before a preset.`,
      then: (_, w) => `${w.Target} takes the value that it has then into the next sound.`,
    }),
  },
  check({ curves, presets, block, maps, report }) {
    const byChannel = new Map<number, Preset[]>();
    for (const p of presets()) byChannel.set(p.channel, [...(byChannel.get(p.channel) ?? []), p]);
    const of = ofBlocks(block.list, curves, (b) => b.settledMs !== undefined);
    for (const { block: b, index, own } of of) {
      const settledMs = b.settledMs!;
      const moving = new CurvePlaces();
      for (const curve of own) {
        const ticks = (byChannel.get(curve.channel) ?? []).map((p) => p.tick);
        for (let i = 0; i < curve.count; i++) {
          const tick = curve.tick[i]!;
          const next = ticks[lastAtOrBefore(ticks, tick) + 1];
          if (next === undefined || tick === 0) continue;
          if (maps.clock.msAt(next) - maps.clock.msAt(tick) < settledMs - HAIR)
            moving.add(curve, i);
        }
      }
      if (moving.count === 0) continue;
      report({
        code: 'not-settled',
        cause: String(index),
        ...(b.severity ? { severity: b.severity } : {}),
        spans: spansOf(moving.ticks),
        data: {
          name: sayCurves(b, moving.own),
          countText: count(moving.count, 'value'),
          restText: plain(settledMs),
          one: moving.count === 1 ? 1 : 0,
        },
        measured: { value: moving.count, unit: 'values' },
        allowed: { settledMs },
        mends: [
          mend('Reach the last value before the preset', settleCurve, {
            ...wantedOf(moving.own),
            settledMs,
          }),
        ],
      });
    }
  },
});
