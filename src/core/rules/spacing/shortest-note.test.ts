import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { shortest } from './shortest-note';

const rail = builtIn('lantern-rail');

testRule(shortest, {
  valid: [
    {
      name: '50 ms',
      target: rail,
      source: song([conductor(), new Track('C').note(16, 0, 48, 40, 90)]),
    },
  ],
  invalid: [
    {
      name: '10 ms',
      code: 'too-short',
      target: rail,
      source: song([
        conductor(),
        new Track('C').note(16, 0, 10, 40, 90).note(16, 960, 240, 41, 90),
      ]),
      measured: 10.417,
      notes: 1,
    },
  ],
});
