import { META_LYRIC } from '../../../../demo/song';
import { text, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, conductor, Track, song } from '../../../../testing/score-builder';
import { captionRule } from './captions';

const board = builtIn('song-board');
const sung = (advances: number[], words: [number, string][]) => {
  const lead = conductor();
  for (const [tick, w] of words) lead.meta(tick, META_LYRIC, text(w));
  const track = new Track('Advance');
  for (const tick of advances) track.note(12, tick, 60, 48, 90);
  return song([lead, track], { endTick: 8 * BAR });
};
const fromLyrics = [{ step: 'captions', params: { from: 'lyrics' } }];

testRule(captionRule, {
  valid: [
    {
      name: 'two seconds before the word',
      target: board,
      source: sung([0], [[BAR, '/Low tide']]),
      steps: fromLyrics,
    },
    {
      name: 'with the word',
      target: board,
      source: sung([BAR], [[BAR, '/Low tide']]),
      steps: fromLyrics,
    },
  ],
  invalid: [
    {
      name: 'none',
      code: 'captions-none',
      target: board,
      source: sung([0], [[BAR, '/Low tide']]),
      measured: 0,
    },
    {
      name: 'none, and words that are none',
      code: 'captions-none',
      target: board,
      source: sung(
        [0],
        [
          [0, '/'],
          [BAR, ' \r\n'],
        ],
      ),
      measured: 0,
    },
    {
      name: 'one advance too few',
      code: 'captions-count',
      target: board,
      source: sung(
        [0],
        [
          [BAR, '/Low tide'],
          [2 * BAR, '/high tide'],
        ],
      ),
      steps: fromLyrics,
      measured: 1,
    },
    {
      name: 'forty-three characters',
      code: 'caption-large',
      target: board,
      source: sung([0], [[BAR, `/${'lantern '.repeat(5)}abc`]]),
      steps: fromLyrics,
      measured: 1,
    },
    {
      name: 'one tick too early',
      code: 'caption-lead',
      target: board,
      source: sung([0], [[BAR + 1, '/Low tide']]),
      steps: fromLyrics,
      measured: 2001.042,
    },
    {
      name: 'one tick behind the word',
      code: 'caption-lead',
      target: board,
      source: sung([BAR + 1], [[BAR, '/Low tide']]),
      steps: fromLyrics,
      measured: -1.042,
    },
  ],
});
