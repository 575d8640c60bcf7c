import { expect } from 'vitest';
import { META_TEXT } from '../../../demo/song';
import { song, conductor, Track } from '../../../testing/score-builder';
import { piece, at, BAR, notes } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('set-length', [
  {
    name: 'fills up',
    source: piece(at([0, 480, 60]), 480),
    params: { bars: 2 },
    effect: { notesChanged: 0, notesDropped: 0 },
    expect: (r) =>
      expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([2 * BAR, 2 * BAR]),
  },
  {
    name: 'cuts what rings on and drops what begins later',
    source: piece(at([0, 3000, 60], [BAR, 9, 61])),
    params: { bars: 1 },
    effect: { notesChanged: 1, notesDropped: 1 },
    expect: (r) => expect(notes(r)).toEqual([[0, BAR, 60, 90]]),
  },
  {
    name: 'the common end',
    source: song([conductor(), at([0, 480, 60]), new Track('B').note(2, 0, 960, 60, 9)]),
    params: {},
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([960, 960, 960]),
  },
  {
    name: 'at a moment, by the clock',
    source: piece(at([0, 480, 60], [960, 9, 61]), 4 * BAR),
    params: { toMs: 2500 },
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([2400, 2400]),
  },
  {
    name: 'where the last track that plays ends, whatever rings past it',
    source: song([
      conductor(),
      at([0, 480, 60]).meta(700, META_TEXT, new Uint8Array(1)),
      new Track('B').hang(2, 0, 60, 9),
    ]),
    params: { tracksEnd: true },
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([700, 700, 700]),
  },
  {
    name: 'tracks without a length',
    source: song([new Track('Dot').note(1, 0, 0, 60, 90)]),
    params: { tracksEnd: true },
    refused: /have no length/,
  },
]);
