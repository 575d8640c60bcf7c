import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { benchSong } from '../../../bench/songs';
import { week } from '../../../demo/week';
import { builtIn, conductor, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import type { PlanStep } from '../plan/plan';
import { runPlan } from '../plan/run';
import type { Score } from '../score/score';
import { compareMusic, driftBetween } from './by-music';
import { baseOf } from '../plan/base';

const tide = sourceFromBytes(week[0]!.bytes());
const loft = builtIn('bell-loft');
const after = (...steps: [string, unknown][]): Score =>
  runPlan({
    base: baseOf(tide),
    target: { ...loft, seats: [] },
    plan: {
      steps: steps.map(([step, params], i): PlanStep => ({
        key: String(i),
        step,
        params,
        scope: {},
        on: true,
      })),
    },
  }).rendition.pieces[0]!.score;
const clean = { missing: 0, added: 0, moved: 0, shorter: 0, longer: 0, otherKey: 0 };

describe('two files as music', () => {
  it('a file and itself are the same', () => {
    expect(compareMusic(tide.score, tide.score)).toMatchObject({
      ...clean,
      same: 344,
      says: ['the same music'],
    });
  });
  it('despite a shift', () => {
    const c = compareMusic(after(['rest-at-start', { bars: 3 }]), tide.score);
    expect(c).toMatchObject({ ...clean, shiftMs: -5625 });
    expect(c.says[0]).toBe('all 5.625 s earlier');
  });
  it('despite another PPQ', () => {
    expect(compareMusic(tide.score, after(['set-ppq', { ticksPerQuarter: 120 }]))).toMatchObject({
      ...clean,
      tempo: 'same',
    });
  });
  it('despite another tempo map, by quarters', () => {
    const c = compareMusic(
      tide.score,
      after(['one-tempo-holding-bars', { microsecondsPerQuarter: 500_000 }]),
    );
    expect(c).toMatchObject({ ...clean, matchedBy: 'quarters', tempo: 'differs' });
    expect(c.says).toContain('tempo: 3 tempos, then 120 BPM');
  });
  it('despite bars that were rewritten, by the clock', () => {
    const c = compareMusic(
      tide.score,
      after(['one-tempo-holding-clock', { microsecondsPerQuarter: 625_000 }]),
    );
    expect(c).toMatchObject({ missing: 0, added: 0, moved: 0, matchedBy: 'clock' });
  });
  it('despite another track layout', () => {
    expect(
      compareMusic(tide.score, after(['set-format', { format: 0, layout: 'single' }])),
    ).toMatchObject(clean);
  });
  it('says what is gone, moved, shorter, louder', () => {
    const a = song([conductor().marker(0, 'Go').marker(480, 'Stop'), line(0, 480, 80, [])]);
    const b = song([
      conductor().marker(0, 'Go'),
      line(30, 400, 80, [7]),
      new Track('x').note(2, 0, 100, 30, 9),
    ]);
    const c = compareMusic(a.score, b.score);
    expect(c).toMatchObject({
      moved: 1,
      missing: 1,
      added: 1,
      shorter: 39,
      markers: { missing: ['Stop'] },
    });
    expect(c.says).toEqual(
      expect.arrayContaining(['1 marker gone', '1 note missing', '39 notes shorter']),
    );
  });
  it('counts agree with what was done to it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(39), { maxLength: 10 }),
        fc.integer({ min: -20, max: 20 }),
        (gone, louder) => {
          const a = song([conductor(), line(0, 480, 80, [])]);
          const b = song([conductor(), line(0, 480, 80 + louder, gone)]);
          const c = compareMusic(a.score, b.score);
          const left = 40 - new Set(gone).size;
          expect(c.missing).toBe(new Set(gone).size);
          expect(c.louder + c.softer).toBe(louder === 0 ? 0 : left);
          expect(c.notesB).toBe(left);
        },
      ),
      { numRuns: 50 },
    );
  });
  it('a thousand notes moved by one tick are found among a hundred thousand', () => {
    const a = sourceFromBytes(benchSong({ notes: 100_000, tracks: 16 })).score;
    const moved = a.parts.map((part, p) => {
      if (p > 0) return part;
      const start = part.notes.start.map((s, i) => (i % 6 === 3 && i < 6000 ? s + 1 : s));
      return { ...part, notes: { ...part.notes, start } };
    });
    const c = compareMusic(a, { ...a, parts: moved });
    expect(c).toMatchObject({ moved: 1000, missing: 0, added: 0, otherKey: 0 });
  });
});

/** Forty notes on rising keys; one is moved by `late` ticks, those in `gone` are left out. */
function line(late: number, length: number, velocity: number, gone: readonly number[]) {
  const track = new Track('A');
  for (let i = 0; i < 40; i++)
    if (!gone.includes(i)) track.note(1, i * 480 + (i === 20 ? late : 0), length, 40 + i, velocity);
  return track;
}

it('drift: how far what both have stands apart, less what all share', () => {
  const at = (ticks: readonly number[]) => {
    const track = new Track('A');
    ticks.forEach((t, i) => track.note(1, t, 100, 40 + i, 90));
    return song([conductor(120), track]).score;
  };
  // At 120 BPM and 480 ticks a quarter a tick lasts 1.0417 ms; all 960 ticks later, the third 48 more.
  const { drift, says } = driftBetween(at([0, 480, 960, 1440]), at([960, 1440, 1968, 2400]));
  expect(drift.shiftMs).toBeCloseTo(1000, 6);
  expect([...drift.ms].map(Math.round)).toEqual([0, 500, 1000, 1500]);
  expect([...drift.off].map(Math.round)).toEqual([0, 0, 50, 0]);
  expect(says[0]).toBe('all 1 s later');
});
