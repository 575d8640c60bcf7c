import { describe, expect, it } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { mapsOf } from '../score/inventory';
import type { Rendition } from '../score/piece';
import { endOf, layoutOf } from '../sound/edits';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import { deliver } from '../../../testing/rehearsing';
import { decodeWave } from '../sound/decode-wave';
import { writeWave } from '../sound/render';
import { findTarget } from '../target/index';
import { writeOutputs } from '../outputs/index';

/** Two bars of 4/4 at 120 BPM, PPQ 480. */
const notes = new Track('Line').note(1, 0, 480, 60, 90).note(1, 1920, 480, 62, 90);
const two = song([conductor(), notes], { endTick: 3840 });
const soundOf = (r: Rendition) => r.pieces[0]!.sound ?? [];
const lengthMs = (r: Rendition, recordingMs = 5000) =>
  endOf(layoutOf(soundOf(r), recordingMs * 1000)) / 1000;
const startMs = (r: Rendition, note = 0) => {
  const [piece] = r.pieces;
  const part = piece!.score.parts.find((p) => p.notes.count > 0)!;
  return mapsOf(piece!.score).clock.msAt(part.notes.start[note]!);
};

testStep('sound-later', [
  {
    name: 'silence before it; the score stays',
    source: two,
    params: { ms: 1500 },
    expect: (after, before) => {
      expect(lengthMs(after)).toBe(6500);
      expect(startMs(after)).toBe(startMs(before));
    },
  },
  {
    name: 'its beginning cut off',
    source: two,
    params: { ms: -400 },
    expect: (after) => expect(lengthMs(after)).toBe(4600),
  },
]);
testStep('sound-gap', [
  {
    name: 'opens it',
    source: two,
    params: { atMs: 2000, ms: 250 },
    expect: (after) => expect(lengthMs(after)).toBe(5250),
  },
]);
testStep('sound-cut', [
  {
    name: 'closes it',
    source: two,
    params: { fromMs: 2000, toMs: 2750 },
    expect: (after) => expect(lengthMs(after)).toBe(4250),
  },
  { name: 'backwards', source: two, params: { fromMs: 3, toMs: 2 }, refused: /behind its start/ },
]);
testStep('sound-silence', [
  {
    name: 'keeps its length',
    source: two,
    params: { fromMs: 2000, toMs: 2750 },
    expect: (after) => expect(lengthMs(after)).toBe(5000),
  },
  { name: 'backwards', source: two, params: { fromMs: 3, toMs: 2 }, refused: /behind its start/ },
]);
testStep('sound-level', [
  {
    name: 'softer, with fades',
    source: two,
    params: { db: -6, fadeInMs: 20, fadeOutMs: 1500 },
    expect: (after) => expect(soundOf(after)).toHaveLength(2),
  },
  {
    name: 'nothing',
    source: two,
    params: {},
    expect: (after, before) => expect(after.pieces[0]).toBe(before.pieces[0]),
  },
]);
testStep('sound-end', [
  {
    name: 'as long as the score, exactly',
    source: two,
    params: {},
    expect: (after) => expect(lengthMs(after)).toBe(4000),
  },
  {
    name: 'as long as is said',
    source: two,
    params: { ms: 7000 },
    expect: (after) => expect(lengthMs(after)).toBe(7000),
  },
  {
    name: 'a score that has none',
    source: song([conductor()], { endTick: 0 }),
    params: {},
    refused: /no length/,
  },
]);

it.each([
  ['rest-at-start', { bars: 2 }, 4000],
  ['shift', { ms: 750 }, 750],
] as const)('%s moves the sound by as much where it is said', (step, params, ms) => {
  const run = (soundToo: boolean) =>
    deliver(two, findTarget('fog-pier')!, {
      steps: [{ step, params: { ...params, soundToo }, scope: {}, on: true, key: 'a' }],
    }).rendition;
  expect(startMs(run(true))).toBe(ms);
  expect(lengthMs(run(true))).toBe(5000 + ms);
  expect(lengthMs(run(false))).toBe(5000);
});
it('trimming a rest trims the sound too', () => {
  const steps = [
    { step: 'rest-at-start', params: { bars: 2, soundToo: true } },
    { step: 'trim-start', params: { bars: 2, soundToo: true } },
  ].map((s, i) => ({ ...s, scope: {}, on: true, key: String(i) }));
  const { rendition } = deliver(two, findTarget('fog-pier')!, { steps });
  expect(layoutOf(soundOf(rendition), 5_000_000)).toEqual(layoutOf([], 5_000_000));
});
it('what the plan does to the sound is in the WAV that is delivered', () => {
  const target = findTarget('fog-pier')!;
  const steps = [{ step: 'sound-later', params: { ms: 500 }, scope: {}, on: true, key: 'a' }];
  const { rendition } = deliver(two, target, { steps });
  const samples = { rate: 8000, channels: [new Float32Array(8000).fill(0.25)] };
  const sound = { name: 'quay.mp3', bytes: writeWave(samples, 16).bytes, lengthUs: 1_000_000 };
  const wav = writeOutputs(rendition, target, sound).files.find((f) => f.writer === 'sound')!;
  expect(wav.path).toBe('quay.wav');
  const [heard] = decodeWave(wav.bytes).samples!.channels;
  expect(heard!.length).toBe(12_000);
  expect(heard!.subarray(0, 4000).every((s) => s === 0)).toBe(true);
  expect(heard![4000]).toBe(0.25);
});

