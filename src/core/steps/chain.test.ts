import { expect } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';

const two = song([
  conductor(),
  new Track('Gulls').note(1, 0, 480, 60, 90),
  new Track('Rope').note(2, 0, 480, 62, 80),
]);
const link = { pattern: 'A', repeats: 2, shift: -5, voices: [3, 1, 1] };
const gulls = { source: 'main', track: 'Gulls', channel: 1, occurrence: 0 };

testStep('chain', [
  {
    name: 'keeps the links, voices in order and each once',
    source: two,
    params: { links: [link] },
    expect: (r) => expect(r.pieces[0]!.chain).toEqual([{ ...link, voices: [1, 3] }]),
  },
  {
    name: 'is of the whole piece',
    source: two,
    params: { links: [link] },
    scope: { parts: [gulls] },
    refused: /whole|piece|part/,
  },
]);

testStep('strands', [
  {
    name: 'one part with a name of its own',
    source: two,
    params: { kind: 'span', value: 'velocity', name: 'gulls-1' },
    scope: { parts: [gulls] },
    expect: (r) =>
      expect(r.pieces[0]!.strands).toMatchObject([
        { name: 'gulls-1', kind: 'span', value: 'velocity' },
      ]),
  },
  {
    name: 'all parts keep their names',
    source: two,
    params: { kind: 'instant', value: 'none' },
    expect: (r) => expect(r.pieces[0]!.strands!.map((s) => s.name)).toEqual(['Gulls', 'Rope']),
  },
  {
    name: 'one name for two is refused',
    source: two,
    params: { kind: 'instant', value: 'none', name: 'x' },
    refused: /One name is for one part/,
  },
]);
