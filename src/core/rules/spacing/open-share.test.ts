import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { openShare } from './open-share';

const fog = builtIn('fog-pier');

testRule(openShare, {
  valid: [
    { name: '1,200 ms in 2 s', target: fog, source: piece(at([0, 576, 60], [960, 576, 60])) },
    {
      name: 'the window ends inside a note',
      target: fog,
      source: piece(at([0, 576, 60], [1344, 576, 60], [2688, 576, 60])),
    },
  ],
  invalid: [
    {
      name: 'one tick more',
      code: 'open-too-long',
      target: fog,
      source: piece(at([0, 577, 60], [960, 576, 60])),
      measured: 1201.042,
      notes: 2,
    },
    {
      name: 'blasts that touch',
      code: 'open-too-long',
      target: fog,
      source: piece(at([0, 600, 60], [600, 600, 62], [1200, 600, 64])),
      measured: 1875,
    },
  ],
});
