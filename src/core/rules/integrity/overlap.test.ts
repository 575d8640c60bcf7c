import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor, Track } from '../../../../testing/score-builder';
import { overlap } from './overlap';

const plain = targetWith({});

testRule(overlap, {
  valid: [
    {
      name: 'end meets start',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 480, 480, 60, 90)]),
    },
    {
      name: 'two tracks keep apart',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90),
        new Track('B').note(1, 100, 480, 60, 90),
      ]),
    },
  ],
  invalid: [
    {
      name: 'within a part',
      code: 'overlap',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 240, 480, 60, 90)]),
      at: [240],
      notes: 1,
    },
    {
      name: 'made by a merge to format 0',
      code: 'overlap',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90),
        new Track('B').note(1, 100, 480, 60, 90),
      ]),
      steps: [{ step: 'set-format', params: { format: 0, layout: 'single' } }],
      at: [100],
    },
    {
      name: 'struck twice at once',
      code: 'doubled',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 0, 240, 60, 80)]),
      notes: 1,
    },
    {
      name: 'struck twice at once by one part, beside one without a note',
      code: 'doubled',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90).note(1, 0, 240, 60, 80),
        new Track('Words alone').control(0, 1, 7, 100),
      ]),
      steps: [{ step: 'set-format', params: { format: 0, layout: 'single' } }],
      notes: 1,
    },
    {
      name: 'struck twice at once by two parts',
      code: 'doubled',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90).note(1, 480, 240, 60, 90),
        new Track('B').note(1, 0, 240, 60, 80).note(1, 480, 240, 60, 99).note(1, 480, 240, 64, 9),
      ]),
      steps: [{ step: 'set-format', params: { format: 0, layout: 'single' } }],
      at: [0, 480],
      notes: 2,
    },
  ],
});
