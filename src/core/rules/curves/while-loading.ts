import type { Preset } from '../../reading/curves';
import { lastAtOrBefore } from '../../time/tempo-map';
import { spaceCurve } from '../../steps/curves/space';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, notBefore, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const whileLoading = defineRule({
  id: 'while-loading',
  summary: 'Nothing is sent that would be missed while a preset loads.',
  story: {
    why: 'Preset and switches were pressed together.',
    mends: 'What would be missed waits until the preset is there.',
  },
  block: 'curves',
  phase: 'spacing',
  codes: {
    'value-missed': says<{ name: string; countText: string; loadText: string; one: number }>({
      title: 'Values missed while a preset loads',
      named: (f) => `${f.name} missed while a preset loads`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'comes' : 'come'} within ${f.loadText} ms of a preset.`,
      then: (_, w) => `${w.Target} is loading and hears nothing of it.`,
    }),
  },
  check({ curves, presets, target, block, maps, report }) {
    const loadMs = target.presets?.loadMs;
    if (loadMs === undefined) return;
    const byChannel = new Map<number, Preset[]>();
    for (const p of presets()) byChannel.set(p.channel, [...(byChannel.get(p.channel) ?? []), p]);
    const of = ofBlocks(block.list, curves, (b) => b.whileLoading === 'missed');
    for (const { block: b, index, own } of of) {
      const missed = new CurvePlaces();
      for (const curve of own) {
        const ms = (byChannel.get(curve.channel) ?? []).map((p) => maps.clock.msAt(p.tick));
        for (let i = 0; i < curve.count; i++) {
          const at = maps.clock.msAt(curve.tick[i]!);
          // What stands at the very tick of the preset is behind it, or not heard by it either.
          const n = lastAtOrBefore(ms, at);
          if (n >= 0 && at - ms[n]! < loadMs - HAIR) missed.add(curve, i);
        }
      }
      if (missed.count === 0) continue;
      report({
        code: 'value-missed',
        cause: String(index),
        ...(b.severity ? { severity: b.severity } : {}),
        spans: spansOf(missed.ticks),
        data: {
          name: sayCurves(b, missed.own),
          countText: count(missed.count, 'value'),
          loadText: plain(loadMs),
          one: missed.count === 1 ? 1 : 0,
        },
        measured: { value: missed.count, unit: 'values' },
        allowed: { loadMs },
        mends: [
          mend('Delay the values until the preset is loaded', spaceCurve, {
            ...wantedOf(missed.own),
            afterPresetMs: loadMs,
            ...(b.apartMs === undefined ? {} : { apartMs: b.apartMs }),
            ...notBefore(target),
          }),
        ],
      });
    }
  },
});
