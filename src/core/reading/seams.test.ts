import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { driftPerPass } from './drift';
import { CURVE_MS } from '../sound/peaks';
import { seamCandidates } from './seams';

const BAR = 1920;
const piece = (track: Track, bars: number) =>
  renditionOf(song([conductor(), track], { endTick: bars * BAR }), targetWith({ seats: [] }))
    .pieces[0]!;
/** A tune of eight bars, played twice, and a bar of ending. */
function twice() {
  const track = new Track('Line');
  const tune = [60, 62, 64, 65, 67, 65, 64, 62];
  for (let bar = 0; bar < 16; bar++) {
    const key = tune[bar % 8]!;
    track.note(1, bar * BAR, 400, key, 90).note(1, bar * BAR + 960, 400, key + 3, 90);
  }
  return track.note(1, 16 * BAR, 1900, 60, 90);
}

describe('where a piece may go round', () => {
  it('the best is where it begins anew, with its reasons', () => {
    const [best, ...others] = seamCandidates(piece(twice(), 17));
    expect(best).toMatchObject({ fromBar: 1, hanging: 0, jumps: 0 });
    expect([8, 16]).toContain(best!.toBar);
    expect(best!.says).toContain('nothing hangs over');
    expect(best!.says.join()).toMatch(/bar 17 is as bar 1|bar 9 is as bar 1/);
    expect(others.length).toBeGreaterThan(5);
    for (const c of others) expect(c.cost).toBeGreaterThanOrEqual(best!.cost);
  });
  it('a note that hangs and a level that was ridden speak against a place', () => {
    const track = twice()
      .note(1, 8 * BAR - 200, 600, 72, 90)
      .control(5 * BAR, 1, 7, 40);
    const all = seamCandidates(piece(track, 17), { most: 40 });
    const at = (bar: number) => all.find((c) => c.toBar === bar)!;
    expect(at(8)).toMatchObject({ hanging: 1, jumps: 1 });
    expect(at(4)).toMatchObject({ hanging: 0, jumps: 0 });
    expect(at(8).says).toEqual(expect.arrayContaining(['1 note hangs over']));
  });
  it('may begin elsewhere where that is said', () => {
    const from = seamCandidates(piece(twice(), 17), { fromBars: [1, 9] });
    expect(from.some((c) => c.fromBar === 9)).toBe(true);
  });
  it('the sound beside it tells apart what the notes do not', () => {
    // Two seconds a bar: each half of a bar a stroke that fades, as loud as its key is high; at the
    // end of bar 8 something still rings.
    const perBar = 2000 / CURVE_MS;
    const tune = [60, 62, 64, 65, 67, 65, 64, 62];
    const loudness = Float32Array.from({ length: 17 * perBar }, (_, i) => {
      const bar = Math.floor(i / perBar);
      const into = (i % (perBar / 2)) / (perBar / 2);
      const stroke = ((tune[bar % 8]! - 58) / 12) * Math.exp(-into * 9) * 0.8;
      return bar === 7 && i % perBar > perBar - 12 ? 0.7 : stroke;
    });
    const all = seamCandidates(piece(twice(), 17), { loudness, most: 40 });
    const at = (bar: number) => all.find((c) => c.toBar === bar)!;
    expect(at(16).says.join()).not.toMatch(/rings/);
    expect(at(8).says).toContain('the sound is cut while it rings');
    expect(at(8).says.join()).toMatch(/goes on alike \((9\d|100) %\)/);
    const silent = seamCandidates(piece(twice(), 17), { most: 40 });
    const without = (bar: number) => silent.find((c) => c.toBar === bar)!;
    expect(without(8).says.join()).not.toMatch(/sound/);
    const dearer = (bar: number) => at(bar).cost - without(bar).cost;
    expect(dearer(8)).toBeGreaterThan(dearer(16) + 1);
  });
  it('a piece without notes has none', () => {
    expect(seamCandidates(piece(new Track('Empty'), 4))).toEqual([]);
  });
});

it('a loop that is no whole number of frames drifts by as much in each pass', () => {
  expect(driftPerPass(2000, 25, 100)).toBe(0);
  expect(driftPerPass(2010, 25, 1)).toBeCloseTo(-10, 6);
  expect(driftPerPass(2010, 25, 100)).toBeCloseTo(-1000, 6);
});
