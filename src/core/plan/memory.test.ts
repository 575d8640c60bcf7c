import { describe, expect, it } from 'vitest';
import { conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { baseOf } from './base';
import { PlanMemory } from './memory';
import { runPlan } from './run';

const target = targetWith({ seats: [] });
const line = new Track('Line');
for (let i = 0; i < 1000; i++) line.note(1, i * 480, 240, 60, 90).control(i * 480, 1, 7, i % 128);
const base = baseOf(song([conductor(), line]));
const steps = (n: number) =>
  Array.from({ length: n }, (_, i) => ({
    key: String(i),
    step: 'transpose',
    params: { semitones: 1 },
    scope: {},
    on: true,
  }));

/** How many states of a plan a memory of so many bytes gives back on the second run. */
function hits(bytes: number, n: number) {
  let found = 0;
  class Watched extends PlanMemory {
    override get(text: string) {
      const known = super.get(text);
      if (known) found++;
      return known;
    }
  }
  const memory = new Watched(bytes);
  const plan = { steps: steps(n) };
  runPlan({ base, target, plan, memory });
  found = 0;
  runPlan({ base, target, plan, memory });
  return found;
}

describe('what a plan remembers', () => {
  it('is all of it where there is room', () => {
    expect(hits(10_000_000, 20)).toBe(20);
  });
  it('of a plan over the budget the beginning is kept', () => {
    // Some 29 kB a state: 20 of them do not fit into 300 kB, ten do.
    const found = hits(300_000, 20);
    expect(found).toBeGreaterThanOrEqual(8);
    expect(found).toBeLessThan(20);
  });
  it('counts events as well as notes', () => {
    const memory = new PlanMemory(10_000_000);
    const set = {
      key: 'p',
      step: 'set-controller',
      params: { controller: 10, value: 3 },
      scope: {},
      on: true,
    };
    runPlan({ base, target, plan: { steps: [set] }, memory });
    expect((memory as unknown as { bytes: number }).bytes).toBeGreaterThan(1000 * 11);
  });
});
