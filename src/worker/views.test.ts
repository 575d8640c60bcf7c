import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, Track } from '../../testing/score-builder';
import { baseOf } from '../core/plan/base';
import { runPlan } from '../core/plan/run';
import { proof } from '../core/rules/proof';
import { mapsOf } from '../core/score/inventory';
import { MOST_SPANS, type RunRequest } from './protocol';
import { findingView } from './views';

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
