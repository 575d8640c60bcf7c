import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { notesInFrames } from './frame-notes';

const deck = builtIn('frame-deck');
const roll = (...ticks: number[]) => {
  const track = new Track('Roll');
  for (const t of ticks) track.note(3, t, 6, 60, 90);
  return track;
};
const frames = (shift?: string) => [
  {
    step: 'metadata',
    params: { frameRate: '25', ending: 'rest-at-end', ...(shift ? { frameShift: shift } : {}) },
  },
];

testRule(notesInFrames, {
  valid: [
    {
      name: 'a frame each',
      target: deck,
      source: song([conductor(), roll(0, 40)]),
      steps: frames(),
    },
    { name: 'no rate yet', target: deck, source: song([conductor(), roll(0, 8)]) },
  ],
  invalid: [
    {
      name: 'two in one frame',
      code: 'frame-shared',
      target: deck,
      source: song([conductor(), roll(0, 8, 40)]),
      steps: frames(),
      at: [8],
      notes: 1,
    },
    {
      name: 'two of two parts',
      code: 'frame-shared',
      target: deck,
      source: song([conductor(), roll(0), roll(8)]),
      steps: frames(),
      notes: 1,
    },
    {
      name: 'shifted away',
      code: 'before-first-frame',
      target: deck,
      source: song([conductor(), roll(0, 400)]),
      steps: frames('-3'),
      measured: -3,
      notes: 1,
    },
  ],
});
