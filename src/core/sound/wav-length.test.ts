import { expect, it } from 'vitest';
import { wavLength } from './wav-length';

const chars = (t: string) => [...t].map((c) => c.charCodeAt(0));
const u32 = (n: number) => [n & 255, (n >> 8) & 255, (n >> 16) & 255, n >>> 24];
const u16 = (n: number) => [n & 255, n >> 8];
const fmt = (rate: number, channels: number, bits: number) => {
  const frame = (channels * bits) / 8;
  return [
    ...chars('fmt '),
    ...u32(16),
    ...u16(1),
    ...u16(channels),
    ...u32(rate),
    ...u32(rate * frame),
    ...u16(frame),
    ...u16(bits),
  ];
};
const wav = (...parts: number[][]) =>
  Uint8Array.from([...chars('RIFF'), ...u32(0), ...chars('WAVE'), ...parts.flat()]);
const data = (bytes: number, claimed = bytes) => [
  ...chars('data'),
  ...u32(claimed),
  ...new Array<number>(bytes).fill(0),
];

it('is frames over rate', () => {
  expect(wavLength(wav(fmt(8000, 2, 16), data(8000 * 4)))).toEqual({ ms: 1000 });
});
it('passes over other chunks, padded to an even length', () => {
  const list = [...chars('LIST'), ...u32(3), 1, 2, 3, 0];
  expect(wavLength(wav(fmt(8000, 1, 8), list, data(400)))).toEqual({ ms: 50 });
});
it('a data chunk that claims more than there is counts as what is there', () => {
  expect(wavLength(wav(fmt(8000, 1, 8), data(80, 0xffffffff)))).toEqual({ ms: 10 });
});
it('says what is wrong', () => {
  expect(wavLength(Uint8Array.from(chars('MThd'))).problem).toMatch(/not a WAV/);
  expect(wavLength(wav(data(8))).problem).toMatch(/sample rate/);
  expect(wavLength(wav(fmt(8000, 1, 8))).problem).toMatch(/no sound/);
  for (let n = 0; n < 60; n++) wavLength(wav(fmt(8000, 1, 8), data(8)).slice(0, n));
});
