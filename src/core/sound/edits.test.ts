import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeWave } from './decode-wave';
import { editedTime, endOf, layoutOf, placedLater, recordingTime, type SoundEdit } from './edits';
import { CURVE_MS, loudnessOf, peaksOf } from './peaks';
import { renderSound, writeWave } from './render';

const us = fc.integer({ min: 0, max: 3_000_000 });
const span = fc.tuple(us, us).map(([a, b]) => ({ fromUs: Math.min(a, b), toUs: Math.max(a, b) }));
const edit: fc.Arbitrary<SoundEdit> = fc.oneof(
  fc.record({ is: fc.constant('insert' as const), atUs: us, us }),
  span.map((s) => ({ is: 'cut' as const, ...s })),
  fc.record({
    is: fc.constant('gain' as const),
    db: fc.double({ min: -40, max: 20, noNaN: true }),
  }),
  fc.record({ is: fc.constant('fade' as const), inUs: us, outUs: us }),
  span.map((s) => ({ is: 'silence' as const, ...s })),
  fc.record({ is: fc.constant('length' as const), us }),
);
const steady = (frames: number) => Float32Array.from({ length: frames }, (_, i) => (i % 200) / 400);

describe('edits of a sound', () => {
  it('stretches follow each other without a gap, whatever is done', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 8 }), (edits) => {
        const layout = layoutOf(edits, 2_000_000);
        let at = 0;
        for (const s of layout) {
          expect(s.from).toBe(at);
          expect(s.to).toBeGreaterThan(s.from);
          at = s.to;
        }
        const last = edits.at(-1);
        if (last?.is === 'length') expect(endOf(layout)).toBe(last.us);
      }),
    );
  });
  it('a moment is found where it is heard, and back', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 6 }), us, (edits, at) => {
        const layout = layoutOf(edits, 2_000_000);
        const heard = editedTime(layout, at);
        if (heard !== null) expect(recordingTime(layout, heard)).toBe(at);
      }),
    );
  });
  it('what is put in before and cut off again is as it was', () => {
    const both = layoutOf([...placedLater(1_500_000), ...placedLater(-1_500_000)], 900_000);
    expect(both).toEqual(layoutOf([], 900_000));
  });
  it('renders to the frame, with gain and fades', () => {
    const recording = { rate: 1000, channels: [new Float32Array(1000).fill(0.5)] };
    const edits: SoundEdit[] = [
      { is: 'insert', atUs: 0, us: 100_000 },
      { is: 'gain', db: -6.020599913279624 },
      { is: 'fade', inUs: 0, outUs: 500_000 },
    ];
    const [out] = renderSound(recording, layoutOf(edits, 1_000_000)).channels;
    expect(out!.length).toBe(1100);
    expect(Math.max(...out!.subarray(0, 100))).toBe(0);
    expect(out![100]).toBeCloseTo(0.25, 6);
    expect(out![850]).toBeCloseTo(0.125, 3);
    expect(out![1099]).toBeLessThan(0.002);
  });
});

describe('a WAV that is written', () => {
  it.each([16, 24] as const)('of %i bit is read back within one step', (bits) => {
    const samples = { rate: 22_050, channels: [steady(4001), steady(4001).reverse()] };
    const { bytes, clipped } = writeWave(samples, bits);
    expect(clipped).toBe(0);
    const back = decodeWave(bytes);
    const step = 2 ** (1 - bits);
    back.samples!.channels.forEach((channel, c) =>
      channel.forEach((value, i) =>
        expect(Math.abs(value - samples.channels[c]![i]!)).toBeLessThanOrEqual(1.6 * step),
      ),
    );
    expect(writeWave(samples, bits).bytes).toEqual(bytes);
  });
  it('says how many samples were too loud; silence stays silent', () => {
    const loud = { rate: 8000, channels: [Float32Array.of(0, 1.5, -1.5, 0, 0.25)] };
    const { bytes, clipped } = writeWave(loud, 16);
    expect(clipped).toBe(2);
    const [first, up, down] = decodeWave(bytes).samples!.channels[0]!;
    expect(first).toBe(0);
    expect(up).toBeCloseTo(1, 3);
    expect(down).toBe(-1);
  });
});

it('a loudness curve follows what is done to the sound', () => {
  // A second of silence, a second at half, a second at full swing; 8 kHz.
  const samples = Float32Array.from({ length: 24_000 }, (_, i) =>
    Math.floor(i / 8000) === 0
      ? 0
      : (Math.floor(i / 8000) === 1 ? 0.5 : 1) * (i % 2 === 0 ? 1 : -1),
  );
  const peaks = peaksOf({ rate: 8000, channels: [samples] });
  const plain = loudnessOf(peaks, layoutOf([], 3_000_000));
  expect(plain).toHaveLength(3000 / CURVE_MS);
  const at = (curve: Float32Array, ms: number) => curve[Math.floor(ms / CURVE_MS)]!;
  expect([at(plain, 500), at(plain, 1500), at(plain, 2500)]).toEqual([
    0,
    expect.closeTo(0.5, 1),
    expect.closeTo(1, 1),
  ]);
  const edits = [
    { is: 'cut', fromUs: 0, toUs: 1_000_000 },
    { is: 'gain', db: -6.0206 },
    { is: 'insert', atUs: 1_000_000, us: 500_000 },
  ] as const;
  const changed = loudnessOf(peaks, layoutOf(edits, 3_000_000));
  expect(changed).toHaveLength(2500 / CURVE_MS);
  expect([at(changed, 500), at(changed, 1200), at(changed, 2000)]).toEqual([
    expect.closeTo(0.25, 1),
    0,
    expect.closeTo(0.5, 1),
  ]);
});
