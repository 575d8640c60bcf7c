import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, targetWith, Track } from '../../../testing/score-builder';
import type { SourceScore } from '../sources/source';
import { proof } from '../rules/proof';
import type { Target } from '../target/schema';
import { baseOf } from './base';
import type { PlanStep } from './plan';
import { runPlan } from './run';

const step = (key: string, id: string, params: unknown): PlanStep => ({
  key,
  step: id,
  params,
  scope: {},
  on: true,
});
const told = (params: Record<string, string>) => step('told', 'metadata', params);

/** Mends whose place is a moment or a bar, on pieces that need them. */
const cases: readonly (readonly [
  code: string,
  title: string,
  target: Target,
  source: () => SourceScore,
  steps?: readonly PlanStep[],
])[] = [
  [
    'sound-length',
    'End the score with the sound',
    builtIn('fog-pier'),
    () => song([conductor(), new Track('H').note(1, 0, 480, 50, 90)], { endTick: 9600 }),
  ],
  [
    'frames-drift',
    'Fill it up',
    builtIn('frame-deck'),
    () => song([conductor(), new Track('R').note(1, 0, 480, 50, 90)], { endTick: 9601 }),
    [told({ frameRate: '25', ending: 'round-again' })],
  ],
  [
    'event-early',
    'Move the events to the start',
    builtIn('lantern-rail'),
    () =>
      song([conductor(), new Track('L').event(700, 0xb0, 16, 7, 90).note(16, 5760, 480, 30, 90)]),
  ],
  [
    'seam-jumps',
    'Repeat the setting where the loop begins',
    targetWith({ end: { loops: true, loopMarker: 'ROUND' } }),
    () =>
      song(
        [
          conductor().marker(1920, 'ROUND'),
          new Track('S')
            .event(0, 0xb0, 1, 7, 50)
            .note(1, 0, 480, 60, 90)
            .event(2400, 0xb0, 1, 7, 20),
        ],
        { endTick: 3840 },
      ),
  ],
];

describe('a mend stays one, whatever step is put before it', () => {
  for (const [code, title, target, source, steps = []] of cases)
    it(code, () => {
      const base = baseOf(source());
      const found = (list: readonly PlanStep[]) => {
        const { rendition, outcomes } = runPlan({ base, target, plan: { steps: list } });
        expect(outcomes.map((o) => o.refused)).toEqual(list.map(() => null));
        return proof({ rendition, target, base, recordingMs: 8_123 }).find((f) => f.code === code);
      };
      const mend = found(steps)?.mends.find((m) => m.title.startsWith(title));
      expect(mend, title).toBeDefined();
      const mended = mend!.steps.map((s, i) => ({ ...s, key: `m${i}` }));
      expect(found([...steps, ...mended])).toBeUndefined();
      // Ticks are twice as many, or the music stands two bars later, before the mend is reached.
      for (const before of [
        step('ppq', 'set-ppq', { ticksPerQuarter: 960 }),
        step('rest', 'rest-at-start', { bars: 2 }),
      ])
        if (before.step === 'set-ppq' || code !== 'sound-length')
          expect(found([before, ...steps, ...mended]), before.step).toBeUndefined();
    });
});
