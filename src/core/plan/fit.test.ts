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
it('parts that nobody plays after mending are told, with their notes', () => {
  const line = (name: string, channel: number, from: number) => {
    const track = new Track(name).program(0, channel, 3);
    for (let i = 0; i < 40; i++) track.note(channel, i * 480, 400, from + (i % 5), 90);
    return track;
  };
  const drums = new Track('Kit');
  for (let i = 0; i < 30; i++) drums.note(10, i * 480, 100, 36 + (i % 2) * 2, 90);
  const fit = fitOf({
    base: baseOf(song([conductor(), line('Lead', 1, 72), drums])),
    target: builtIn('bell-loft'),
    plan: EMPTY_PLAN,
  });
  expect(fit).toMatchObject({ seated: 40, kept: 40, out: { parts: 1, notes: 30 } });
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
