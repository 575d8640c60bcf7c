import { expect } from 'vitest';
import { song, conductor } from '../../../testing/score-builder';
import { two, parts, score, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('set-format', [
  {
    name: 'format 0',
    source: two,
    params: { format: 0, layout: 'as-is' },
    expect: (after) =>
      expect(after.pieces[0]!.delivery).toMatchObject({ format: 0, layout: 'single' }),
  },
  {
    name: 'one track',
    source: two,
    params: { format: 1, layout: 'conductor-first', oneTrack: 'All' },
    expect: (after) => expect(new Set(parts(after).map((p) => p.track)).size).toBe(1),
  },
]);

testStep('markers', [
  {
    name: 'short and plain',
    source: two,
    params: { longest: 12, transliterate: true },
    effect: { events: 1 },
    expect: (after) => expect(score(after).conductor.markers[0]!.text).toBe('Eveil du'),
  },
]);

testStep('carrier-note', [
  {
    name: 'through the whole length',
    source: song([conductor().marker(9600, 'End')]),
    params: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
    effect: { notesAdded: 1 },
    expect: (after) => expect(notes(after, 0)).toEqual([[0, 9600, 60, 1]]),
  },
]);

testStep('name-file', [
  {
    name: 'a name',
    source: two,
    params: { name: 'A.mid' },
    expect: (after) => expect(after.pieces[0]!.delivery.fileName).toBe('A.mid'),
  },
  { name: 'a path', source: two, params: { name: '../A.mid' }, refused: /no folder/ },
]);
