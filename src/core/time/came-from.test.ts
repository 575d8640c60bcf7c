import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cameFrom } from './came-from';
import { makeClock } from './tempo-map';
import { closed, compose, opened, scaled, type TimeMap } from './time-map';

const PPQ = 480;
const at = (ppq: number, bpm: number) =>
  makeClock({ kind: 'ppq', ticksPerQuarter: ppq }, [
    { tick: 0, microsecondsPerQuarter: 60e6 / bpm },
  ]);
const came = (fromBase: TimeMap, bpm = 120) =>
  cameFrom({ fromBase, clock: at(PPQ, bpm) }, { clock: at(PPQ, 120) });

describe('where a moment stood before the plan', () => {
  it('behind bars of rest it stood earlier, and in them nothing did', () => {
    const back = came(opened(0, PPQ * 8));
    expect(back(1000)).toBeNull();
    expect(back(3900)).toBeNull();
    expect(back(5000)).toBeCloseTo(1000, 0);
  });
  it('rest within the music is silence, and what stands around it is where it was', () => {
    const back = came(opened(PPQ * 4, PPQ * 4));
    expect(back(1500)).toBeCloseTo(1500, 0);
    expect(back(3000)).toBeNull();
    expect(back(4500)).toBeCloseTo(2500, 0);
  });
  it('what was cut out is left over', () => {
    expect(came(closed(PPQ * 4, PPQ * 8))(3000)).toBeCloseTo(5000, 0);
  });
  it('at another tempo as much of it has gone by', () => {
    expect(came({ stages: [] }, 60)(4000)).toBeCloseTo(2000, 0);
  });
  it('of another PPQ it is the same moment, whatever else was done', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 500, max: 60_000 }),
        fc.constantFrom(96, 192, 480, 960),
        fc.integer({ min: 0, max: 8 }),
        (ms, ppq, bars) => {
          const rest = opened(0, ppq * 4 * bars);
          const now = { fromBase: compose(scaled(PPQ, ppq), rest), clock: at(ppq, 120) };
          const back = cameFrom(now, { clock: at(PPQ, 120) });
          expect(Math.abs(back(ms + bars * 2000)! - ms)).toBeLessThan(12);
        },
      ),
    );
  });
  it('before the beginning nothing stood', () => {
    expect(came({ stages: [] })(-100)).toBeNull();
  });
});
