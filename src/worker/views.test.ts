import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, Track } from '../../testing/score-builder';
import { baseOf } from '../core/plan/base';
import { runPlan } from '../core/plan/run';
import { proof } from '../core/rules/proof';
import { mapsOf } from '../core/score/inventory';
import { MOST_SPANS } from './protocol';
import { type RunRequest } from './run-protocol';
import { findingView, pieceFiles } from './views';

describe('a finding as it crosses to the screen', () => {
  it('brings the places that are shown, and says how many there are', () => {
    const track = new Track('Bells');
    for (let i = 0; i < 2500; i++) track.note(1, i * 480, 120, 20, 90);
    const base = baseOf(song([conductor(), track]));
    const target = builtIn('bell-loft');
    const { rendition } = runPlan({ base, target, plan: { steps: [] } });
    const found = proof({ rendition, target, base }).find((f) => f.code === 'out-of-range')!;
    expect(found.spans).toHaveLength(2500);
    const maps = rendition.pieces.map((p) => mapsOf(p.score));
    const view = findingView(found, { target } as unknown as RunRequest, maps);
    expect(view.spans).toEqual(found.spans.slice(0, MOST_SPANS));
    expect(view.notes).toHaveLength(2500);
    expect(view.where).toContain('2,499 more places');
  });
});

describe('the files of a delivery', () => {
  const carved = (id: string, places: readonly [place: string, file: string, bars: number][]) => {
    const track = new Track('Drums').marker(0, 'On');
    for (let i = 0; i < 32; i++) track.note(10, i * 480, 120, 36, 90);
    const base = baseOf(song([conductor(), track]));
    const target = builtIn(id);
    const params = {
      places: places.map(([place, fileName, bars], i) => ({
        place,
        fileName,
        fromBar: 1 + i,
        bars,
      })),
    };
    const step = { key: 'k', step: 'carve', params, scope: {}, on: true };
    const { rendition } = runPlan({ base, target, plan: { steps: places.length ? [step] : [] } });
    return pieceFiles(rendition.pieces, target);
  };
  it('have the place that they were laid into, as long as they are there', () => {
    expect(
      carved('stomp-crate', [
        ['b3', 'b3.mid', 2],
        ['k1', 'k1.mid', 0.5],
      ]).map(({ place, bars, notes }) => [place, bars, notes]),
    ).toEqual([
      ['b3', 2, 8],
      ['k1', 0.5, 2],
    ]);
    expect(carved('pattern-pads', [['4_', '4_drums.mid', 2]])[0]!.place).toBe('4_');
    expect(carved('tide-voices', [['C', 'C.mid', 2]])[0]!.place).toBe('C');
  });
  it('without a step by their names, and of patterns by their letters', () => {
    expect(carved('stomp-crate', [])[0]!.place).toBeNull();
    expect(carved('tide-voices', [])[0]!.place).toBe('A');
    expect(carved('bell-loft', [])[0]!.place).toBeNull();
  });
});