const anchors = [
  { tick: 0, us: 1_000_000 },
  { tick: 1920, us: 3_200_000 },
  { tick: 3840, us: 5_000_000 },
];
testStep('fit-tempo', [
  {
    name: 'notes stay in their bars and come where the recording has them',
    source: two,
    params: { anchors },
    expect: (after) => {
      expect(startMs(after, 0)).toBe(0);
      expect(startMs(after, 1)).toBeCloseTo(2200, 0);
      const { clock } = mapsOf(after.pieces[0]!.score);
      expect(clock.msAt(3840)).toBeCloseTo(4000, 0);
      // Behind the last anchor it goes on as it was.
      expect(clock.tempoAt(4000)).toBe(500_000);
    },
  },
  {
    name: 'one that does not count is passed over',
    source: two,
    params: { anchors: [anchors[0], { ...anchors[1], out: true }, anchors[2]], smooth: true },
    expect: (after) => expect(startMs(after, 1)).toBeCloseTo(2000, 0),
  },
  {
    name: 'one is not enough',
    source: two,
    params: { anchors: anchors.slice(1, 2) },
    refused: /two anchors/,
  },
  {
    name: 'two that cross',
    source: two,
    params: { anchors: [anchors[0], { tick: 1920, us: 900_000 }] },
    refused: /cross/,
  },
]);
it('anchors go with the score when a rest is put before it', () => {
  const steps = [
    { step: 'rest-at-start', params: { bars: 1 } },
    { step: 'fit-tempo', params: { anchors } },
  ].map((s, i) => ({ ...s, scope: {}, on: true, key: String(i) }));
  const { rendition } = deliver(two, findTarget('fog-pier')!, { steps });
  expect(startMs(rendition, 1) - startMs(rendition, 0)).toBeCloseTo(2200, 0);
});

/** Eight bars at 120 BPM, 2 s each, a note in every one. */
const eight = song([
  conductor(120),
  Array.from({ length: 8 }).reduce<Track>(
    (t, _, i) => t.note(1, i * 1920, 480, 60 + i, 90),
    new Track('A'),
  ),
]);
const followed = (...steps: [string, object][]) => {
  const list = [...steps, ['sound-follow', {}] as const].map(([step, params], i) => ({
    ...{ step, params, scope: {}, on: true, key: String(i) },
  }));
  const { rendition } = deliver(eight, findTarget('fog-pier')!, { steps: list });
  return layoutOf(soundOf(rendition), 20_000_000);
};
const heardAt = (layout: ReturnType<typeof layoutOf>) =>
  layout.map((s) => [s.from / 1e6, s.to / 1e6, s.source === null ? null : s.source / 1e6]);
describe('the sound follows the score', () => {
  it('a rest at the start is a silence before it', () => {
    expect(heardAt(followed(['rest-at-start', { bars: 2 }]))).toEqual([
      [0, 4, null],
      [4, 24, 0],
    ]);
  });
  it('of bars that are kept alone just theirs are heard, up to the end', () => {
    expect(heardAt(followed(['keep-bars', { fromBar: 3, bars: 4 }]))).toEqual([[0, 8, 4]]);
  });
  it('bars cut at the start and a rest put there: both', () => {
    expect(
      heardAt(followed(['keep-bars', { fromBar: 3, bars: 6 }], ['rest-at-start', { bars: 1 }])),
    ).toEqual([
      [0, 2, null],
      [2, 18, 4],
    ]);
  });
  it('one tempo that holds the clock moves nothing', () => {
    expect(
      heardAt(followed(['one-tempo-holding-clock', { microsecondsPerQuarter: 400_000 }])),
    ).toEqual([[0, 20, 0]]);
  });
});
testStep('sound-follow', [
  {
    name: 'where nothing moved it stays',
    source: two,
    params: {},
    expect: (after, before) => expect(after.pieces[0]).toBe(before.pieces[0]),
  },
]);
it('a sound that was taken along, or a tempo that became another, is said and changes nothing', () => {
  const outcome = (...steps: [string, object][]) =>
    runPlan({
      base: baseOf(eight),
      target: findTarget('fog-pier')!,
      plan: {
        steps: [...steps, ['sound-follow', {}] as const].map(([step, params], i) => ({
          ...{ step, params, scope: {}, on: true, key: String(i) },
        })),
      },
    }).outcomes.at(-1)!.refused;
  expect(outcome(['rest-at-start', { bars: 2, soundToo: true }])).toMatch(/took the sound along/);
  expect(outcome(['scale-tempo', { percent: 80 }])).toMatch(/From 0:00.000 on the tempo/);
});
