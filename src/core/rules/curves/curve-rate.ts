import { overRate, type Curve } from '../../reading/curves';
import { sortByKey } from '../../score/columns';
import type { Maps } from '../../score/inventory';
import { thinCurve } from '../../steps/curves/thin';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

/** How far values may stand from what they were where a curve is thinned, of 128. */
const WITHIN = 2;

function usOf({ clock }: Maps, { tick, count }: Curve): Float64Array {
  const out = new Float64Array(count);
  for (let i = 0; i < count; i++) out[i] = clock.msAt(tick[i]!) * 1000;
  return out;
}

export const curveRate = defineRule({
  id: 'curve-rate',
  summary: 'No more values a second than the target takes, of each controller and in all.',
  story: {
    why: 'A knob or a pedal was recorded as fast as the interface could send.',
    mends:
      'The curve is thinned: the fewest points that stay within two steps of it, and no more than are taken. The largest error is told.',
  },
  block: 'curves',
  phase: 'density',
  codes: {
    'curve-rate': says<{ name: string; countText: string; perSecond: number; one: number }>({
      title: 'Too many controller values a second',
      named: (f) => `${f.name}, too many values`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'comes' : 'come'} over ${f.perSecond} a second.`,
      then: (_, w) => `${w.Target} drops what comes too fast, and the value may stay wrong.`,
    }),
    'curves-rate': says<{ countText: string; perSecond: number; one: number }>({
      title: 'Too many values a second in all',
      wrong: (f) =>
        `Of all controllers together ${f.countText} ${f.one ? 'comes' : 'come'} over ${f.perSecond} a second.`,
      then: (_, w) => `${w.Target} drops what comes too fast, and values may stay wrong.`,
    }),
  },
  check({ curves, block, maps, report }) {
    for (const { block: b, index, own } of ofBlocks(
      block.list,
      curves,
      (one) => one.perSecond !== undefined,
    )) {
      const perSecond = b.perSecond!;
      const over = new CurvePlaces();
      for (const curve of own)
        for (const i of overRate(usOf(maps, curve), perSecond)) over.add(curve, i);
      if (over.count === 0) continue;
      report({
        code: 'curve-rate',
        cause: String(index),
        ...(b.severity ? { severity: b.severity } : {}),
        spans: spansOf(over.ticks),
        data: {
          name: sayCurves(b, over.own),
          countText: count(over.count, 'value'),
          perSecond,
          one: over.count === 1 ? 1 : 0,
        },
        measured: { value: over.count, unit: 'values over the rate' },
        allowed: { perSecond },
        mends: [
          mend(`Thin it to ${perSecond} a second`, thinCurve, {
            ...wantedOf(over.own),
            within: WITHIN,
            perSecond,
          }),
        ],
      });
    }
    const { perSecond } = block;
    if (perSecond === undefined) return;
    const all = [...curves()].filter((c) => c.kind !== 0xd0);
    const total = all.reduce((n, c) => n + c.count, 0);
    const us = new Float64Array(total);
    const tick = new Int32Array(total);
    let at = 0;
    for (const curve of all) {
      us.set(usOf(maps, curve), at);
      tick.set(curve.tick, at);
      at += curve.count;
    }
    const order = sortByKey(us);
    const over = overRate(
      order.length === 0 ? us : Float64Array.from(order, (i) => us[i]!),
      perSecond,
    );
    if (over.length === 0) return;
    // Each of those that move at once gets an even share of what is taken in all.
    const busiest = mostAtOnce(all, maps);
    const share = Math.max(1, Math.floor(perSecond / Math.max(1, busiest)));
    report({
      code: 'curves-rate',
      spans: spansOf(over.slice(0, 20_000).map((i) => tick[order[i]!]!)),
      data: {
        countText: count(over.length, 'value'),
        perSecond,
        one: over.length === 1 ? 1 : 0,
      },
      measured: { value: over.length, unit: 'values over the rate' },
      allowed: { perSecond },
      mends: [
        mend(`Thin all of them to ${share} a second each`, thinCurve, {
          ...wantedOf(all),
          within: WITHIN,
          perSecond: share,
        }),
      ],
    });
  },
});

/** The most controllers that send anything within one second. */
function mostAtOnce(curves: readonly Curve[], maps: Maps): number {
  const bySecond = new Map<number, Set<number>>();
  curves.forEach((curve, n) => {
    for (const us of usOf(maps, curve)) {
      // A second that is not whole reaches into two.
      const second = Math.floor(us / 500_000);
      for (const s of [second - 1, second]) {
        const there = bySecond.get(s);
        if (there) there.add(n);
        else bySecond.set(s, new Set([n]));
      }
    }
  });
  let most = 0;
  for (const own of bySecond.values()) most = Math.max(most, own.size);
  return most;
}
