import { testRule } from '../../../../testing/rule-tester';
import { builtIn, song, conductor, Track, targetWith } from '../../../../testing/score-builder';
import { chainLinks } from './chain-links';

/** At 120 BPM and PPQ 480 a tick is 1.0417 ms; 25 frames a second are 38.4 ticks each. */
const voices = builtIn('tide-voices');
const pattern = (key = 60) =>
  song([conductor(), new Track('Voice 1').note(1, 0, 1920, key, 90)], { endTick: 1920 });
const chained = (...links: object[]) => [{ step: 'chain', params: { links } }];
const link = { pattern: 'A', repeats: 1, shift: 0, voices: [1] };

testRule(chainLinks, {
  valid: [
    { name: 'no chain of its own', target: voices, source: pattern() },
    { name: 'within all limits', target: voices, source: pattern(), steps: chained(link, link) },
  ],
  invalid: [
    {
      name: 'more files than letters',
      code: 'patterns-many',
      target: targetWith({
        seats: [{ kind: 'voice', id: 'voice-1', name: 'Voice 1', channel: 1 }],
        chains: { ...voices.chains, patterns: ['A'] },
      }),
      source: song([conductor(), new Track('V').note(1, 0, 480, 60, 90)], { endTick: 3840 }),
      steps: [
        {
          step: 'carve',
          params: {
            places: [
              { place: 'x', fileName: 'x.mid', fromBar: 1, bars: 1 },
              { place: 'y', fileName: 'y.mid', fromBar: 2, bars: 1 },
            ],
          },
        },
      ],
      measured: 2,
    },
    {
      name: 'a pattern that is not there',
      code: 'link-unknown',
      target: voices,
      source: pattern(),
      steps: chained(link, { ...link, pattern: 'C' }),
      measured: 1,
    },
    {
      name: 'too many links',
      code: 'links-many',
      target: voices,
      source: pattern(),
      steps: chained(...Array.from({ length: 30 }, () => link)),
      measured: 30,
    },
    {
      name: 'repeated too often',
      code: 'link-beyond',
      target: voices,
      source: pattern(),
      steps: chained({ ...link, repeats: 19 }),
      measured: 1,
      lossless: [true],
    },
    {
      name: 'shifted too far',
      code: 'link-beyond',
      target: voices,
      source: pattern(),
      steps: chained({ ...link, shift: 24 }),
    },
    {
      name: 'a voice that is not there',
      code: 'link-beyond',
      target: voices,
      source: pattern(),
      steps: chained({ ...link, voices: [1, 9] }),
    },
    {
      name: 'shifted out of reach',
      code: 'shift-out-of-reach',
      target: voices,
      source: pattern(80),
      steps: chained({ ...link, shift: 12 }),
      notes: 1,
    },
  ],
});
