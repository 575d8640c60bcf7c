import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linkData, linkSamples, LINK_RATE } from '../outputs/sound-link';
import { hearLink } from './link';

const file = (path: string, length: number, seed = 7) => ({
  path,
  bytes: Uint8Array.from({ length }, (_, i) => (Math.imul(i + seed, 2654435761) >>> 13) & 255),
});
const files = [file('tide-table.chain.json', 90), file('a.mid', 300, 3)];
const sent = linkSamples(linkData(files), 1);

/** The same sound on a tape of another speed, into a device of another rate. */
function heardAs(options: {
  speed?: number;
  rate?: number;
  gain?: number;
  shift?: number;
  noise?: number;
}) {
  const { speed = 1, rate = LINK_RATE, gain = 1, shift = 0, noise = 0 } = options;
  const step = (LINK_RATE * speed) / rate;
  const out = new Float32Array(Math.floor((sent.length - 1) / step));
  let seed = 12345;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 2 ** 32;
  };
  for (let i = 0; i < out.length; i++) {
    const at = Math.floor(i * step);
    const part = i * step - at;
    const x = sent[at]! * (1 - part) + (sent[at + 1] ?? 0) * part;
    // Two uniform numbers as one of the bell curve.
    const bell =
      noise && noise * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    out[i] = Math.round(x * gain + bell + shift);
  }
  return { samples: out, rate };
}
const comesThrough = (options: Parameters<typeof heardAs>[0]) => {
  const { samples, rate } = heardAs(options);
  const heard = hearLink(samples, rate);
  expect(heard.problem).toBeNull();
  expect(heard.patterns).toBe(1);
  expect(heard.files.map((f) => f.path)).toEqual(files.map((f) => f.path));
  heard.files.forEach((f, i) =>
    expect(Buffer.from(f.bytes).equals(Buffer.from(files[i]!.bytes))).toBe(true),
  );
};
const fails = (options: Parameters<typeof heardAs>[0], says: RegExp) => {
  const { samples, rate } = heardAs(options);
  expect(hearLink(samples, rate).problem).toMatch(says);
};
/** Root mean square of the tones, whose peak is 20,000. */
const SIGNAL = 20_000 / Math.SQRT2;

describe('the sound link at its limits', () => {
  it('as it was sent', () => comesThrough({}));
  for (const speed of [0.97, 0.985, 1.015, 1.03])
    it(`at ${speed} of its speed`, () => comesThrough({ speed }));
  for (const rate of [22_050, 32_000, 44_100, 48_000, 96_000])
    it(`into ${rate} Hz`, () => comesThrough({ rate }));
  it('30 dB down', () => comesThrough({ gain: 10 ** (-30 / 20) }));
  it('inverted', () => comesThrough({ gain: -1 }));
  it('with an offset', () => comesThrough({ shift: 6000, gain: 0.5 }));
  it('with white noise 20 dB below it', () => comesThrough({ noise: SIGNAL * 0.1 }));
  it('all of it at once: slow, low, inverted, noisy, at 22,050 Hz', () =>
    comesThrough({
      speed: 0.97,
      rate: 22_050,
      gain: -0.0316,
      noise: SIGNAL * 0.1 * 0.0316,
      shift: 400,
    }));
});

describe('just outside', () => {
  it('6 % too fast or too slow is said', () => {
    fails({ speed: 1.06 }, /speed|leader/);
    fails({ speed: 0.94 }, /speed|leader/);
  });
  it('noise as loud as the tones is no leader, or garbles frames', () =>
    fails({ noise: SIGNAL * 1.5 }, /leader|garbled/));
  it('silence, nothing, and a tone that is none', () => {
    expect(hearLink(new Float32Array(0), 44_100).problem).toMatch(/leader/);
    expect(hearLink(new Float32Array(90_000), 44_100).problem).toMatch(/leader/);
    const other = Float32Array.from({ length: 90_000 }, (_, i) => 9000 * Math.sin(i * 0.3));
    expect(hearLink(other, 44_100).problem).toMatch(/leader|garbled/);
  });
});

describe('a bad frame', () => {
  const spoilt = (from: number, to: number) => {
    const { samples, rate } = heardAs({});
    samples.fill(0, Math.floor(samples.length * from), Math.floor(samples.length * to));
    return { samples, rate };
  };
  it('is named, the others are kept, and a second pass fills it in', () => {
    const { samples, rate } = spoilt(0.6, 0.62);
    const memory = new Map<number, Uint8Array>();
    const first = hearLink(samples, rate, memory);
    expect(first.problem).toMatch(/^Frames? .* garbled: send them again/);
    expect(first.missing.length).toBeGreaterThan(0);
    expect(first.missing.length).toBeLessThan(4);
    const other = spoilt(0.8, 0.82);
    const second = hearLink(other.samples, other.rate, memory);
    expect(second.problem).toBeNull();
    expect(second.files).toHaveLength(2);
  });
  it('any stretch that is lost is found out', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.45, max: 0.9, noNaN: true }), (from) => {
        const { samples, rate } = spoilt(from, from + 0.01);
        const heard = hearLink(samples, rate);
        // What is lost may be the silence at the end.
        if (heard.problem === null)
          heard.files.forEach((f, i) =>
            expect(Buffer.from(f.bytes).equals(Buffer.from(files[i]!.bytes))).toBe(true),
          );
        else expect(heard.missing.length).toBeGreaterThan(0);
      }),
      { numRuns: 12 },
    );
  });
});
