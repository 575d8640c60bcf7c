import { expect } from 'vitest';
import { META_LYRIC } from '../../../demo/song';
import { conductor, song } from '../../../testing/score-builder';
import { piece, at, BAR } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

testStep('metadata', [
  {
    name: 'sets and takes away',
    source: piece(at([0, 9, 60])),
    params: { title: 'Low tide', maker: '' },
    expect: (r) => expect(r.pieces[0]!.delivery.metadata).toEqual({ title: 'Low tide' }),
  },
  {
    name: 'a BPM that is no number',
    source: piece(at([0, 9, 60])),
    params: { bpm: 'quick' },
    refused: /not a number/,
  },
]);
const sung = (...words: [number, string][]) => {
  const lead = conductor();
  for (const [tick, w] of words) lead.meta(tick, META_LYRIC, new TextEncoder().encode(w));
  return song([lead, at([0, 9, 48], [BAR, 9, 48])]);
};

testStep('captions', [
  {
    name: 'syllables are joined to phrases',
    source: sung([0, '/Lan-'], [100, 'terns '], [200, 'low'], [BAR, '/over the quay']),
    params: { from: 'lyrics' },
    expect: (r) =>
      expect(r.pieces[0]!.captions).toEqual([
        { tick: 0, text: 'Lanterns low' },
        { tick: BAR, text: 'over the quay' },
      ]),
  },
  {
    name: 'a list is laid on the notes',
    source: sung(),
    params: { from: 'list', lines: ['Low tide', '', 'High tide'] },
    expect: (r) => expect(r.pieces[0]!.captions!.map((c) => c.tick)).toEqual([0, BAR]),
  },
  {
    name: 'more lines than notes',
    source: sung(),
    params: { from: 'list', lines: ['a', 'b', 'c'] },
    refused: /3 captions but only 2 notes/,
  },
  {
    name: 'of two texts at one place the board shows both at once',
    source: sung([0, '/Low'], [BAR, '/tide'], [BAR, '/at last'], [BAR, '/tide at last']),
    params: { from: 'lyrics' },
    expect: (r) =>
      expect(r.pieces[0]!.captions).toEqual([
        { tick: 0, text: 'Low' },
        { tick: BAR, text: 'tide at last' },
      ]),
  },
  {
    name: 'what comes sooner than it can be turned to is joined, where both fit',
    // 96 ticks are 100 ms.
    source: sung([0, '/Low'], [96, '/Low'], [192, '/tide'], [288, '/lantern light'], [BAR, '/go']),
    params: { from: 'lyrics', apartMs: 400, longestLine: 8, mostLines: 2 },
    expect: (r) =>
      expect(r.pieces[0]!.captions).toEqual([
        { tick: 0, text: 'Low tide' },
        { tick: 288, text: 'lantern\nlight' },
        { tick: BAR, text: 'go' },
      ]),
  },
  { name: 'no lyrics', source: sung(), params: { from: 'lyrics' }, refused: /no lyrics/ },
]);
