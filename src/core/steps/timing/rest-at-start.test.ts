import { expect } from 'vitest';
import { two, notes, score, parts } from '../../../../testing/songs';
import { testStep } from '../../../../testing/step-tester';

testStep('rest-at-start', [
  {
    name: 'whole bars; the set-up stays',
    source: two,
    params: { bars: 2 },
    effect: { notesChanged: 4 },
    expect(after) {
      expect(notes(after, 0)[0]![0]).toBe(3840);
      expect(score(after).conductor.tempos[0]!.tick).toBe(0);
      expect(score(after).conductor.markers[0]!.tick).toBe(960 + 3840);
      expect(parts(after)[1]!.events.tick[0]).toBe(0);
    },
  },
]);
