import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, rows, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runStep } from '../plan/run-step';
import { renditionOf, targetWith } from '../../../testing/score-builder';
import type { SourceScore } from '../sources/source';

const BAR = 1920;
const anyTarget = targetWith({ seats: [] });
type Row = readonly [start: number, length: number, key: number, velocity: number];
const line = (list: readonly Row[], bpm = 120): SourceScore => {
  const track = new Track('Line');
  for (const [start, length, key, velocity] of list) track.note(1, start, length, key, velocity);
  return song([conductor(bpm), track], { endTick: BAR });
};
const four = line([0, 1, 2, 3].map((b): Row => [b * 480, 240, 60 + b, 80]));
const repeated = (source: SourceScore, vary: object, times = 3) => {
  const params = { fromBar: 1, bars: 1, times, ...vary };
  const call = { step: 'repeat', params, scope: {} };
  const { rendition, outcome } = runStep(renditionOf(source, anyTarget), call, baseOf(source));
  if (outcome.refused !== null) throw new Error(outcome.refused);
  const all = rows(rendition.pieces[0]!.score.parts[0]!.notes) as [
    number,
    number,
    number,
    number,
  ][];
  const passes = Array.from({ length: times + 1 }, (_, k) =>
    all
      .filter((n) => n[0] >= k * BAR && n[0] < (k + 1) * BAR)
      .map(([s, e, key, v]) => [s - k * BAR, e - k * BAR, key, v] as const),
  );
  return { passes, says: outcome.effect!.says };
};

testStep('repeat', [
  {
    name: 'each further pass a little otherwise, and what differs is told',
    source: four,
    params: { fromBar: 1, bars: 1, times: 2, seed: 3, velocity: 10, ms: 12 },
    effect: { notesAdded: 8 },
    expect: (r) => expect(r.pieces[0]!.score.parts[0]!.notes.count).toBe(12),
  },
]);

describe('passes that vary', () => {
  it('leave the first as it was written, and differ from it and from each other', () => {
    const { passes, says } = repeated(four, { seed: 1, velocity: 10, ms: 12 });
    expect(passes[0]!.map((n) => n[0])).toEqual([0, 480, 960, 1440]);
    expect(new Set(passes.map((p) => JSON.stringify(p))).size).toBe(4);
    expect(says).toMatch(/pass 2: \d notes? differs?, velocity −?\+?[\d.]+ to \+[\d.]+/);
    expect(says.split('; ')).toHaveLength(4);
  });
  it('with nothing to vary all are as written, and say so', () => {
    const { passes, says } = repeated(four, { seed: 1, velocity: 0, ms: 0 });
    for (const pass of passes) expect(pass).toEqual(passes[0]);
    expect(says).toContain('pass 3: as written');
  });
  it('a seed gives the same again, another one another', () => {
    const of = (seed: number) => repeated(four, { seed, velocity: 20, ms: 20 }).passes;
    expect(of(7)).toEqual(of(7));
    expect(of(7)).not.toEqual(of(8));
  });
  it('stay within what was said, keep order and chords, and no note ends later than written', () => {
    const note = fc.tuple(
      fc.integer({ min: 0, max: 95 }),
      fc.integer({ min: 1, max: 400 }),
      fc.integer({ min: 40, max: 80 }),
      fc.integer({ min: 1, max: 127 }),
    );
    const how = fc.record({
      seed: fc.integer({ min: 0, max: 1000 }),
      velocity: fc.integer({ min: 0, max: 64 }),
      ms: fc.integer({ min: 0, max: 60 }),
    });
    fc.assert(
      fc.property(fc.array(note, { minLength: 1, maxLength: 30 }), how, (raw, vary) => {
        const seen = new Set<string>();
        const list = raw
          .map(([at, l, k, v]): Row => [at * 20, Math.min(l, BAR - at * 20), k, v])
          // One key is not struck while it sounds: what a file cannot say is another test's.
          .filter(([s, l, k], i, all) =>
            all.every(([t, m, o], j) => i <= j || o !== k || s >= t + m || t >= s + l),
          )
          .filter(([s, , k]) => !seen.has(`${s}/${k}`) && seen.add(`${s}/${k}`))
          .sort((a, b) => a[0] - b[0] || a[2] - b[2]);
        const { passes } = repeated(line(list), vary, 2);
        // 120 BPM: a millisecond is 0.96 ticks.
        const most = Math.ceil(vary.ms * 0.96) + 1;
        for (const pass of passes.slice(1)) {
          expect(pass).toHaveLength(list.length);
          const byKey = [...pass].sort((a, b) => a[0] - b[0] || a[2] - b[2]);
          byKey.forEach(([start, end, key, velocity], i) => {
            const [was, length, wasKey, loud] = list[i]!;
            expect(key).toBe(wasKey);
            expect(Math.abs(start - was)).toBeLessThanOrEqual(most);
            expect(start).toBeGreaterThanOrEqual(0);
            expect(end).toBeLessThanOrEqual(Math.max(was + length, start + 1));
            expect(end).toBeGreaterThan(start);
            expect(Math.abs(velocity - loud)).toBeLessThanOrEqual(vary.velocity);
          });
          // No key is struck again while it sounds.
          byKey.forEach(([start, , key], i) => {
            const last = byKey.slice(0, i).findLast((n) => n[2] === key);
            if (last) expect(last[1]).toBeLessThanOrEqual(start);
          });
          // Chords stay chords, and nothing else becomes one.
          const starts = new Map<number, number>();
          byKey.forEach(([start], i) => {
            const together = starts.get(list[i]![0]);
            if (together === undefined) starts.set(list[i]![0], start);
            else expect(start).toBe(together);
          });
          expect(new Set(starts.values()).size).toBe(starts.size);
        }
      }),
      { numRuns: 60, seed: 5 },
    );
  });
});
