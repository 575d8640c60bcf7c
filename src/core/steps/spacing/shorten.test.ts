import { expect } from 'vitest';
import { thick, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('shorten', [
  {
    name: 'until the next note',
    source: thick,
    params: { until: 'next-note' },
    expect: (after) => expect(notes(after, 0)[0]![1]).toBe(480),
  },
  {
    name: 'to a length',
    source: thick,
    params: { until: 'longest', longestMs: 100 },
    effect: { notesChanged: 3 },
  },
  { name: 'without a length', source: thick, params: { until: 'longest' }, refused: /needed/ },
]);
