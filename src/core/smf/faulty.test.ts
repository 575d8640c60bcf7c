import { describe, expect, it } from 'vitest';
import { grows } from '../../../testing/grows';
import { conductor, smf, Track } from '../../../testing/score-builder';
import { readSmf } from './read';
import { writeSmf } from './write';

const song = () => smf(1, 480, [conductor(), new Track('A').note(1, 0, 100, 60, 90)]);

describe('what stands before a header', () => {
  it('is kept byte for byte, though it begins with an R', () => {
    const stray = new Uint8Array(40).fill(0x52);
    const bytes = new Uint8Array([...stray, ...song()]);
    const { file } = readSmf(bytes);
    expect(Buffer.from(writeSmf(file!)).equals(Buffer.from(bytes))).toBe(true);
  });
  it('has its lengths made anew where it is a wrapper', () => {
    const inner = song();
    const little = (n: number) => [n & 255, (n >> 8) & 255, (n >> 16) & 255, (n >> 24) & 255];
    const word = (s: string) => [...s].map((c) => c.charCodeAt(0));
    const bytes = Uint8Array.from([
      ...word('RIFF'),
      ...little(inner.length + 12),
      ...word('RMID'),
      ...word('data'),
      ...little(inner.length),
      ...inner,
    ]);
    const { file, damage } = readSmf(bytes);
    expect(damage).toEqual([]);
    expect(Buffer.from(writeSmf(file!)).equals(Buffer.from(bytes))).toBe(true);
  });
});

describe('damage', () => {
  it('of thousands of tracks of a wrong length is read in linear work, and listed once', () => {
    const bytesOf = (tracks: number) => {
      const chunks: number[] = [];
      // The length says one byte; the events take four.
      for (let t = 0; t < tracks; t++)
        chunks.push(0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, 1, 0, 0xff, 0x2f, 0);
      const head = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 1, tracks >> 8, tracks & 255, 1, 0xe0];
      return Uint8Array.from([...head, ...chunks]);
    };
    const { file, damage } = readSmf(bytesOf(16_000));
    expect(file!.tracks).toHaveLength(16_000);
    expect(damage.length).toBeLessThan(1100);
    expect(damage.reduce((n, d) => n + d.times, 0)).toBe(16_000);
    grows((tracks) => {
      const bytes = bytesOf(tracks);
      return () => readSmf(bytes);
    }, 2000);
  });
});
