import { simple } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, Track } from '../../../../testing/score-builder';
import { sequences } from './sequences';

const plain = targetWith({});
const manySequences = (...notes: readonly number[]) =>
  song(
    notes.map((n, i) => {
      const track = new Track(`Verse ${i + 1}`).tempo(0, 120).meter(0, 4, 4);
      for (let k = 0; k < n; k++) track.note(1, k * 480, 240, 60, 90);
      return track;
    }),
    { format: 2 },
  );

testRule(sequences, {
  valid: [
    { name: 'one file, one sequence', target: plain, source: simple },
    { name: 'format 2 with one', target: plain, source: manySequences(3) },
  ],
  invalid: [
    {
      name: 'the first that holds notes is taken, and said',
      code: 'other-sequences',
      severity: 'caution',
      target: plain,
      source: manySequences(0, 4, 7),
      measured: 7,
    },
    {
      name: 'the others are empty',
      code: 'other-sequences',
      severity: 'remark',
      target: plain,
      source: manySequences(0, 4),
      measured: 0,
    },
  ],
});
