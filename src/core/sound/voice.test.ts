import { describe, expect, it } from 'vitest';
import type { Schedule } from '../wire/view';
import { layoutOf } from './edits';
import { Transport, type Sounder } from './transport';
import { RecordingVoice } from './voice';

const RATE = 48_000;
const BLOCK = 128;
const CLICKS = Array.from({ length: 20 }, (_, i) => 250 + i * 613);

/** Notes at the clicks, and a recording with one sample of 1 at each. */
const schedule: Schedule = {
  count: CLICKS.length,
  ms: Float64Array.from(CLICKS),
  status: new Uint8Array(CLICKS.length).fill(0x90),
  data1: new Uint8Array(CLICKS.length).fill(60),
  data2: new Uint8Array(CLICKS.length).fill(90),
  part: new Uint32Array(CLICKS.length),
  endMs: 13_000,
};
const recording = (rate: number) => {
  const clicks = new Float32Array(13 * rate);
  for (const ms of CLICKS) clicks[Math.round((ms * rate) / 1000)] = 1;
  return { rate, channels: [clicks] };
};

/** Plays both as the worklet does, block by block; when notes were struck and clicks sounded. */
function play(ratio: number, rate = RATE, loop?: { from: number; to: number }) {
  const struck: number[] = [];
  const heard: number[] = [];
  let now = 0;
  const nothing = () => undefined;
  const sounder: Sounder = {
    noteOn: () => void struck.push(now),
    noteOff: nothing,
    control: nothing,
    program: nothing,
    bend: nothing,
    pressure: nothing,
    keyPressure: nothing,
    reset: nothing,
    silence: nothing,
  };
  const transport = new Transport(sounder);
  const voice = new RecordingVoice();
  voice.load(recording(rate), layoutOf([], 13_000_000));
  transport.load(schedule, 0);
  transport.speed(ratio);
  if (loop) transport.setLoop(loop.from, loop.to);
  transport.play(0);
  const blockMs = (BLOCK / RATE) * 1000;
  const total = loop ? 20_000 : 13_000 / ratio;
  for (; now < total; now += blockMs) {
    const out = new Float32Array(BLOCK);
    voice.add([out], transport.positionMs, (1000 / RATE) * ratio);
    out.forEach((s, i) => {
      if (s > 0.4) heard.push(now + (i / RATE) * 1000);
    });
    transport.advance(blockMs);
  }
  // A click that fell between two samples sounded in both.
  return { struck, heard: heard.filter((t, i) => i === 0 || t - heard[i - 1]! > 5) };
}

describe('a recording beside its score', () => {
  it.each([0.25, 0.5, 1, 1.37, 2])('is within 20 ms of it at %f of the speed', (ratio) => {
    // At twice the speed every other sample is stepped over: a lower rate has none to miss.
    const { struck, heard } = play(ratio, 8000);
    expect(struck).toHaveLength(CLICKS.length);
    expect(heard).toHaveLength(CLICKS.length);
    struck.forEach((t, i) => expect(Math.abs(t - heard[i]!)).toBeLessThan(4));
  });
  it('and stays so round and round a loop', () => {
    const { struck, heard } = play(1, 8000, { from: 1000, to: 3000 });
    expect(struck.length).toBeGreaterThan(25);
    expect(heard).toHaveLength(struck.length);
    struck.forEach((t, i) => expect(Math.abs(t - heard[i]!)).toBeLessThan(20));
  });
  it('sounds what its edits left: silence put in, a stretch cut out, a level', () => {
    const voice = new RecordingVoice();
    const ones = {
      rate: 1000,
      channels: [Float32Array.from({ length: 1000 }, (_, i) => i / 1000)],
    };
    const edits = [
      { is: 'insert', atUs: 0, us: 100_000 },
      { is: 'cut', fromUs: 300_000, toUs: 600_000 },
      { is: 'gain', db: -6.020599913279624 },
    ] as const;
    voice.load(ones, layoutOf(edits, 1_000_000));
    expect(voice.lengthMs).toBe(800);
    const out = [new Float32Array(800), new Float32Array(800)];
    voice.add(out, 0, 1);
    expect(out[0]![50]).toBe(0);
    expect(out[0]![200]).toBeCloseTo(0.05, 3);
    expect(out[1]![400]).toBeCloseTo(0.3, 3);
  });
});
