import { expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { builtIn, conductor, song, weekSource, Track } from '../../../testing/score-builder';
import { builtInTargets } from '../target/index';
import { fitOf } from './fit';
import { EMPTY_PLAN } from './plan';
import { baseOf } from './base';

it('says what stops a song, and what it would take', () => {
  const job = week.find((j) => j.id === 'demo-paper-march')!;
  const fit = fitOf({
    base: baseOf(weekSource(job)),
    target: builtIn('strip-organ'),
    plan: EMPTY_PLAN,
  });
  expect(fit.now.stops).toBeGreaterThan(2);
  expect(fit.mended.stops).toBe(0);
  expect(fit.notesChanged).toBeGreaterThan(0);
  expect(fit.notesChanged).toBeLessThanOrEqual(fit.notes);
});
it('a song that fits takes nothing', () => {
  const source = song([conductor(), new Track('Part').program(0, 1, 3).note(1, 0, 480, 60, 90)]);
  const fit = fitOf({
    base: baseOf(source),
    target: builtIn('parlour-keyboard'),
    plan: EMPTY_PLAN,
  });
  expect(fit).toMatchObject({ now: { stops: 0 }, mends: 0, notesChanged: 0, notes: 1 });
});
it('every song and every target of the week: tried, never worse', () => {
  const songs = week.filter(
    (j) => j.id !== 'demo-ninety-lanterns' && j.id !== 'demo-long-causeway',
  );
  // Every fourth pair: each song and each target has its turn, mends themselves have their tests.
  for (const [row, job] of songs.entries()) {
    const source = weekSource(job);
    for (const target of builtInTargets.filter((_, t) => (row + t) % 4 === 0)) {
      const { now, mended } = fitOf({ base: baseOf(source), target, plan: EMPTY_PLAN });
      expect(mended.stops, `${job.title} on ${target.name}`).toBeLessThanOrEqual(now.stops);
    }
  }
}, 120_000);
