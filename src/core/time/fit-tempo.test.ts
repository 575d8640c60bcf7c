import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fitTempo } from './fit-tempo';
import { makeClock } from './tempo-map';

const anchors = fc
  .array(fc.tuple(fc.integer({ min: 60, max: 9000 }), fc.integer({ min: 150, max: 1500 })), {
    minLength: 1,
    maxLength: 40,
  })
  .map((gaps) => {
    let [tick, ms] = [480, 700];
    // Between 40 and 400 BPM, as music wanders.
    return [
      { tick, ms },
      ...gaps.map(([ticks, pace]) => {
        tick += ticks;
        ms += (ticks / 480) * pace;
        return { tick, ms };
      }),
    ];
  });

it.each([false, true])('passes through every anchor within 1 ms (smooth: %s)', (smooth) => {
  fc.assert(
    fc.property(anchors, (timed) => {
      const { tempos } = fitTempo(timed, 480, { smooth });
      const clock = makeClock({ kind: 'ppq', ticksPerQuarter: 480 }, tempos!);
      const start = clock.msAt(timed[0]!.tick);
      for (const { tick, ms } of timed)
        expect(Math.abs(clock.msAt(tick) - start - (ms - timed[0]!.ms))).toBeLessThan(1);
      for (const t of tempos!) expect(t.microsecondsPerQuarter).toBeGreaterThan(0);
    }),
  );
});
it('a curve bends less than straight lines break', () => {
  const timed = [0, 4, 8, 12, 16].map((q) => ({ tick: q * 480, ms: q * 500 + 6 * q * q }));
  const steps = (smooth: boolean) => {
    const us = fitTempo(timed, 480, { smooth }).tempos!.map((t) => t.microsecondsPerQuarter);
    return Math.max(...us.slice(1).map((t, i) => Math.abs(t - us[i]!)));
  };
  expect(steps(true)).toBeLessThan(steps(false) / 2);
});
it('a tempo that no file can hold is refused with its BPM', () => {
  const timed = [
    { tick: 0, ms: 0 },
    { tick: 1, ms: 60_000 },
  ];
  expect(fitTempo(timed, 480).problem).toMatch(/BPM/);
});
