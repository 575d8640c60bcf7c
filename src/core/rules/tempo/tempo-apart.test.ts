import { testRule } from '../../../../testing/rule-tester';
import { conductor, song, targetWith, Track } from '../../../../testing/score-builder';
import { tempoApart } from './tempo-apart';

const slow = targetWith({ tempo: { apartMs: 1000 } });
const line = new Track('One').note(1, 0, 480, 60, 90).note(1, 3840, 480, 60, 90);

testRule(tempoApart, {
  valid: [{ name: 'a second', target: slow, source: song([conductor(120).tempo(960, 100), line]) }],
  invalid: [
    {
      name: 'a beat of half a second, twice',
      code: 'tempos-close',
      target: slow,
      source: song([conductor(120).tempo(480, 110).tempo(900, 100), line]),
      at: [480, 900],
      measured: 477.273,
    },
  ],
});
