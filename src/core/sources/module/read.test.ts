import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { writeIt } from '../../../../demo/modules/write-it';
import { writeS3m } from '../../../../demo/modules/write-s3m';
import { writeXm, XM_STEPS } from '../../../../demo/modules/write-xm';
import { EEL_TRAPS, moduleWriters, openedModule } from '../../../../testing/modules';
import { knownOf } from './open';
import { readModule } from './index';
import { mix } from './mix';
import { perform } from './strikes';

const PLAIN = EEL_TRAPS;
const opened = openedModule;

describe.each(Object.entries(moduleWriters))('a module as %s', (_, write) => {
  it('has its name, its samples and its notes where they were put', () => {
    const { module, doubts } = opened(write(PLAIN));
    expect(doubts).toEqual([]);
    expect(module.name).toBe('Eel traps');
    expect(module.samples.slice(1, 3).map((s) => [s!.name, s!.frames.length, s!.volume])).toEqual([
      ['reed', 3200, 64],
      ['tick', 400, 40],
    ]);
    expect(module.samples[1]!.frames[8]).toBeCloseTo(0.8, 1);
    expect(module.samples[1]!.loop).toEqual({ from: 0, to: 3200, pingPong: false });
    const { strikes, seconds } = perform(module);
    const at = (row: number) => (row * 6 * 2.5) / 125;
    expect(seconds).toBeCloseTo(at(192), 9);
    expect(strikes.map((s) => [s.channel, s.key, Number(s.at.toFixed(6))])).toEqual([
      [0, 60, 0],
      [1, 72, 0],
      [0, 64, at(4)],
      [2, 48, Number(at(60).toFixed(6))],
      [0, 67, at(64)],
      [3, 60, Number(at(96).toFixed(6))],
      [0, 60, Number(at(128).toFixed(6))],
      [1, 72, Number(at(128).toFixed(6))],
      [0, 64, Number(at(132).toFixed(6))],
      [2, 48, Number(at(188).toFixed(6))],
    ]);
    // What has no loop ends with its sample: 400 frames an octave up.
    const tick = strikes[1]!;
    expect(tick.ended).toBe('sample');
    expect(tick.end - tick.at).toBeCloseTo(200 / 8363, 2);
    expect(strikes[0]!.ended).toBe('next');
  });

  it('sounds where its strikes are', () => {
    const { module } = opened(write(PLAIN));
    const { strikes, seconds } = perform(module);
    const { channels, rate } = mix(knownOf(module), {
      rate: 44_100,
      between: 'linear',
      softened: 0,
    });
    expect(channels[0]!.length / rate).toBeCloseTo(seconds, 4);
    const power = (from: number, to: number) => {
      let sum = 0;
      for (const c of channels)
        for (let i = Math.round(from * rate); i < to * rate; i++) sum += (c[i] ?? 0) ** 2;
      return sum;
    };
    const tick = strikes[1]!;
    expect(power(tick.at, tick.end)).toBeGreaterThan(1.02 * power(tick.end, 2 * tick.end));
  });

  it('any bytes of it end in bounded time, and say what was wrong', () => {
    const whole = write(PLAIN);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 12 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (changes, cut) => {
          const bytes = Uint8Array.from(whole).slice(
            0,
            cut < 0.5 ? whole.length : Math.floor(whole.length * cut),
          );
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
          const read = readModule(bytes);
          if (!read) return;
          const { strikes, seconds } = perform(read.module);
          expect(Number.isFinite(seconds)).toBe(true);
          for (const s of strikes) {
            expect(s.end).toBeGreaterThanOrEqual(s.at);
            expect(s.levels.every((l) => l.value >= 0 && l.value <= 1.0001)).toBe(true);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('samples', () => {
  const noise = (n: number) => {
    let x = 1;
    return Float32Array.from({ length: n }, (_, i) => {
      x = (x * 1103515245 + 12345) & 0x7fffffff;
      // Loud and quiet stretches: every width is used.
      return ((x / 0x40000000 - 1) * ((i >> 7) % 9)) / 9;
    });
  };
  it.each([false, true])('IT’s packed samples come back value for value, 16 bits: %s', (wide) => {
    const frames = noise(70_000);
    const tune = { ...PLAIN, samples: [{ name: 'gravel', frames, wide }] };
    const plain = opened(writeIt(tune)).module.samples[1]!.frames;
    const packed = opened(
      writeIt({ ...tune, samples: [{ name: 'gravel', frames, wide, packed: true }] }),
    );
    expect(packed.doubts).toEqual([]);
    expect(packed.module.samples[1]!.frames).toEqual(plain);
    const one = wide ? 32768 : 128;
    expect(Math.max(...plain.map((v, i) => Math.abs(v - frames[i]!)))).toBeLessThan(1.01 / one);
  });
  it.each([300, 301])('XM’s packed samples of %d frames come back, and what follows them', (n) => {
    let [x, value] = [1, 0];
    const walk = Float32Array.from({ length: n }, () => {
      x = (x * 1103515245 + 12345) & 0x7fffffff;
      const step = XM_STEPS[(x >> 12) % 16]!;
      if (Math.abs(value + step) <= 127) value += step;
      return value / 128;
    });
    const samples = [
      { name: 'gravel', frames: walk, packed: true },
      { name: 'reed', frames: walk.slice().reverse() },
    ];
    const { module, doubts } = opened(writeXm({ ...PLAIN, samples }));
    expect(doubts).toEqual([]);
    const off = (read: Float32Array, own: Float32Array) =>
      Math.max(...read.map((v, i) => Math.abs(v - own[i]!)));
    expect(module.samples[1]!.frames).toHaveLength(n);
    expect(off(module.samples[1]!.frames, walk)).toBeLessThan(1.01 / 128);
    expect(off(module.samples[2]!.frames, samples[1]!.frames)).toBeLessThan(1.01 / 128);
    const cut = opened(writeXm({ ...PLAIN, samples: samples.slice(0, 1) }).slice(0, -40));
    expect(cut.module.samples[1]!.frames).toHaveLength(n + (n % 2) - 80);
    expect(cut.doubts.map((d) => d.says).join()).toContain('of them are in the file');
  });
  it('XM’s and S3M’s of 16 bits', () => {
    const frames = noise(3000);
    const tune = { ...PLAIN, samples: [{ name: 'gravel', frames, wide: true }] };
    for (const write of [writeXm, writeS3m]) {
      const read = opened(write(tune)).module.samples[1]!.frames;
      expect(Math.max(...read.map((v, i) => Math.abs(v - frames[i]!)))).toBeLessThan(1.01 / 32768);
    }
  });
  it('instruments of XM without samples may end with their name, the last with the file', () => {
    const bytes = writeXm(PLAIN);
    const head = (size: number) => {
      const out = new Uint8Array(size);
      out[0] = size;
      out.set(new TextEncoder().encode('greetings'), 4);
      return out;
    };
    const whole = Uint8Array.from([...bytes, ...head(33), ...head(29)]);
    whole[72] = 4;
    const { module, doubts } = opened(whole);
    expect(doubts).toEqual([]);
    expect(module.instruments!.map((i) => i?.name)).toEqual([
      undefined,
      'reed',
      'tick',
      'greetings',
      'greetings',
    ]);
  });
  it('what is cut off is silent, and said', () => {
    const bytes = writeXm(PLAIN);
    const { module, doubts } = opened(bytes.slice(0, bytes.length - 300));
    expect(module.samples[2]!.frames.length).toBe(100);
    expect(doubts.map((d) => d.says)).toContainEqual(
      'Sample 2 should have 400 bytes; 100 of them are in the file.',
    );
  });
});

it('bytes that are none are none', () => {
  expect(readModule(new Uint8Array(0))).toBeNull();
  expect(readModule(new TextEncoder().encode('WEBVTT\n\n'.repeat(500)))).toBeNull();
  expect(readModule(Uint8Array.from({ length: 4000 }, (_, i) => (i * 37) & 255))).toBeNull();
});
