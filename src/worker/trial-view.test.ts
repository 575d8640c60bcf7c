import { expect, it } from 'vitest';
import type { MendTrial } from '../core/plan/trial';
import { trialView } from './trial-view';

it('what a mend takes away is counted in words that stand for themselves', () => {
  const losses = [
    { what: 'text', count: 50 },
    { what: 'text', count: 6 },
    { what: 'sysex', count: 1 },
    { what: 'markers', count: 1 },
    { what: 'programs', count: 1200 },
  ];
  expect(trialView({ losses } as unknown as MendTrial).losses).toEqual([
    '56 text events',
    '1 system exclusive',
    '1 marker',
    '1,200 programs',
  ]);
});
