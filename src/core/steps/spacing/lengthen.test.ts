import { expect } from 'vitest';
import { fast, notes } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('lengthen', [
  {
    name: 'to a length',
    source: fast,
    params: { shortestMs: 80 },
    effect: { notesChanged: 3 },
    expect: (after) => expect(notes(after, 0)[2]![1]! - 200).toBe(80),
  },
]);
