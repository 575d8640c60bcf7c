import { song, conductor, Track } from '../../../../testing/score-builder';
import { at } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('drop-shared', [
  {
    name: 'the later one goes',
    source: song([conductor(), at([0, 480, 60]), new Track('B').note(2, 240, 480, 60, 9)]),
    params: {},
    effect: { notesDropped: 1 },
  },
]);
