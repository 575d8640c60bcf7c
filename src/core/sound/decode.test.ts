import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeUpTune, renderTune } from '../../../testing/render-tune';
import { decodeSound, soundKindOf } from './decode';
import { factsOf } from './facts';
import { peaksOf, levelFor } from './peaks';
import { writeWave } from './render';
import { framesOf, lengthMs } from './samples';

const file = (name: string) => new Uint8Array(readFileSync(`testing/sounds/${name}`));
const original = renderTune(madeUpTune(5, { bars: 1, bpm: 120 }), { rate: 22_050, lengthMs: 1500 });
const wav = writeWave(original, 16).bytes;

describe('recordings of every kind', () => {
  it.each([
    ['quay.flac', 'flac', 22_050, 0.001],
    ['quay.mp3', 'mp3', 22_050, 30],
    ['quay.ogg', 'vorbis', 22_050, 1],
    ['quay.opus', 'opus', 48_000, 1],
  ] as const)(
    '%s: its length, its rate, where it begins to sound',
    async (name, kind, rate, off) => {
      expect(soundKindOf(file(name))).toBe(kind);
      const { samples, problem } = await decodeSound(file(name));
      expect(problem).toBeUndefined();
      expect(samples!.rate).toBe(rate);
      expect(Math.abs(lengthMs(samples!) - 1500)).toBeLessThanOrEqual(off);
      const [facts, truth] = [factsOf(samples!), factsOf(original)];
      expect(Math.abs(facts.onsets.ms[0]! - truth.onsets.ms[0]!)).toBeLessThan(12);
      expect(facts.peak).toBeGreaterThan(truth.peak * 0.7);
    },
  );
  it('what is no sound, what is broken, what is empty: a sentence each', async () => {
    expect((await decodeSound(Uint8Array.of(1, 2, 3))).problem).toMatch(/no recording/);
    expect((await decodeSound(new Uint8Array(0))).problem).toMatch(/no recording/);
    const torn = file('quay.flac').slice(0, 60);
    expect((await decodeSound(torn)).problem).toMatch(/FLAC file could not be decoded/);
    const empty = writeWave({ rate: 8000, channels: [new Float32Array(0)] }, 16).bytes;
    expect((await decodeSound(empty)).problem).toMatch(/holds no sound/);
    const long = writeWave({ rate: 1000, channels: [new Float32Array(1_800_001)] }, 16).bytes;
    expect((await decodeSound(long)).problem).toMatch(/30 minutes/);
  });
  it('a file that was cut is read as far as it goes, and that is told', async () => {
    const cut = await decodeSound(wav.slice(0, wav.length >> 1));
    expect(Math.abs(lengthMs(cut.samples!) - 750)).toBeLessThan(2);
    expect(cut.problem === undefined && cut.doubts[0]).toMatch(/may be cut/);
    const torn = file('quay.ogg').slice(0, 6000);
    expect(framesOf((await decodeSound(torn)).samples!)).toBeGreaterThan(1000);
  });
  it('ends with samples or a sentence, whatever the bytes are', async () => {
    const kinds = [...['quay.flac', 'quay.mp3', 'quay.ogg', 'quay.opus'].map(file), wav];
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...kinds),
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: 0, max: 255 })), { maxLength: 12 }),
        async (bytes, changes) => {
          const spoilt = bytes.slice();
          for (const [at, to] of changes) spoilt[at % spoilt.length] = to;
          const read = await decodeSound(spoilt);
          expect(read.samples ? framesOf(read.samples) : read.problem.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 30 },
    );
  }, 60_000);
});

it('8 kHz mono and 96 kHz stereo are measured alike', () => {
  const tune = madeUpTune(8, { bars: 2 }).map((n) => ({ ...n, ms: n.ms + 500 }));
  const low = factsOf(renderTune(tune, { rate: 8000 }));
  const high = renderTune(tune, { rate: 96_000 });
  const both = factsOf({ rate: 96_000, channels: [high.channels[0]!, high.channels[0]!] });
  expect([low.channels, both.channels]).toEqual([1, 2]);
  expect(Math.abs(low.firstMs! - both.firstMs!)).toBeLessThan(8);
  expect(Math.abs(low.onsets.ms[0]! - both.onsets.ms[0]!)).toBeLessThan(12);
});

it('peaks hold the lowest and the highest of every bin, at every zoom', () => {
  const peaks = peaksOf(original);
  const [channel] = original.channels;
  for (const { framesPerBin, pairs } of peaks.levels)
    for (let bin = 0; bin < pairs.length / 2; bin += 7) {
      const piece = channel!.subarray(bin * framesPerBin, (bin + 1) * framesPerBin);
      const [low, high] = [Math.min(...piece), Math.max(...piece)];
      expect(Math.abs(pairs[bin * 2]! / 127 - low)).toBeLessThan(1 / 100);
      expect(Math.abs(pairs[bin * 2 + 1]! / 127 - high)).toBeLessThan(1 / 100);
    }
  expect(levelFor(peaks, 0).framesPerBin).toBe(128);
  expect(levelFor(peaks, 1e9)).toBe(peaks.levels.at(-1));
});
