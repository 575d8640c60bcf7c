import type { Preset } from '../../reading/curves';
import { lastAtOrBefore } from '../../time/tempo-map';
import { strip } from '../../steps/strip';
import { count } from '../../target/words';
import { defineRule, mend, says, within } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

export const switchKnown = defineRule({
  id: 'switch-known',
  summary: 'Switches say nothing that their preset has said already.',
  story: {
    why: 'Every section of the song sets all switches, whatever its preset does.',
    mends: 'They are taken out; the preset does it by itself.',
  },
  block: 'curves',
  phase: 'events',
  codes: {
    'switch-known': says<{ name: string; countText: string; one: number }>({
      title: 'Switch values without effect',
      named: (f) => `${f.name}, nothing changed`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'says' : 'say'} what the preset has done already.`,
      then: (_, w) => `${w.Target} does nothing for it.`,
    }),
  },
  check({ curves, presets, target, block, report }) {
    const list = target.presets?.list;
    if (!list?.some((p) => p.on)) return;
    const byChannel = new Map<number, Preset[]>();
    for (const p of presets()) byChannel.set(p.channel, [...(byChannel.get(p.channel) ?? []), p]);
    const isSwitch = (values: readonly number[] | undefined) =>
      values?.length === 2 && values.includes(0) && values.includes(127);
    for (const { block: b, index, own } of ofBlocks(block.list, curves, (c) =>
      isSwitch(c.values),
    )) {
      const known = new CurvePlaces();
      for (const curve of own) {
        const all = byChannel.get(curve.channel) ?? [];
        const ticks = all.map((p) => p.tick);
        for (let i = 0; i < curve.count; i++) {
          const n = lastAtOrBefore(ticks, curve.tick[i]!);
          const preset =
            all[n] && list.find((p) => p.bank === all[n]!.bank && p.program === all[n]!.program);
          if (!preset) continue;
          // What was pressed since is in force; else what the preset did.
          const since = i > 0 && curve.tick[i - 1]! >= ticks[n]!;
          const now = since
            ? curve.value[i - 1]!
            : (preset.on ?? []).includes(curve.number)
              ? 127
              : 0;
          if (now === curve.value[i]!) known.add(curve, i);
        }
      }
      if (known.count === 0) continue;
      const spans = spansOf(known.ticks);
      const { controllers = [] } = wantedOf(known.own);
      report({
        code: 'switch-known',
        cause: String(index),
        severity: 'remark',
        spans,
        data: {
          name: sayCurves(b, known.own),
          countText: count(known.count, 'value'),
          one: known.count === 1 ? 1 : 0,
        },
        measured: { value: known.count, unit: 'values' },
        mends:
          known.own.length === 1
            ? [
                within(
                  mend('Leave these values out', strip, {
                    kinds: ['controllers' as const],
                    controllers: [...controllers],
                  }),
                  spans,
                ),
              ]
            : [],
        ...(known.own.length === 1
          ? {}
          : { noMend: 'They do no harm; take them out in the close-up.' }),
      });
    }
  },
});
