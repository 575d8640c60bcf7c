import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renditionOf, sourceFromBytes, targetWith } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { proof } from '../rules/proof';
import type { Target } from '../target/schema';
import { MOST_PROBES, nextProbe, PLAIN, type Answered } from './probes';
import type { ProbeTune } from './probe-tune';

describe('probes', () => {
  /** A device that says yes or no alone, by its own target. */
  const says = (target: Target) => (bytes: Uint8Array) => {
    const source = sourceFromBytes(bytes, 'probe.mid');
    const findings = proof({
      rendition: renditionOf(source, target),
      target,
      base: baseOf(source),
    });
    return !findings.some((f) => f.severity === 'stop');
  };
  /** Asks until all is said. */
  const found = (device: (bytes: Uint8Array) => boolean, first?: ProbeTune) => {
    const answers: Answered[] = [];
    for (;;) {
      const next = nextProbe(answers, first);
      if ('done' in next) return { found: next.done, answers };
      answers.push({ tune: next.tune, taken: device(next.bytes) });
      expect(answers.length).toBeLessThanOrEqual(MOST_PROBES);
    }
  };
  const deviceOf = (hidden: {
    formats: readonly number[];
    ppq: object;
    channels: readonly number[];
    lowest: number;
    highest: number;
    together: number;
    leadInMs: number;
  }) =>
    says(
      targetWith({
        seats: [],
        seating: { unseated: 'taken' },
        file: { formats: hidden.formats, ppq: hidden.ppq },
        channels: { only: hidden.channels },
        notes: { lowest: hidden.lowest, highest: hidden.highest },
        polyphony: { together: hidden.together, over: 'all' },
        start: { leadInMs: hidden.leadInMs },
      }),
    );
  const ALL = Array.from({ length: 16 }, (_, i) => i + 1);
  const limits = {
    lowest: fc.constantFrom(0, 21, 24, 28, 36, 41, 48),
    highest: fc.constantFrom(127, 108, 96, 88, 84, 81, 72),
    together: fc.constantFrom(1, 2, 3, 4, 6, 8, 12, 16),
    leadInMs: fc.constantFrom(0, 250, 500, 1000, 1500, 2000, 2500, 3000),
  };

  it('sixteen at the most find format, PPQ, channel, range, voices and start', () => {
    let most = 0;
    fc.assert(
      fc.property(
        fc.record({
          ...limits,
          formats: fc.constantFrom([0], [0, 1]),
          ppq: fc.constantFrom({ only: [480] }, { multipleOf: 24 }, { lowest: 480 }),
          channels: fc.constantFrom([1], ALL),
        }),
        (hidden) => {
          const { found: result, answers } = found(deviceOf(hidden));
          const { formats, channels, lowest, highest, together, startMs, ppqs } = result!;
          expect({ formats, channels, lowest, highest, together, leadInMs: startMs }).toEqual({
            formats: hidden.formats,
            channels: hidden.channels,
            lowest: hidden.lowest,
            highest: hidden.highest,
            together: hidden.together,
            leadInMs: hidden.leadInMs,
          });
          expect(ppqs).toContain(480);
          expect(ppqs.includes(96)).toBe('multipleOf' in hidden.ppq);
          most = Math.max(most, answers.length);
        },
      ),
      { numRuns: 60 },
    );
    expect(most).toBeGreaterThan(12);
  });

  it('a device that takes another channel, format or PPQ alone is found, and nothing is made up', () => {
    fc.assert(
      fc.property(
        fc.record({
          ...limits,
          formats: fc.constantFrom([0], [1], [0, 1]),
          ppq: fc.constantFrom({ only: [480] }, { only: [96] }, { only: [960] }, { lowest: 1 }),
          channels: fc.constantFrom([1], [10], [16], ALL),
        }),
        (hidden) => {
          const device = deviceOf(hidden);
          const { found: result, answers } = found(device);
          // Three things odd at once may be more than sixteen tell.
          if (!result) {
            expect(answers).toHaveLength(MOST_PROBES);
            return;
          }
          expect(hidden.channels).toEqual(expect.arrayContaining([...result.channels]));
          expect(hidden.formats).toEqual(expect.arrayContaining([...result.formats]));
          expect(result.lowest).toBeGreaterThanOrEqual(hidden.lowest);
          expect(result.highest).toBeLessThanOrEqual(hidden.highest);
          expect(result.together).toBeLessThanOrEqual(hidden.together);
          expect(result.startMs).toBeGreaterThanOrEqual(hidden.leadInMs);
          const { unasked } = result;
          if (!unasked.includes('the first note')) expect(result.startMs).toBe(hidden.leadInMs);
          if (!unasked.includes('channels')) expect(result.channels).toEqual(hidden.channels);
          if (!unasked.includes('SMF formats')) expect(result.formats).toEqual(hidden.formats);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('where a file is known that is taken, what it has is tried first', () => {
    const device = deviceOf({
      formats: [1],
      ppq: { only: [384] },
      channels: [7],
      lowest: 28,
      highest: 96,
      together: 4,
      leadInMs: 1500,
    });
    expect(found(device).found).toBeNull();
    const { found: result } = found(device, { ...PLAIN, format: 1, ppq: 384, channel: 7 });
    expect(result).toMatchObject({ formats: [1], ppqs: [384], channels: [7], together: 4 });
    expect(result).toMatchObject({ lowest: 28, highest: 96, startMs: 1500, unasked: ['PPQ'] });
  });

  it('a probe is a file that is read without damage', () => {
    const next = nextProbe([]);
    if ('done' in next) throw new Error('nothing was asked');
    expect(next).toMatchObject({ says: 'a plain tune', tune: PLAIN });
    expect(sourceFromBytes(next.bytes, 'probe.mid').damage).toEqual([]);
  });
});
