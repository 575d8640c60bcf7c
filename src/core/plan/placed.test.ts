import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PlanStep } from './plan';
import { beforePlaced, placedIn, withPlaced, type Placed } from './placed';

const other = (key: string): PlanStep => ({
  key,
  step: 'transpose',
  params: { semitones: 1 },
  scope: {},
  on: true,
});
const laid = (place: string, fromBar: number, bars: number | null, from: string | null = null) =>
  ({ place, fileName: `${place}.mid`, from, fromBar, bars }) satisfies Placed;
let n = 0;
const newKey = () => `new-${n++}`;
const put = (steps: readonly PlanStep[], placed: readonly Placed[]) =>
  withPlaced(steps, placed, () => 24, newKey);

describe('what a plan lays into places', () => {
  it('one file whole is laid as it is; bars of it are carved', () => {
    const whole = put([], [laid('b1', 1, null)]);
    expect(whole.map((s) => s.step)).toEqual(['take-place']);
    const carved = put(whole, [laid('b1', 1, 8), laid('k1', 8, 0.5)]);
    expect(carved.map((s) => s.step)).toEqual(['carve']);
    expect(placedIn(carved)).toEqual([laid('b1', 1, 8), laid('k1', 8, 0.5)]);
  });
  it('a file that is whole in one place and taken from elsewhere is carved with all its bars', () => {
    const steps = put([], [laid('b1', 1, null), laid('b2', 9, 8)]);
    expect(placedIn(steps)).toEqual([laid('b1', 1, 24), laid('b2', 9, 8)]);
  });
  it('each of several files has a step of its own, and keeps its key', () => {
    const first = put([], [laid('b1', 1, null, 'a.mid'), laid('b2', 1, 4, 'b.mid')]);
    expect(first.map((s) => [s.step, s.scope.file])).toEqual([
      ['take-place', 'a.mid'],
      ['carve', 'b.mid'],
    ]);
    const next = put(first, [laid('b3', 1, null, 'a.mid'), laid('b2', 2, 4, 'b.mid')]);
    expect(next.map((s) => s.key)).toEqual(first.map((s) => s.key));
  });
  it('stands where it stood; what is switched off is none of it; nothing laid is no step', () => {
    const off: PlanStep = { ...put([], [laid('b9', 1, 1)])[0]!, on: false };
    const steps = [other('a'), off, ...put([], [laid('b1', 1, 8)]), other('z')];
    expect(beforePlaced(steps).map((s) => s.key)).toEqual(['a', off.key]);
    const moved = put(steps, [laid('b2', 1, 8)]);
    expect(moved.map((s) => s.step)).toEqual(['transpose', 'carve', 'carve', 'transpose']);
    expect(moved[1]).toBe(off);
    expect(put(moved, []).map((s) => s.key)).toEqual(['a', off.key, 'z']);
    expect(beforePlaced([other('a')])).toHaveLength(1);
  });
  it('what is laid is what is read back, whatever was there', () => {
    const one = fc.record({
      place: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
      from: fc.constantFrom('x.mid', 'y.mid'),
      fromBar: fc.integer({ min: 1, max: 20 }),
      bars: fc.constantFrom(0.5, 1, 4),
    });
    const list = fc.uniqueArray(one, { selector: (p) => p.place, maxLength: 5 });
    fc.assert(
      fc.property(list, list, (before, after) => {
        const named = (all: typeof before) =>
          all
            .map(({ place, from, fromBar, bars }) => laid(place, fromBar, bars, from))
            .sort((a, b) => `${a.from}`.localeCompare(`${b.from}`));
        const steps = [other('a'), ...put([], named(before)), other('z')];
        const next = put(steps, named(after));
        expect(placedIn(next)).toEqual(named(after));
        expect(next.filter((s) => s.step === 'transpose').map((s) => s.key)).toEqual(['a', 'z']);
        expect(new Set(next.map((s) => s.key)).size).toBe(next.length);
      }),
    );
  });
});
