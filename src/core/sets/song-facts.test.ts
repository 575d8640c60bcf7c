import { expect, it } from 'vitest';
import { smf, Track } from '../../../demo/song';
import { sha } from '../../../testing/card';
import { builtIn, sourceFromBytes } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { knowSong } from './hand-over-song';

type Strike = readonly [tick: number, key: number];
const LOW: readonly Strike[] = [
  [0, 40],
  [480, 43],
  [960, 47],
];
const HIGH: readonly Strike[] = [
  [240, 72],
  [1200, 76],
];

const factsOf = (parts: readonly (readonly Strike[])[], bpm = 100) => {
  const tracks = parts.map((strikes, i) => {
    const track = new Track(`Part ${i}`);
    for (const [tick, key] of strikes) track.note(i + 1, tick, 120, key, 90);
    return track;
  });
  const bytes = smf(1, 480, [new Track('Quay').tempo(0, bpm).meter(0, 4, 4), ...tracks]);
  return knowSong({
    title: 'Quay',
    base: baseOf(sourceFromBytes(bytes)),
    target: builtIn('parlour-keyboard'),
    plan: { steps: [] },
    leftAsIs: [],
    sha256: sha,
  });
};

it('songs are note for note the same where each strike is at its time on its key, whoever plays', async () => {
  const { music, notes, microsecondsPerQuarter } = await factsOf([LOW, HIGH]);
  expect(notes).toBe(5);
  expect(microsecondsPerQuarter).toBe(600_000);
  for (const same of [[HIGH, LOW], [[...LOW, ...HIGH]], [LOW, HIGH.slice(0, 1), HIGH.slice(1)]])
    expect((await factsOf(same)).music).toBe(music);
  const others = [
    await factsOf([LOW, HIGH], 101),
    await factsOf([LOW, HIGH.slice(1)]),
    await factsOf([LOW, [...HIGH, [1200, 79]]]),
    ...(await Promise.all(
      LOW.map((_, n) => factsOf([LOW.map(([t, k], i) => [t, i === n ? k + 1 : k] as const), HIGH])),
    )),
  ];
  expect(new Set([music, ...others.map((o) => o.music)]).size).toBe(1 + others.length);
});
