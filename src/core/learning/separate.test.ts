import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { parseTarget } from '../target/parse';
import { observe } from './observe';
import { settle, settledPaths } from '../target/settle';
import { roundBetween } from './round';
import type { Trial } from './reasons';
import { separate } from './separate';

interface Song {
  bpm?: number;
  second?: number;
  channel?: number;
  keys?: number[];
  start?: number;
  length?: number;
  gap?: number;
  velocity?: number;
  chord?: number;
  ppq?: number;
  format?: 0 | 1;
  extra?: (t: Track) => Track;
  meter?: [number, number];
}
function trial(name: string, taken: boolean, s: Song = {}): Trial {
  const {
    bpm = 120,
    channel = 1,
    keys = [60, 62, 64, 65, 67],
    start = 1920,
    length = 200,
    gap = 240,
  } = s;
  const track = new Track('Line');
  keys.forEach((key, i) => {
    for (let c = 0; c < (s.chord ?? 1); c++)
      track.note(channel, start + i * gap, length, key + c * 3, s.velocity ?? 80 + i);
  });
  const head = conductor(bpm, ...(s.meter ?? ([4, 4] as const)));
  if (s.second) head.tempo(start + 480, s.second);
  const source = song([head, s.extra ? s.extra(track) : track], {
    name,
    endTick: 1920 * 4,
    ...(s.ppq ? { ppq: s.ppq } : {}),
    ...(s.format === undefined ? {} : { format: s.format }),
  });
  return { name, taken, observed: observe(source) };
}
const first = (trials: Trial[], n = 3) =>
  separate(trials)
    .proposals.slice(0, n)
    .map((p) => p.claim);

