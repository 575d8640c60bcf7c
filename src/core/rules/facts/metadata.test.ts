import { META_COPYRIGHT } from '../../../../demo/song';
import { bed, BAR, told, text, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor } from '../../../../testing/score-builder';
import { metadata } from './metadata';

const crate = builtIn('stomp-crate');

testRule(metadata, {
  valid: [
    {
      name: 'sixteen letters',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: "Marsh Lane '26-a" }),
    },
  ],
  invalid: [
    {
      name: 'no title',
      code: 'metadata-missing',
      target: builtIn('marsh-duel'),
      source: song([conductor().meta(0, META_COPYRIGHT, text('2026 The Quay Crew')), one()]),
      lossless: [true],
    },
    {
      name: 'seventeen',
      code: 'metadata-long',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: 'Marsh Lane 2026 ab' }),
      measured: 18,
    },
    {
      name: 'an accent',
      code: 'metadata-letters',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: 'Überfahrt' }),
      measured: 1,
    },
  ],
});
