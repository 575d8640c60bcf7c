import { endTickOf } from '../../score/score';
import { sayTimes } from '../../target/words';
import type { MeterEvent } from '../../time/meter-map';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { meterParams, sayMeter } from './meters';
import { setMeter } from '../../steps/timing/set-meter';

/** The first meter, unless another is in force more than twice as long: a bar of set-up before it. */
function heldLongest(meters: readonly MeterEvent[], endTick: number): MeterEvent {
  const held = new Map<string, number>();
  meters.forEach((m, i) => {
    const ticks = Math.max(0, (meters[i + 1]?.tick ?? endTick) - m.tick);
    held.set(sayMeter(m), (held.get(sayMeter(m)) ?? 0) + ticks);
  });
  const of = (m: MeterEvent) => held.get(sayMeter(m))!;
  const longest = meters.reduce((a, b) => (of(b) > of(a) ? b : a));
  return of(longest) > 2 * of(meters[0]!) ? longest : meters[0]!;
}

export const meterConstant = defineRule({
  id: 'meter-constant',
  summary: 'One meter for the whole piece.',
  story: {
    why: 'A bar was cut short by hand, or a pick-up was written as a meter of its own.',
    mends: 'All is counted in the meter that most of it has; the notes stay where they are.',
  },
  block: 'meter',
  reads: ['constant'],
  phase: 'tempo and meter',
  codes: {
    'meter-changes': says<{ changes: number; meters: string; first: string }>({
      title: 'Meter changes not supported',
      wrong: (f) => `The meter changes ${sayTimes(f.changes)}: ${f.meters}.`,
      then: (f, w) => `${w.Target} counts the whole piece in ${f.first}.`,
    }),
  },
  check({ block, piece, maps, report }) {
    if (!block.constant) return;
    const { meters } = maps.bars;
    const changes = meters.filter((m, i) => i > 0 && sayMeter(m) !== sayMeter(meters[i - 1]!));
    const written = piece.score.conductor.meters;
    if (changes.length === 0 && written.length <= 1) return;
    const first = meters[0]!;
    if (changes.length === 0 && meters.length === 1) {
      report({
        code: 'meter-changes',
        severity: 'caution',
        cause: 'repeated',
        spans: written.slice(1).map((m) => spanAt(m.tick)),
        data: {
          changes: written.length - 1,
          meters: `${sayMeter(first)} again`,
          first: sayMeter(first),
        },
        mends: [mend('Say the meter once', setMeter, meterParams(first))],
      });
      return;
    }
    const said = [...new Set(meters.map(sayMeter))];
    const held = heldLongest(meters, endTickOf(piece.score));
    report({
      code: 'meter-changes',
      spans: meters.slice(1).map((m) => spanAt(m.tick)),
      data: {
        changes: meters.length - 1,
        meters: said.slice(0, 6).join(', ') + (said.length > 6 ? '…' : ''),
        first: sayMeter(first),
      },
      measured: { value: meters.length, unit: 'meters' },
      allowed: { meters: 1 },
      mends: [mend(`Count it all in ${sayMeter(held)}`, setMeter, meterParams(held))],
    });
  },
});