describe('what was taken and what was refused', () => {
  const good = [
    trial('one', true, { bpm: 97, start: 1920, keys: [48, 60, 72, 64] }),
    trial('two', true, { bpm: 140, start: 2400, keys: [50, 55, 71], gap: 480, chord: 2 }),
    trial('three', true, { bpm: 118, start: 3840, keys: [52, 60, 67, 60], length: 100 }),
  ];
  it.each<[string, Song, string]>([
    ['begins too early', { start: 480 }, 'first-ms'],
    ['a tempo too fast', { bpm: 190 }, 'fastest-bpm'],
    ['two tempos', { second: 130 }, 'tempos'],
    ['another channel', { channel: 10 }, 'channels'],
    ['a note too low', { keys: [36, 60, 64, 62] }, 'lowest'],
    ['a note too high', { keys: [60, 90, 64, 62] }, 'highest'],
    ['three at once', { chord: 3, keys: [50, 55] }, 'together'],
    ['controllers', { extra: (t) => t.control(1920, 1, 7, 90) }, 'controllers'],
    ['a program change', { extra: (t) => t.program(1920, 1, 5) }, 'programs'],
    ['another PPQ', { ppq: 960, start: 3840, gap: 480, length: 400 }, 'ppq'],
    ['too short a note', { length: 9 }, 'shortest-ms'],
  ])('%s: the reason is among the first three', (_, odd, feature) => {
    const plain = { start: 2200, keys: [60, 62, 64, 65], bpm: 110, length: 150 };
    const trials = [
      ...good,
      trial('odd', false, { ...plain, ...odd }),
      trial('plain', true, plain),
    ];
    expect(first(trials)).toContain(feature);
  });

  it('a proposal says how many break it, the nearest of both, a round number, and sets the target', () => {
    const trials = [
      ...good,
      trial('early', false, { start: 0 }),
      trial('earlier', false, { start: 960 }),
    ];
    // A bar of rest and two seconds say the same of these files: both stand first.
    const best = separate(trials)
      .proposals.slice(0, 2)
      .find((p) => p.claim === 'first-ms');
    expect(best).toMatchObject({ of: 2, bound: 2000 });
    expect(best!.says).toContain('2 of 2 refused have the first note below 2,000 ms');
    expect(best!.nearest).toEqual({ taken: 'two', refused: 'earlier' });
    const given = settle({ ...targetWith({}) }, best!.sets);
    expect(parseTarget(given).target?.start).toEqual({ leadInMs: 2000 });
  });

  it('a list that every further file adds to says little, though all refused go beyond it', () => {
    // As songs do: many keys each, and some that no other has.
    const keys = (n: number) => [
      40,
      43,
      47,
      50,
      53,
      57,
      60,
      62,
      65,
      69,
      72,
      41 + n,
      55 + n,
      75 - n,
    ];
    const taken = Array.from({ length: 6 }, (_, n) =>
      trial(`t${n}`, true, { keys: keys(n), bpm: 96 + n * 7, start: 1920 + n * 480 }),
    );
    const refused = Array.from({ length: 5 }, (_, n) =>
      trial(`r${n}`, false, { keys: [...keys(n).slice(2), 46, 64], bpm: 100.5 + n, start: 2880 }),
    );
    const [best, ...others] = separate([...taken, ...refused]).proposals.map((p) => p.claim);
    expect(best).toBe('odd-bpm');
    expect(others).toContain('only-keys');
  });

  it('two files that differ in one thing are the best evidence', () => {
    const same = { keys: [60, 62, 64, 65], bpm: 100 };
    const trials = [
      ...good,
      trial('with', false, { ...same, extra: (t) => t.control(1920, 1, 64, 127) }),
      trial('without', true, same),
    ];
    const [best] = separate(trials).proposals;
    expect(best).toMatchObject({
      claim: 'controllers',
      twins: { taken: 'without', refused: 'with' },
    });
  });

  it('a pair that differs in its PPQ alone is one, though every tick of it is another', () => {
    const plain = { keys: [60, 62, 64, 65], bpm: 100 };
    const [best] = separate([
      ...good,
      trial('fine', false, { ...plain, ppq: 960, start: 3840, gap: 480, length: 400 }),
      trial('coarse', true, plain),
    ]).proposals;
    expect(best).toMatchObject({ claim: 'ppq', twins: { taken: 'coarse', refused: 'fine' } });
  });

  it('two songs are no pair, however much else they have alike; one that was thinned is', () => {
    const walk = [60, 62, 64, 65, 67, 69, 71, 72];
    const thick = trial('thick', false, { keys: walk, chord: 3 });
    const other = separate([trial('other', true, { keys: [50, 48, 45, 43, 41] }), thick]);
    expect(other.proposals.find((p) => p.claim === 'together')).toMatchObject({ twins: null });
    const same = separate([trial('same', true, { keys: walk, chord: 2 }), thick]);
    expect(same.proposals.find((p) => p.claim === 'together')).toMatchObject({
      twins: { taken: 'same', refused: 'thick' },
    });
  });

  it('what all taken have and a refused one lacks: a channel, a marker, a list of controllers', () => {
    const kit = (t: Track) => t.note(10, 1920, 60, 36, 90).marker(3840, 'Ebb');
    const trials = [
      trial('a', true, { extra: kit }),
      trial('b', true, { extra: kit, bpm: 90 }),
      trial('c', false, { extra: (t) => t.marker(1920, 'Ebb').marker(3840, 'Ebb') }),
    ];
    const { proposals } = separate(trials);
    expect(proposals.find((p) => p.claim === 'must-have')).toMatchObject({
      bound: [10],
      says: '1 of 1 refused lacks notes on channel 10; all 2 taken have that',
    });
    const marker = proposals.find((p) => p.claim === 'one-marker')!;
    expect(marker.says).toContain('no single marker “Ebb”');
    expect(parseTarget(settle({ ...targetWith({}) }, marker.sets)).target?.end).toEqual({
      loopMarker: 'Ebb',
    });
  });

  it('several reasons: behind the first stands what explains the files that it leaves', () => {
    const odd = { start: 2200, keys: [60, 62, 64, 65], bpm: 110, length: 150 };
    const trials = [
      ...good,
      trial('plain', true, odd),
      trial('early', false, { ...odd, start: 0 }),
      trial('earlier', false, { ...odd, start: 200 }),
      trial('steered', false, { ...odd, extra: (t) => t.control(2400, 1, 7, 90) }),
    ];
    const both = separate(trials).proposals.slice(0, 2);
    const says = (claim: RegExp) => both.find((p) => claim.test(p.claim))?.broken;
    expect(says(/^first-(ms|bar)$/)).toEqual(['early', 'earlier']);
    expect(says(/^controllers$/)).toEqual(['steered']);
  });

  it('a scale is told from whatever keys were met: files of white keys, each of others', () => {
    const white = [60, 62, 64, 65, 67, 69, 71];
    const octaves = (from: number, keys: number[]) => keys.map((k) => k + from * 12);
    const trials = [
      trial('a', true, { keys: [...octaves(0, white.slice(0, 4)), 84, 86] }),
      trial('b', true, { keys: [...octaves(-1, white.slice(3)), 74, 89], bpm: 97 }),
      trial('c', true, { keys: [...octaves(1, white.slice(2, 6)), 45, 91], bpm: 131 }),
      trial('d', true, { keys: [...octaves(-2, white.slice(1, 5)), 59, 53], start: 2400 }),
      trial('e', false, { keys: [60, 61, 64, 65] }),
      trial('f', false, { keys: [57, 66, 60, 62], bpm: 110 }),
    ];
    const [best] = separate(trials).proposals;
    expect(best!.claim).toBe('only-keys');
    // A white key that no file had is of it too.
    const keys = best!.bound as number[];
    expect(keys).toContain(47);
    expect(keys.every((k) => white.some((w) => (w - k) % 12 === 0))).toBe(true);
  });

  it('settings stand beside each other: limits grow, and what is needed gives way to what is said', () => {
    const limit = { measure: 'run', over: 'note', most: 4, title: 'Repeats', why: 'Seen' };
    const data = settle({ polyphony: { together: 2, over: 'all' } }, [
      { path: 'polyphony.together', orElse: 128 },
      { path: 'polyphony.spanSemitones', value: 12 },
      { path: 'limits', adds: limit },
      { path: 'limits', adds: { ...limit, most: 3 } },
      { path: 'limits', adds: limit },
    ]);
    expect(data).toEqual({
      polyphony: { together: 2, over: 'all', spanSemitones: 12 },
      limits: [limit, { ...limit, most: 3 }],
    });
    const told = [{ path: 'limits', adds: { ...limit, most: 3 } }];
    expect(settledPaths(data, told)).toContain('limits[1].most');
    expect(settledPaths(data, [{ path: 'polyphony.spanSemitones', value: 12 }])).toEqual([
      'polyphony.spanSemitones',
    ]);
  });

  it('what no target can say is not proposed; what one file alone has is no list', () => {
    const fast = { bpm: 2000, keys: [60, 62, 64, 65] };
    const { proposals } = separate([
      trial('two thousand', true, fast),
      trial('fifteen hundred', false, { ...fast, bpm: 1500 }),
    ]);
    expect(proposals.map((p) => p.claim)).not.toContain('slowest-bpm');
    expect(proposals.map((p) => p.claim)).not.toContain('only-bpm');
    const other = separate([trial('four', true, {}), trial('three', false, { meter: [3, 4] })]);
    expect(other.proposals.find((p) => p.claim === 'meters')?.says).toBe(
      '1 of 1 refused has other meters than 4/4, as the one taken has',
    );
  });

  it('where nothing separates it says so, and what to try', () => {
    const { proposals, unexplained, advice } = separate([
      ...good,
      { ...good[0]!, name: 'same', taken: false },
    ]);
    expect(proposals).toEqual([]);
    expect(unexplained).toEqual(['same']);
    expect(advice).toContain('change one thing');
    expect(separate(good.map((g) => ({ ...g, taken: false }))).advice).toContain(
      'was taken is needed',
    );
  });

  it('every proposal gives a target that is valid', () => {
    const odd: Song[] = [
      { start: 0 },
      { bpm: 300 },
      { bpm: 40 },
      { second: 77 },
      { channel: 4 },
      { keys: [1, 126] },
      { chord: 9 },
      { length: 1 },
      { length: 3000 },
      { velocity: 127 },
      { meter: [3, 4] },
      { ppq: 97 },
      { format: 0 },
      { extra: (t) => t.control(0, 1, 7, 1).program(0, 1, 3).marker(0, 'x') },
      { keys: Array.from({ length: 30 }, () => 60), gap: 60, length: 30 },
    ];
    const trials = [...good, ...odd.map((o, i) => trial(`odd ${i}`, false, o))];
    const { proposals } = separate(trials);
    expect(proposals.length).toBeGreaterThan(12);
    for (const p of proposals)
      expect(parseTarget(settle({ ...targetWith({}) }, p.sets)).problems, p.claim).toEqual([]);
  });

  it('a limit is a number that people would choose', () => {
    expect(roundBetween(1200, 1487)).toBe(1250);
    expect(roundBetween(900, 1600)).toBe(1000);
    expect(roundBetween(181, 178.3)).toBe(180);
    expect(roundBetween(3, 2)).toBe(2);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 9999, noNaN: true }),
        fc.double({ min: 0.01, max: 500, noNaN: true }),
        (a, d) => {
          const least = roundBetween(a, a + d);
          expect(least).toBeGreaterThan(a - 1e-9);
          expect(least).toBeLessThanOrEqual(a + d + 1e-9);
        },
      ),
    );
  });
});
