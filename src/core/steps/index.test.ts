import { it, expect } from 'vitest';
import { song, conductor, Track, builtIn } from '../../../testing/score-builder';
import { BAR } from '../../../testing/songs';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import { isWholeBpm } from '../time/tempos';
import { shortenLabel } from './delivery';
import { wrap } from './facts';
import { steps } from './index';

it('captions break at words', () => {
  expect(wrap('all the lanterns of the marsh', 12)).toBe('all the\nlanterns of\nthe marsh');
});

it('a whole tempo is 60,000,000/N rounded down or to the nearest', () => {
  for (let n = 40; n <= 240; n++) {
    expect(isWholeBpm(Math.floor(60_000_000 / n))).toBe(true);
    expect(isWholeBpm(Math.round(60_000_000 / n))).toBe(true);
    expect(isWholeBpm(Math.floor(60_000_000 / n) - 1)).toBe(false);
  }
});

it('every step is known by one id and has words for people', () => {
  expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length);
  for (const s of steps) expect(s.summary).toMatch(/\.$/);
});

it('a song is carved for the crate, and every file is held against its place', () => {
  const source = song(
    [conductor(), new Track('Drums').note(10, 0, 60, 36, 90).note(10, BAR, 60, 38, 90)],
    { endTick: 2 * BAR },
  );
  const places = [
    { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 },
    { place: 'hit', fileName: 'hit.mid', fromBar: 2, bars: 1 },
  ];
  const run = runPlan({
    base: baseOf(source),
    target: builtIn('stomp-crate'),
    plan: { steps: [{ key: 'a', step: 'carve', params: { places }, scope: {}, on: true }] },
  });
  expect(run.rendition.pieces.map((p) => p.delivery.fileName)).toEqual(['b1.mid', 'hit.mid']);
});

it('labels are cut where a word ends', () => {
  expect(shortenLabel('Turn of the tide, again', 16)).toBe('Turn of the tide');
  expect(shortenLabel('Turn of the tides', 16)).toBe('Turn of the');
  expect(shortenLabel('Unbreakablelongword', 8)).toBe('Unbreaka');
});
