import { ladder, piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { holds } from './holds';

/** 70 ms are 67.2 ticks, 320 ms are 307.2. */
testRule(holds, {
  valid: [
    {
      name: '70.8 ms before the next',
      target: ladder,
      source: piece(at([0, 412, 24], [480, 60, 24])),
    },
    {
      name: 'a strike needs no gap',
      target: ladder,
      source: piece(at([0, 307, 24], [308, 60, 24])),
    },
    {
      name: 'holds overlap on rung 5',
      target: ladder,
      source: piece(at([0, 800, 72], [240, 800, 74])),
    },
  ],
  invalid: [
    {
      name: '69.8 ms before the next',
      code: 'release-gap',
      target: ladder,
      source: piece(at([0, 413, 24], [480, 60, 24])),
      measured: 69.792,
      notes: 1,
    },
    {
      name: 'holds overlap on rung 1',
      code: 'holds-overlap',
      target: ladder,
      source: piece(at([0, 800, 24], [240, 800, 26])),
      notes: 1,
    },
  ],
});
