import { testRule } from '../../../../testing/rule-tester';
import { builtIn, Track, song, conductor } from '../../../../testing/score-builder';
import { phraseBreaks } from './phrases';

const ladder = builtIn('reed-ladder');
/** Both rungs of the chanter: beats of the easy one and of the hardest. */
const rungs = (easy: number[], hard: number[]) => {
  const track = new Track('Chanter');
  const all = [
    ...easy.map((b) => ({ b, channel: 11 })),
    ...hard.map((b) => ({ b, channel: 15 })),
  ].sort((x, y) => x.b - y.b);
  for (const { b, channel } of all) track.note(channel, b * 480, 240, 48, 90);
  return song([conductor(), track]);
};
const rung = (channel: number, ...ticks: number[]) => {
  const track = new Track('Chanter');
  for (const t of ticks) track.note(channel, t, 240, 48, 90);
  return track;
};

testRule(phraseBreaks, {
  valid: [
    {
      name: 'both rest at the same place',
      target: ladder,
      source: rungs([0, 2, 8, 10], [0, 1, 2, 8, 9, 10]),
    },
    { name: 'one rung alone', target: ladder, source: song([conductor(), rung(11, 0, 4800)]) },
  ],
  invalid: [
    {
      name: 'the easy one rests where the other plays on',
      code: 'phrases-differ',
      severity: 'caution',
      target: ladder,
      source: rungs([0, 2, 8, 10], [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]),
      at: [2 * 480 + 240],
      measured: 1,
    },
  ],
});
