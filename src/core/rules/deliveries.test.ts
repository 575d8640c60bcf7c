import { testRule } from '../../../testing/rule-tester';
import { builtIn, conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { chainLinks } from './facts/chain-links';
import { notesInFrames } from './frames/frame-notes';
import { phraseBreaks } from './chart/phrases';

/** At 120 BPM and PPQ 480 a tick is 1.0417 ms; 25 frames a second are 38.4 ticks each. */
const voices = builtIn('tide-voices');
const pattern = (key = 60) =>
  song([conductor(), new Track('Voice 1').note(1, 0, 1920, key, 90)], { endTick: 1920 });
const link = { pattern: 'A', repeats: 1, shift: 0, voices: [1] };
const chained = (...links: object[]) => [{ step: 'chain', params: { links } }];

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

const deck = builtIn('frame-deck');
const frames = (shift?: string) => [
  {
    step: 'metadata',
    params: { frameRate: '25', ending: 'rest-at-end', ...(shift ? { frameShift: shift } : {}) },
  },
];
const roll = (...ticks: number[]) => {
  const track = new Track('Roll');
  for (const t of ticks) track.note(3, t, 6, 60, 90);
  return track;
};

testRule(notesInFrames, {
  valid: [
    {
      name: 'a frame each',
      target: deck,
      source: song([conductor(), roll(0, 40)]),
      steps: frames(),
    },
    { name: 'no rate yet', target: deck, source: song([conductor(), roll(0, 8)]) },
  ],
  invalid: [
    {
      name: 'two in one frame',
      code: 'frame-shared',
      target: deck,
      source: song([conductor(), roll(0, 8, 40)]),
      steps: frames(),
      at: [8],
      notes: 1,
    },
    {
      name: 'two of two parts',
      code: 'frame-shared',
      target: deck,
      source: song([conductor(), roll(0), roll(8)]),
      steps: frames(),
      notes: 1,
    },
    {
      name: 'shifted away',
      code: 'before-first-frame',
      target: deck,
      source: song([conductor(), roll(0, 400)]),
      steps: frames('-3'),
      measured: -3,
      notes: 1,
    },
  ],
});

const ladder = builtIn('reed-ladder');
const rung = (channel: number, ...ticks: number[]) => {
  const track = new Track('Chanter');
  for (const t of ticks) track.note(channel, t, 240, 48, 90);
  return track;
};
/** Both rungs of the chanter: beats of the easy one and of the hardest. */
const rungs = (easy: number[], hard: number[]) => {
  const track = new Track('Chanter');
  const all = [
    ...easy.map((b) => ({ b, channel: 11 })),
    ...hard.map((b) => ({ b, channel: 15 })),
  ].sort((x, y) => x.b - y.b);
  for (const { b, channel } of all) track.note(channel, b * 480, 240, 48, 90);
  return song([conductor(), track]);
};

testRule(phraseBreaks, {
  valid: [
    {
      name: 'both rest at the same place',
      target: ladder,
      source: rungs([0, 2, 8, 10], [0, 1, 2, 8, 9, 10]),
    },
    { name: 'one rung alone', target: ladder, source: song([conductor(), rung(11, 0, 4800)]) },
  ],
  invalid: [
    {
      name: 'the easy one rests where the other plays on',
      code: 'phrases-differ',
      severity: 'caution',
      target: ladder,
      source: rungs([0, 2, 8, 10], [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]),
      at: [2 * 480 + 240],
      measured: 1,
    },
  ],
});
