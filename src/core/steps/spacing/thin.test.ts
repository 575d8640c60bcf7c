import { expect } from 'vitest';
import { song, conductor, Track } from '../../../../testing/score-builder';
import { fast, notes, rolled } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';
import type { Rendition } from '../../score/piece';

testStep('thin', [
  {
    name: 'per key',
    source: fast,
    params: { apartMs: 180, per: 'key', keep: 'first' },
    effect: { notesDropped: 1 },
  },
  {
    name: 'over the seat, the loudest',
    source: fast,
    params: { apartMs: 250, per: 'seat', keep: 'loudest' },
    expect: (after) => expect(notes(after, 0).map((n) => n[3])).toEqual([90]),
  },
]);
const starts = (after: Rendition) => notes(after, 0).map((n) => n[0]);

testStep('thin', [
  {
    name: 'the beats stay where the first of each crowd would be beside them',
    // From the second sixteenth on: keeping the first would leave every note off the beat.
    source: song([conductor(), new Track('A').note(1, 360, 60, 60, 99).note(1, 480, 60, 60, 40)]),
    params: { apartMs: 200, per: 'key', keep: 'beats' },
    effect: { notesDropped: 1 },
    expect: (after) => expect(starts(after)).toEqual([480]),
  },
  {
    name: 'as many stay as can, on eighths rather than between them',
    source: rolled,
    params: { apartMs: 200, per: 'seat', keep: 'beats' },
    effect: { notesDropped: 8 },
    expect: (after) => expect(starts(after)).toEqual([0, 240, 468, 720, 960, 1200, 1440, 1680]),
  },
  {
    name: 'five a second, beats among them',
    source: rolled,
    params: { mostInASecond: 5, per: 'seat', keep: 'beats' },
    expect(after) {
      const kept = starts(after);
      for (const t of kept)
        expect(kept.filter((k) => k <= t && t - k < 960).length).toBeLessThanOrEqual(5);
      expect(kept).toEqual(expect.arrayContaining([0, 468, 960, 1440]));
      expect(kept).toHaveLength(10);
    },
  },
]);
