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

describe('files that were damaged, and files that say something wrong', () => {
  const doubtsOf = async (bytes: Uint8Array) => {
    const read = await decodeSound(bytes);
    return { ms: read.samples ? lengthMs(read.samples) : null, said: read.problem ?? read.doubts };
  };
  const mp3 = file('quay.mp3');
  const holed = (bytes: Uint8Array, from: number, to: number) =>
    bytes.slice().fill(0, Math.round(bytes.length * from), Math.round(bytes.length * to));
  const without = (bytes: Uint8Array, from: number, to: number) => {
    const [a, b] = [from, to].map((at) => Math.round(bytes.length * at));
    return new Uint8Array([...bytes.subarray(0, a), ...bytes.subarray(b)]);
  };

  it('a hole in an MP3 is silence, is told where it is, and what follows keeps its time', async () => {
    const whole = factsOf((await decodeSound(mp3)).samples!);
    for (const bytes of [holed(mp3, 0.4, 0.6), without(mp3, 0.4, 0.6)]) {
      const read = await decodeSound(bytes);
      expect(lengthMs(read.samples!)).toBeCloseTo(1500, 0);
      expect(read.samples && read.doubts).toEqual([expect.stringMatching(/^At 0:00\.5\d\d /)]);
      const last = factsOf(read.samples!).onsets.ms.at(-1)!;
      expect(whole.onsets.ms.some((ms) => Math.abs(ms - last) < 15)).toBe(true);
    }
  });
  it('an MP3 whose head promises more than any recording lasts is not believed', async () => {
    const spoilt = file('quay.mp3').slice();
    const head = Buffer.from(spoilt).indexOf('Xing') >= 0 ? 'Xing' : 'Info';
    const at = Buffer.from(spoilt).indexOf(head);
    expect(at).toBeGreaterThan(0);
    spoilt.set([0, 0, 0, 15, 255, 255, 255, 255], at + 4);
    // A hole, which would be as long as what is missing of the promise.
    spoilt.fill(0x55, spoilt.length >> 1, (spoilt.length >> 1) + 300);
    const { samples, problem } = await decodeSound(spoilt);
    expect(problem).toBeUndefined();
    expect(lengthMs(samples!)).toBeLessThan(2000);
  });
  it('an MP3 that is cut tells how long it should be', async () => {
    const { ms, said } = await doubtsOf(mp3.slice(0, Math.round(mp3.length * 0.6)));
    expect(ms).toBeGreaterThan(700);
    expect(said).toEqual([
      expect.stringMatching(/its head tells of 0:01\.567: the end is missing/),
    ]);
  });
  it('Ogg pages and FLAC samples that are missing are told', async () => {
    const opus = await doubtsOf(holed(file('quay.opus'), 0.4, 0.6));
    expect(opus.said).toEqual([expect.stringMatching(/^Something is damaged or missing between/)]);
    const ogg = await doubtsOf(file('quay.ogg').slice(0, 6000));
    expect(ogg.said).toEqual([expect.stringMatching(/without its last page: it may be cut/)]);
    const flac = await doubtsOf(file('quay.flac').slice(0, 25_000));
    expect(flac.said).toEqual([expect.stringMatching(/of 0:01\.500 could be decoded/)]);
  });
  it('no decoder writes anywhere', async () => {
    const said: unknown[] = [];
    const { error, warn } = console;
    console.error = console.warn = (...all: unknown[]) => void said.push(...all);
    try {
      for (const name of ['quay.mp3', 'quay.ogg', 'quay.opus', 'quay.flac'])
        for (const bytes of [holed(file(name), 0.5, 0.55), without(file(name), 0.5, 0.55)])
          await decodeSound(bytes);
    } finally {
      Object.assign(console, { error, warn });
    }
    expect(said).toEqual([]);
  });
  it('the console is its own again, though several are decoded at once', async () => {
    const { error, warn } = console;
    await Promise.all(
      ['quay.mp3', 'quay.ogg', 'quay.opus', 'quay.flac'].map((n) => decodeSound(file(n))),
    );
    expect(console.error).toBe(error);
    expect(console.warn).toBe(warn);
  });

  const withLength = (n: number, behind: number[] = []) => {
    const bytes = new Uint8Array([...wav, ...behind]);
    new DataView(bytes.buffer).setUint32(40, n, true);
    return bytes;
  };
  const chunk = [...'note'].map((c) => c.charCodeAt(0));
  it.each([
    ['0, as a recorder that was stopped leaves it', withLength(0), 1500, /it goes on behind them/],
    ['all ones, as a pipe leaves it', withLength(0xffffffff), 1500, null],
    ['too small', withLength(1000), 1500, /1,000 bytes, but it goes on/],
    [
      'right, with a chunk behind it',
      withLength(wav.length - 44, [...chunk, 2, 0, 0, 0, 1, 2]),
      1500,
      null,
    ],
    ['too large', withLength(1_000_000), 1500, /may be cut/],
  ])('a WAV whose data length is %s', async (_, bytes, ms, told) => {
    const read = await doubtsOf(bytes);
    expect(read.ms).toBeCloseTo(ms, 1);
    expect(read.said).toEqual(told ? [expect.stringMatching(told)] : []);
  });

  it('channels that cancel are heard as well as one alone', () => {
    const channel = original.channels[0]!;
    const both = { rate: original.rate, channels: [channel, channel.map((x) => -x)] };
    const [alone, cancelling] = [factsOf(original), factsOf(both)];
    expect(cancelling.onsets.ms.length).toBe(alone.onsets.ms.length);
    expect(cancelling.onsets.ms[0]).toBeCloseTo(alone.onsets.ms[0]!, 0);
    const sum = (values: Float32Array) => values.reduce((a, b) => a + b, 0);
    expect(sum(cancelling.features.values)).toBeCloseTo(sum(alone.features.values), -1);
  });
});
