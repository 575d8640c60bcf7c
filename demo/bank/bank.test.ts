import FFT from 'fft.js';
import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import { beforeAll, describe, expect, it } from 'vitest';
import { makeBank } from './make-bank';
import { DRUMS, renderDrum } from './drums';
import { RATE, renderVoice } from './render-voice';
import { VOICES } from './voices';

/** In the middle of all bands. */
const APART_DB = 2;
let bytes: ArrayBuffer;
beforeAll(async () => {
  bytes = await makeBank();
}, 30_000);

const SIZE = 2048;
const BANDS = 24;
/** Loudness in bands of pitch at three places, in decibels under the loudest: the print of a sound. */
function printOf(audio: Float32Array): number[] {
  const fft = new FFT(SIZE);
  const spectrum = fft.createComplexArray();
  const out: number[] = [];
  for (const share of [0, 0.3, 0.75]) {
    const from = Math.floor(Math.max(0, audio.length - SIZE) * share);
    const part = Array.from({ length: SIZE }, (_, i) => {
      const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE);
      return (audio[from + i] ?? 0) * window;
    });
    fft.realTransform(spectrum, part);
    const bands = new Array<number>(BANDS).fill(1e-4);
    for (let k = 2; k < SIZE / 2; k++) {
      const band = Math.floor((Math.log2(k) / Math.log2(SIZE / 2)) * BANDS);
      bands[Math.min(BANDS - 1, band)]! += Math.hypot(spectrum[2 * k]!, spectrum[2 * k + 1]!);
    }
    out.push(...bands.map((v) => Math.max(-30, 20 * Math.log10(v))));
  }
  return out;
}
const apart = (a: readonly number[], b: readonly number[]) =>
  Math.sqrt(a.reduce((s, v, i) => s + (v - b[i]!) ** 2, 0) / a.length);

describe('the built-in sounds', () => {
  it('has 128 programs and a kit, in at most 2.5 MB, the same each time', async () => {
    expect(bytes.byteLength).toBeLessThanOrEqual(2_500_000);
    const bank = SoundBankLoader.fromArrayBuffer(bytes.slice(0));
    const programs = bank.presets.filter((p) => !p.isGMGSDrum).map((p) => p.program);
    expect(new Set(programs).size).toBe(128);
    expect(bank.presets.some((p) => p.isGMGSDrum)).toBe(true);
    expect(Buffer.from(await makeBank()).equals(Buffer.from(bytes))).toBe(true);
  });
  it('no two programs are one: each is told from every other', async () => {
    const synth = new SpessaSynthProcessor(RATE, { effectsEnabled: false, eventsEnabled: false });
    await synth.processorInitialized;
    synth.soundBankManager.addSoundBank(SoundBankLoader.fromArrayBuffer(bytes.slice(0)), 'main');
    const prints = VOICES.map((_, program) => {
      synth.stopAllChannels(true);
      synth.programChange(0, program);
      synth.noteOn(0, 60, 100);
      const length = Math.floor((0.5 * RATE) / 128) * 128;
      const audio = new Float32Array(length);
      const right = new Float32Array(128);
      for (let at = 0; at < length; at += 128) {
        const left = audio.subarray(at, at + 128);
        synth.process(left, right.fill(0), 0, 128);
      }
      return printOf(audio);
    });
    prints.forEach((p, i) => {
      expect(Math.max(...p), `program ${i} is heard`).toBeGreaterThan(0);
      prints
        .slice(i + 1)
        .forEach((q, k) =>
          expect(apart(p, q), `programs ${i} and ${i + 1 + k}`).toBeGreaterThan(APART_DB),
        );
    });
  }, 60_000);
  it('every loop closes without a click; nothing clips', () => {
    VOICES.forEach((voice, program) => {
      const { audio, loopStart, loopEnd } = renderVoice(voice, program + 1);
      let steepest = 0;
      for (let i = loopStart + 1; i < loopEnd; i++)
        steepest = Math.max(steepest, Math.abs(audio[i]! - audio[i - 1]!));
      const seam = Math.abs(audio[loopStart]! - audio[loopEnd - 1]!);
      expect(seam, `program ${program}`).toBeLessThanOrEqual(steepest * 1.2 + 0.01);
      expect(audio.every((v) => Math.abs(v) <= 1)).toBe(true);
    });
  });
  it('every drum from 35 to 81 has a sound of its own, and ends', () => {
    expect(DRUMS.map((d) => d.key)).toEqual(Array.from({ length: 47 }, (_, i) => 35 + i));
    const prints = DRUMS.map((d) => printOf(renderDrum(d)));
    prints.forEach((p, i) =>
      prints
        .slice(i + 1)
        .forEach((q, k) =>
          expect(apart(p, q), `keys ${35 + i} and ${36 + i + k}`).toBeGreaterThan(APART_DB),
        ),
    );
    for (const d of DRUMS) expect(Math.abs(renderDrum(d).at(-1)!)).toBeLessThan(0.02);
  });
});
