import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import { describe, expect, it } from 'vitest';
import { makeBank } from '../../../demo/bank/make-bank';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { toSchedule } from '../../core/wire/to-view';
import { sounderFor } from '../../core/sound/sounder';
import { Transport } from '../../core/sound/transport';

const RATE = 44_100;
let bank: Promise<ArrayBuffer> | null = null;
/** Made once: it is the same each time. */
const sounds = async () => (await (bank ??= makeBank())).slice(0);
const BLOCK = 128;

/** Renders as the worklet does, block by block, and returns the left channel. */
async function render(track: Track, seconds: number, setUp: (t: Transport) => void = () => {}) {
  const synth = new SpessaSynthProcessor(RATE, { effectsEnabled: false, eventsEnabled: false });
  await synth.processorInitialized;
  synth.soundBankManager.addSoundBank(SoundBankLoader.fromArrayBuffer(await sounds()), 'main');
  const transport = new Transport(sounderFor(synth));
  const source = song([conductor(120), track]);
  const piece = renditionOf(source, targetWith({ seats: [] })).pieces[0]!;
  transport.load(toSchedule(piece, { leftOutToo: false }), 0);
  setUp(transport);
  transport.play(0);
  const out = new Float32Array(Math.floor((seconds * RATE) / BLOCK) * BLOCK);
  const right = new Float32Array(BLOCK);
  for (let at = 0; at < out.length; at += BLOCK) {
    transport.advance((BLOCK / RATE) * 1000);
    const left = new Float32Array(BLOCK);
    right.fill(0);
    synth.process(left, right, 0, BLOCK);
    out.set(left, at);
  }
  return out;
}

const loudest = (audio: Float32Array, from: number, to: number) =>
  audio.subarray(from * RATE, to * RATE).reduce((most, v) => Math.max(most, Math.abs(v)), 0);

/** Seconds at which the first sample is louder than a whisper. */
const onset = (audio: Float32Array) => audio.findIndex((v) => Math.abs(v) > 0.002) / RATE;

/** The strongest frequency of a stretch, by counting rising zero crossings. */
function pitch(audio: Float32Array, from: number, to: number): number {
  const part = audio.subarray(from * RATE, to * RATE);
  let crossings = 0;
  for (let i = 1; i < part.length; i++) if (part[i - 1]! < 0 && part[i]! >= 0) crossings++;
  return crossings / (to - from);
}

describe('what is heard', () => {
  const late = () => new Track('Late').program(0, 1, 73).note(1, 480, 480, 69, 100);

  it('begins within 20 ms of its place in the score', async () => {
    const audio = await render(late(), 1.2);
    expect(Math.abs(onset(audio) - 0.5)).toBeLessThan(0.02);
  });

  it('A4 is 440 Hz; at half speed it comes later and keeps its pitch', async () => {
    expect(pitch(await render(late(), 1.2), 0.6, 0.9)).toBeCloseTo(440, -1);
    const slow = await render(late(), 2.2, (t) => t.speed(0.5));
    expect(Math.abs(onset(slow) - 1)).toBeLessThan(0.02);
    expect(pitch(slow, 1.2, 1.8)).toBeCloseTo(440, -1);
  });

  it('programs of other families sound otherwise, drums on channel 10 too', async () => {
    const of = async (program: number, channel: number) =>
      render(new Track('x').program(0, channel, program).note(channel, 0, 480, 60, 100), 0.4);
    const [strings, organ, drum] = [await of(0, 1), await of(16, 1), await of(0, 10)];
    for (const audio of [strings, organ, drum])
      expect(loudest(audio, 0, 0.4)).toBeGreaterThan(0.01);
    const apart = (a: Float32Array, b: Float32Array) =>
      a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) /
      a.reduce((s, v) => s + Math.abs(v), 0);
    expect(apart(strings, organ)).toBeGreaterThan(0.3);
    expect(apart(strings, drum)).toBeGreaterThan(0.3);
  });

  it('a muted part is silent', async () => {
    const audio = await render(late(), 1, (t) => t.mute(Uint8Array.of(1)));
    expect(loudest(audio, 0, 1)).toBeLessThan(0.0005);
  });
});
