import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import type { RowRate } from '../../core/plan/row-rates';
import { findStep } from '../../core/steps/index';
import type { StepCall } from '../../core/steps/call';
import type { PartView } from '../../core/wire/view';
import { triedPlan, NOTHING_TRIED } from './tried';
import { kitsFor, pitches, rowsFor, seatsFor, soundsFor } from './wheel-candidates';

const part = {
  ref: { source: 'main', track: 'Line', channel: 2, occurrence: 0 },
  seat: 'voice-2',
  program: 5,
} as unknown as PartView;
const isStep = ({ step, params }: StepCall) =>
  findStep(step)!.params.safeParse(params).success === true;

describe('candidates of the wheel', () => {
  it('pitches: one of them is as it is, every other one a step that can be taken', () => {
    for (const by of ['octave', 'key'] as const) {
      const all = pitches(part, by);
      expect(all.filter((c) => c.calls === null).map((c) => c.name)).toEqual(['As it is']);
      for (const c of all) expect(c.calls?.every(isStep) ?? true).toBe(true);
    }
    expect(pitches(part, 'octave').map((c) => c.name)).toEqual([
      'Down 2 octaves',
      'Down 1 octave',
      'As it is',
      'Up 1 octave',
      'Up 2 octaves',
    ]);
  });
  it('seats: where it sits is as it is', () => {
    const all = seatsFor(part, builtIn('tide-voices').seats);
    expect(all.filter((c) => c.calls === null).map((c) => c.name)).toEqual(['Voice 2']);
    for (const c of all) expect(c.calls?.every(isStep) ?? true).toBe(true);
  });
  it('sounds: the seat’s own where it has some, else all of General MIDI, counted from 1', () => {
    const all = soundsFor(part, undefined);
    expect(all).toHaveLength(128);
    expect(all[5]).toMatchObject({ calls: null });
    expect(all[0]!.name).toMatch(/\(1\)$/);
    const own = builtIn('bell-loft').seats.find((s) => s.sounds?.length);
    if (own) expect(soundsFor(part, own)).toHaveLength(own.sounds!.length);
  });
  it('kits: what one has not goes to the nearest drum that it has', () => {
    const kits = builtIn('stomp-crate').kits!;
    const counts = new Uint32Array(128);
    // Cow bell and clap are in the first alone.
    for (const key of [36, 38, 56, 39]) counts[key] = 4;
    const [quay, loft] = kitsFor(kits, 'quay', counts);
    expect(quay).toMatchObject({ name: 'Quay', says: 'has every drum', calls: null });
    expect(loft!.says).toBe('2 keys on the nearest drum of it');
    const [mapped, named] = loft!.calls!;
    expect(named).toMatchObject({ step: 'metadata', params: { kit: 'loft' } });
    const there = new Set(kits[1]!.keys.map((k) => k.noteNumber));
    const { keys } = mapped!.params as { keys: { from: number; to: number }[] };
    expect(keys.map((k) => k.from).sort()).toEqual([39, 56]);
    for (const k of keys) expect(there.has(k.to)).toBe(true);
    for (const call of loft!.calls!) expect(isStep(call)).toBe(true);
  });
  it('rates: in words, with the steps of the one before given up', () => {
    const rate: RowRate = {
      rate: 6,
      percent: 98.5,
      worstMs: 12.2,
      mostMs: 9,
      clashes: 3,
      lengthMs: 32_487,
      driftMs: 487,
      rows: 196,
      fits: false,
      steps: [],
    };
    const before = {
      key: 'a',
      step: 'quantise',
      params: { rowsPerSecond: 4 },
      scope: {},
      on: true,
    };
    const [now, six] = rowsFor([rate], [before], '4');
    expect(now).toMatchObject({ name: 'As it is, 4 rows a second', calls: null });
    expect(six).toEqual({
      name: '6 rows a second at 98.5 %',
      says:
        'notes within 13 ms, 3 run together, 0.5 s longer at the end, 196 rows in 32.5 s: ' +
        'more than it holds',
      calls: [],
      without: ['a'],
    });
  });
});

describe('a plan with what is tried', () => {
  const plan = {
    steps: [
      { key: 'a', step: 'set-ppq', params: { ppq: 96 }, scope: {}, on: true },
      { key: 'b', step: 'set-ppq', params: { ppq: 48 }, scope: {}, on: true },
    ],
  };
  it('is the same object where nothing is', () => {
    expect(triedPlan(plan, NOTHING_TRIED)).toBe(plan);
  });
  it('has the steps at its end, in the place of those that they stand for', () => {
    const steps = [{ step: 'set-ppq', params: { ppq: 192 }, scope: {}, on: true }];
    const tried = triedPlan(plan, { ...NOTHING_TRIED, steps, without: ['a'] });
    expect(tried.steps.map((s) => [s.key, (s.params as { ppq: number }).ppq])).toEqual([
      ['b', 48],
      ['tried-0', 192],
    ]);
    expect(plan.steps).toHaveLength(2);
  });
});
