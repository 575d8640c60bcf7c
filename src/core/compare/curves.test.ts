import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { baseOf } from '../plan/base';
import { runStep } from '../plan/run-step';
import { hearingOf } from '../target/hearing';
import { builtIn, conductor, renditionOf, song, Track } from '../../../testing/score-builder';
import { compareCurves, sayCurveDifference } from './curves';

const box = builtIn('brine-box');
const hearing = hearingOf(box);
const foot = (...list: (readonly [tick: number, value: number])[]) =>
  song([
    conductor(),
    list.reduce((t, [tick, v]) => t.control(tick, 9, 11, v), new Track('Foot').program(0, 9, 1)),
  ]);
const pieceOf = (source: ReturnType<typeof foot>) => renditionOf(source, box).pieces[0]!;
const differ = (a: ReturnType<typeof foot>, b: ReturnType<typeof foot>) =>
  compareCurves(pieceOf(a), pieceOf(b), hearing, 0);

describe('two states of curves', () => {
  it('the same values in force are no difference, however often they are said', () => {
    expect(differ(foot([480, 50], [960, 60]), foot([480, 50], [700, 50], [960, 60]))).toEqual([]);
  });
  it('the largest difference, and its mean over the time', () => {
    const [d, ...others] = differ(
      foot([0, 50], [960, 60], [1920, 50]),
      foot([0, 50], [960, 70], [1920, 50]),
    );
    expect(others).toEqual([]);
    // Ten apart for one of three seconds: one more is counted behind the last value.
    expect(d).toMatchObject({ channel: 9, of: 11, largest: 10 });
    expect(d!.mean).toBeCloseTo(10 / 3, 5);
    expect(sayCurveDifference(d!)).toBe('controller 11 by 10 at most, 3.3 on average');
  });
  it('what is moved by less than a millisecond is no difference', () => {
    expect(differ(foot([960, 60]), foot([960, 60]))).toEqual([]);
    const moved = differ(foot([0, 1], [9600, 90]), foot([0, 1], [9602, 90]));
    expect(moved).toHaveLength(1);
  });
  it('presets elsewhere are counted', () => {
    const at = (tick: number) =>
      song([conductor(), new Track('Foot').program(0, 9, 1).program(tick, 9, 2)]);
    expect(differ(at(960), at(1200)).map(sayCurveDifference)).toEqual(['1 preset']);
    expect(differ(at(960), at(960))).toEqual([]);
  });
  it('a switch that says what its preset has done is no difference; one that says otherwise is', () => {
    // A2 has block 83 on, A1 nothing.
    const pressed = (...list: (readonly [tick: number, number: number, value: number])[]) =>
      song([
        conductor(),
        list.reduce(
          (t, [tick, number, v]) => t.control(tick, 9, number, v),
          new Track('Foot').program(0, 9, 1).program(1920, 9, 0),
        ),
      ]);
    expect(differ(pressed([480, 83, 127]), pressed())).toEqual([]);
    expect(differ(pressed([480, 80, 127]), pressed())).toMatchObject([{ of: 80, largest: 127 }]);
    expect(differ(pressed([480, 83, 0]), pressed())).toMatchObject([{ of: 83, largest: 127 }]);
    // Held against what the preset does where nothing is pressed: one and a half of three seconds.
    const [off] = differ(pressed([480, 83, 0]), pressed());
    expect(off!.mean).toBeCloseTo((127 * 1.5) / 3, 5);
    // The next preset switches it off: to be switched off again changes nothing.
    expect(differ(pressed([480, 80, 127], [2400, 80, 0]), pressed([480, 80, 127]))).toEqual([]);
    // Pressed on, off by the preset, pressed on again: the second press is not nothing.
    expect(differ(pressed([480, 80, 127], [2400, 80, 127]), pressed([480, 80, 127]))).toMatchObject(
      [{ of: 80, largest: 127 }],
    );
    // Another preset is one difference, not one of each of its switches as well.
    const other = song([conductor(), new Track('Foot').program(0, 9, 0).program(1920, 9, 0)]);
    expect(differ(pressed(), other).map((d) => d.of)).toEqual(['presets']);
  });
  it('thinning is told with an error that is no larger than was asked for', () => {
    const values = fc.array(fc.tuple(fc.integer({ min: 1, max: 90 }), fc.nat(127)), {
      minLength: 2,
      maxLength: 50,
    });
    fc.assert(
      fc.property(values, fc.nat(12), (list, within) => {
        let tick = 0;
        const source = foot(...list.map(([gap, v]) => [(tick += gap), v] as const));
        const before = renditionOf(source, box);
        const step = { step: 'thin-curve', params: { controllers: [11], within }, scope: {} };
        const { rendition } = runStep(before, step, baseOf(source));
        const found = compareCurves(before.pieces[0]!, rendition.pieces[0]!, hearing, 0);
        for (const d of found) expect(d.largest).toBeLessThanOrEqual(within);
        if (within === 0) expect(found).toEqual([]);
      }),
      { numRuns: 100 },
    );
  });
});
