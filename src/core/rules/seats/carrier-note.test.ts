import { simple } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn } from '../../../../testing/score-builder';
import { carrier } from './carrier-note';

const carrierTarget = builtIn('tempo-carrier');

testRule(carrier, {
  valid: [
    {
      name: 'after its own step',
      target: carrierTarget,
      source: simple,
      steps: [
        {
          step: 'carrier-note',
          params: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
        },
      ],
    },
  ],
  invalid: [
    {
      name: 'no notes at all',
      code: 'carrier-missing',
      target: carrierTarget,
      source: simple,
      lossless: [false],
    },
    {
      name: 'other notes were seated',
      code: 'carrier-differs',
      target: carrierTarget,
      source: simple,
      steps: [{ step: 'route', params: { seat: 'anywhere' } }],
    },
  ],
});
