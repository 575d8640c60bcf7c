import { piece, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, builtIn } from '../../../../testing/score-builder';
import { velocity } from './velocity';

const alike = at(
  ...Array.from({ length: 8 }, (_, i): [number, number, number] => [i * 480, 9, 60]),
);

testRule(velocity, {
  valid: [
    {
      name: 'at both limits',
      target: targetWith({ velocity: { lowest: 20, highest: 100 } }),
      source: piece(at([0, 9, 60, 20], [9, 9, 60, 100])),
    },
    {
      name: 'seven alike are no pattern',
      target: targetWith({ velocity: { allAlike: 'caution' } }),
      source: piece(
        at(...Array.from({ length: 7 }, (_, i): [number, number, number] => [i * 480, 9, 60])),
      ),
    },
  ],
  invalid: [
    {
      name: 'one below',
      code: 'velocity-range',
      target: targetWith({ velocity: { lowest: 20, highest: 100 } }),
      source: piece(at([0, 9, 60, 19])),
      measured: 19,
      lossless: [false],
    },
    {
      name: 'not 64',
      code: 'velocity-ignored',
      severity: 'remark',
      target: builtIn('strip-organ'),
      source: piece(at([0, 480, 60, 65])),
      // One remark for all parts, without a mark at every note.
      notes: 0,
      measured: 1,
    },
    {
      name: 'eight alike',
      code: 'velocity-alike',
      severity: 'caution',
      target: targetWith({ velocity: { allAlike: 'caution' } }),
      source: piece(alike),
      notes: 8,
    },
  ],
});
