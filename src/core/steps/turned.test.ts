import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, rows, song, targetWith, Track } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { madeBy } from '../plan/made-by';
import type { PlanStep } from '../plan/plan';
import { runPlan } from '../plan/run';
import type { NoteAddress } from '../score/address';
import type { SourceScore } from '../sources/source';

const target = targetWith({ seats: [] });
const ref = { source: 'main', track: 'Piano', channel: 1, occurrence: 0 };
const piano = (keys: readonly number[]): SourceScore => {
  const track = new Track('Piano');
  keys.forEach((key, i) => track.note(1, i * 240, 200, key, 80));
  return song([conductor(), track]);
};
const address = (i: number, noteNumber: number): NoteAddress => ({
  part: ref,
  startTick: i * 240,
  noteNumber,
  occurrence: 0,
});
const split = (by: object, turned: readonly NoteAddress[] = []): PlanStep => ({
  key: 'split',
  step: 'split',
  params: { ...by, ...(turned.length > 0 ? { turned } : {}) },
  scope: { parts: [ref] },
  on: true,
});
const run = (source: SourceScore, steps: readonly PlanStep[]) => {
  const { rendition, outcomes } = runPlan({ base: baseOf(source), target, plan: { steps } });
  const parts = rendition.pieces[0]!.score.parts.filter((p) => p.notes.count > 0);
  return {
    sides: parts.map((p) => rows(p.notes).map((n) => [n[0]!, n[2]!])),
    parts,
    outcome: outcomes.at(-1)!,
  };
};

describe('single notes of a split', () => {
  const keys = [40, 72, 45, 76, 50, 79];
  it('go to the other side, and the words say how many', () => {
    const { sides, outcome } = run(piano(keys), [split({ by: 'key', at: 60 }, [address(1, 72)])]);
    expect(sides).toEqual([
      [
        [0, 40],
        [240, 72],
        [480, 45],
        [960, 50],
      ],
      [
        [720, 76],
        [1200, 79],
      ],
    ]);
    expect(outcome.missing.notes).toEqual([]);
  });
  it('that a newer export has not are named, and the others go on', () => {
    const gone = address(9, 99);
    const { sides, outcome } = run(piano(keys), [
      split({ by: 'key', at: 60 }, [gone, address(0, 40)]),
    ]);
    expect(outcome.refused).toBeNull();
    expect(outcome.missing.notes).toEqual([gone]);
    expect(sides[1]).toContainEqual([0, 40]);
  });
  it('all on one side split nothing', () => {
    const two = piano([40, 72]);
    const { outcome } = run(two, [split({ by: 'key', at: 60 }, [address(0, 40)])]);
    expect(outcome.refused).toMatch(/one side/);
  });
  it('of several voices go to the next one, and from the last to the first', () => {
    const { sides } = run(piano([60, 62, 64]), [
      split({ by: 'velocity', at: 81 }, [address(2, 64)]),
    ]);
    expect(sides).toEqual([
      [
        [0, 60],
        [240, 62],
      ],
      [[480, 64]],
    ]);
  });
  it('whatever is turned, every note is on one side, and turned again all is as before', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 30, max: 90 }), { minLength: 4, maxLength: 24 }),
        fc.array(fc.nat(23), { maxLength: 8 }),
        fc.constantFrom('key', 'hand'),
        (list, picks, by) => {
          const source = piano(list);
          const params = by === 'key' ? { by, at: 60 } : { by };
          const turned = [...new Set(picks.filter((i) => i < list.length))].map((i) =>
            address(i, list[i]!),
          );
          const plain = run(source, [split(params)]);
          const { sides, outcome } = run(source, [split(params, turned)]);
          if (outcome.refused !== null || plain.outcome.refused !== null) return;
          expect(sides.flat().sort((a, b) => a[0]! - b[0]!)).toEqual(
            list.map((key, i) => [i * 240, key]),
          );
          const of = (all: number[][][], i: number) =>
            all.findIndex((side) => side.some((n) => n[0] === i * 240));
          list.forEach((_, i) => {
            const moved = turned.some((t) => t.startTick === i * 240);
            if (moved) expect(of(sides, i)).not.toBe(of(plain.sides, i));
            else expect(of(sides, i)).toBe(of(plain.sides, i));
          });
        },
      ),
      { numRuns: 60, seed: 3 },
    );
  });
  it('are known to be of the split that parted them', () => {
    const step = split({ by: 'key', at: 60 });
    const { parts } = run(piano(keys), [step]);
    for (const p of parts) expect(madeBy([step], p.ref, 'split')).toBe(step);
    expect(madeBy([step], ref, 'split')).toBeUndefined();
    expect(madeBy([{ ...step, on: false }], parts[0]!.ref, 'split')).toBeUndefined();
    const other = { ...parts[0]!.ref, source: 'drums' };
    expect(madeBy([step], other, 'split')).toBeUndefined();
  });
});

describe('split and joined again', () => {
  it('every note is as it was, whatever it was split by', () => {
    const note = fc.tuple(
      fc.nat(40),
      fc.integer({ min: 1, max: 6 }),
      fc.integer({ min: 36, max: 84 }),
    );
    const how = fc.constantFrom(
      { by: 'key', at: 60 },
      { by: 'hand' },
      { by: 'voice', voices: 3 },
      { by: 'velocity', at: 70 },
      { by: 'column', voices: 2 },
    );
    fc.assert(
      fc.property(fc.array(note, { minLength: 2, maxLength: 40 }), how, (list, params) => {
        const track = new Track('Piano');
        const seen = new Set<string>();
        for (const [at, length, key] of list) {
          if (seen.has(`${at}/${key}`)) continue;
          seen.add(`${at}/${key}`);
          track.note(1, at * 120, length * 20, key, 40 + ((at * 7) % 60));
        }
        const source = song([conductor(), track]);
        const parted = run(source, [split(params)]);
        if (parted.outcome.refused !== null) return;
        const join: PlanStep = {
          key: 'join',
          step: 'join',
          params: {},
          scope: { parts: parted.parts.map((p) => p.ref) },
          on: true,
        };
        const { parts } = run(source, [split(params), join]);
        expect(parts).toHaveLength(1);
        const before = rows(source.score.parts.find((p) => p.notes.count > 0)!.notes);
        const order = (a: number[], b: number[]) => a[0]! - b[0]! || a[2]! - b[2]!;
        expect(rows(parts[0]!.notes).sort(order)).toEqual(before.sort(order));
      }),
      { numRuns: 60, seed: 8 },
    );
  });
});
