import { META_COPYRIGHT } from '../../../../demo/song';
import { bed, BAR, told, text, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, targetWith, Track } from '../../../../testing/score-builder';
import { metadata } from './metadata';

const crate = builtIn('stomp-crate');

testRule(metadata, {
  valid: [
    {
      name: 'facts of its own, of their kinds; one may be left open',
      target: targetWith({
        metadata: {
          required: [
            { key: 'Day', kind: 'date' },
            { key: 'Crew', kind: 'number' },
            { key: 'Poster', kind: 'file-name', optional: true },
          ],
        },
      }),
      source: song([conductor(), new Track('A').note(1, 0, 9, 60, 90)]),
      steps: [
        {
          step: 'metadata',
          params: {
            own: [
              { key: 'Day', value: '2024-02-29' },
              { key: 'Crew', value: '-3.5' },
            ],
          },
        },
      ],
    },
    {
      name: 'sixteen letters',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: "Marsh Lane '26-a" }),
    },
  ],
  invalid: [
    {
      name: 'a fact of its own, taken from where the source knows it',
      code: 'metadata-missing',
      target: targetWith({ metadata: { required: [{ key: 'Tide level', from: 'first-marker' }] } }),
      source: song([conductor().marker(0, 'Half ebb'), new Track('A').note(1, 0, 9, 60, 90)]),
    },
    {
      name: 'a date that there is not',
      code: 'metadata-kind',
      target: targetWith({ metadata: { required: [{ key: 'Day', kind: 'date' }] } }),
      source: song([conductor(), new Track('A').note(1, 0, 9, 60, 90)]),
      steps: [{ step: 'metadata', params: { own: [{ key: 'Day', value: '2025-02-29' }] } }],
    },
    {
      name: 'none of its values',
      code: 'metadata-kind',
      target: targetWith({
        metadata: { required: [{ key: 'Watch', kind: 'choice', choices: ['Dusk', 'Dawn'] }] },
      }),
      source: song([conductor(), new Track('A').note(1, 0, 9, 60, 90)]),
      steps: [{ step: 'metadata', params: { own: [{ key: 'Watch', value: 'Noon' }] } }],
    },
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
