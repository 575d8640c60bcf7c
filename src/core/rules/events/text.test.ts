import { META_LYRIC, META_TEXT } from '../../../../demo/song';
import { line, cues } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track } from '../../../../testing/score-builder';
import { text } from './text';

const loft = builtIn('bell-loft');
const rail = builtIn('lantern-rail');

testRule(text, {
  valid: [{ name: 'one name', target: loft, source: song([conductor(), line(60)]) }],
  invalid: [
    {
      name: 'two names',
      code: 'track-names',
      target: loft,
      source: song([new Track('Conductor').tempo(0, 120), line(60)]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'markers',
      code: 'markers',
      target: loft,
      source: song([conductor().marker(0, 'Go'), line(60)]),
      lossless: [true],
    },
    {
      name: 'lyrics',
      code: 'other-text',
      target: loft,
      source: song([conductor(), line(60).text(0, META_LYRIC, 'la').text(5, META_TEXT, 'x')]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'a long label',
      code: 'marker-long',
      target: rail,
      source: song([conductor().marker(0, 'Turn of the tide, again'), cues(0)]),
      measured: 23,
      lossless: [true],
    },
    {
      name: 'accents',
      code: 'marker-letters',
      target: rail,
      source: song([conductor().marker(0, 'Éveil'), cues(0)]),
      lossless: [true],
    },
  ],
});
