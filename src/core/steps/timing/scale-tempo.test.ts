import { expect } from 'vitest';
import { conductor, song, Track } from '../../../../testing/score-builder';
import { testStep } from '../../../../testing/step-tester';

const line = () => new Track('Line').note(1, 480, 240, 60, 90);

testStep('scale-tempo', [
  {
    name: 'all tempos by one share; ticks stay',
    source: song([conductor(120).tempo(960, 60), line()]),
    params: { percent: 80 },
    effect: {},
    expect: ({ pieces: [piece] }) => {
      const { conductor: c, parts } = piece!.score;
      expect(c.tempos.map((t) => t.microsecondsPerQuarter)).toEqual([625_000, 1_250_000]);
      expect([...parts[0]!.notes.start]).toEqual([480]);
    },
  },
  {
    name: 'the tempo that nobody wrote is written',
    source: song([new Track('Lead').meter(0, 4, 4), line()]),
    params: { percent: 200 },
    effect: {},
    expect: ({ pieces: [piece] }) =>
      expect(piece!.score.conductor.tempos[0]!.microsecondsPerQuarter).toBe(250_000),
  },
  {
    name: 'slower than a file can say',
    source: song([conductor(4), line()]),
    params: { percent: 10 },
    refused: /beyond/,
  },
]);
