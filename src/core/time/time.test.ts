import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeMeterMap, sayClock, sayPlace } from './meter-map';
import { makeClock, tempoOf } from './tempo-map';

const tempos = fc
  .array(
    fc.record({ gap: fc.nat(5000), microsecondsPerQuarter: fc.integer({ min: 1, max: 0xffffff }) }),
    { maxLength: 60 },
  )
  .map((list) => {
    let tick = 0;
    return list.map(({ gap, microsecondsPerQuarter }) => ({
      tick: (tick += gap),
      microsecondsPerQuarter,
    }));
  });

describe('clock', () => {
  it('sums exactly: against whole-number arithmetic tick by tick', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 32767 }),
        tempos,
        fc.nat(400_000),
        (ppq, list, tick) => {
          const clock = makeClock({ kind: 'ppq', ticksPerQuarter: ppq }, list);
          let sum = 0n;
          let at = 0;
          let us = 500_000;
          for (const t of list) {
            if (t.tick > tick) break;
            sum += BigInt(t.tick - at) * BigInt(us);
            at = t.tick;
            us = t.microsecondsPerQuarter;
          }
          sum += BigInt(tick - at) * BigInt(us);
          expect(clock.exactAt(tick)).toBe(sum);
          expect(clock.tickAtExact(sum)).toBe(tick);
          expect(clock.msAt(tick)).toBeCloseTo(Number(sum) / ppq / 1000, 5);
        },
      ),
    );
  });

  it('tick → ms → tick returns the tick', () => {
    fc.assert(
      fc.property(fc.integer({ min: 24, max: 960 }), tempos, fc.nat(400_000), (ppq, list, tick) => {
        const clock = makeClock({ kind: 'ppq', ticksPerQuarter: ppq }, list);
        expect(clock.tickAt(clock.msAt(tick))).toBe(tick);
      }),
    );
  });

  it('ten thousand tempo changes over 24 hours', () => {
    const list = Array.from({ length: 10_000 }, (_, i) => ({
      tick: i * 8294,
      microsecondsPerQuarter: 499_000 + ((i * 7919) % 2000),
    }));
    const clock = makeClock({ kind: 'ppq', ticksPerQuarter: 480 }, list);
    for (const tick of [1, 8293, 8294, 41_470_001, 82_939_999])
      expect(clock.tickAtExact(clock.exactAt(tick))).toBe(tick);
    expect(clock.msAt(82_940_000) / 3_600_000).toBeGreaterThan(23.9);
  });

  it.each([
    [24, 24, 1000],
    [25, 25, 1000],
    [29, 30, 1001],
    [30, 30, 1000],
  ])('SMPTE %i frames', (framesPerSecond, frames, ms) => {
    const clock = makeClock({ kind: 'smpte', framesPerSecond, ticksPerFrame: 80 }, [
      { tick: 0, microsecondsPerQuarter: 1 },
    ]);
    expect(clock.msAt(frames * 80)).toBeCloseTo(ms, 9);
    expect(clock.tickAtExact(clock.exactAt(12_345))).toBe(12_345);
  });

  it('keeps microseconds where a tempo is typed', () => {
    expect(tempoOf(96)).toBe(625_000);
    expect(tempoOf(112)).toBe(535_714);
  });
});

describe('meters', () => {
  const meters = fc
    .array(
      fc.record({
        gap: fc.nat(4000),
        numerator: fc.integer({ min: 1, max: 17 }),
        denominator: fc.constantFrom(1, 2, 4, 8, 16, 32),
      }),
      { maxLength: 20 },
    )
    .map((list) => {
      let tick = 0;
      return list.map(({ gap, ...m }) => ({ ...m, tick: (tick += gap) }));
    });

  it('place and tick agree for any meters, PPQ 25 in x/8 too', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(24, 25, 96, 480, 97),
        meters,
        fc.nat(60_000),
        (ppq, list, tick) => {
          const map = makeMeterMap(ppq, list);
          const { bar, beat, tick: rest } = map.placeAt(tick);
          expect(map.tickOf(bar, beat, rest)).toBe(tick);
          expect(rest).toBeGreaterThanOrEqual(0);
          expect(map.barAt(tick)).toBe(bar - 1);
          expect(map.barStart(bar - 1)).toBeLessThanOrEqual(tick);
          expect(map.barStart(bar)).toBeGreaterThan(tick);
        },
      ),
      { numRuns: 500 },
    );
  });

  it('counts 6/8 in eighths', () => {
    const map = makeMeterMap(480, [{ tick: 0, numerator: 6, denominator: 8 }]);
    expect(sayPlace(map.placeAt(1440))).toBe('2.1');
    expect(sayPlace(map.placeAt(1200))).toBe('1.6');
  });

  it('a meter inside a bar starts a new, counted bar', () => {
    const map = makeMeterMap(480, [
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 2400, numerator: 3, denominator: 4 },
    ]);
    expect([0, 1, 2, 3].map(map.barStart)).toEqual([0, 1920, 2400, 3840]);
    expect(map.barCount(3840)).toBe(3);
  });

  it('a pick-up bar of one beat', () => {
    const map = makeMeterMap(480, [
      { tick: 0, numerator: 1, denominator: 4 },
      { tick: 480, numerator: 4, denominator: 4 },
    ]);
    expect(sayPlace(map.placeAt(480))).toBe('2.1');
  });

  it('says clock times', () => {
    expect(sayClock(53_196.4)).toBe('0:53.196');
    expect(sayClock(-5625)).toBe('−0:05.625');
    expect(sayClock(3_600_000)).toBe('60:00.000');
  });
});
