import { damageCorpus } from '../demo/damage';
import { week } from '../demo/week';
import { isFatal, sayDamage } from '../src/core/diagnostic/damage';
import { openSource } from '../src/core/sources/source';
import { inventoryOf } from '../src/core/score/inventory';
import { writeSmf } from '../src/core/smf/write';
import { readSmf } from '../src/core/smf/read';
import { benchSong } from './songs';

/**
 * A mutation fuzzer with a fixed seed and a time budget: `npm run fuzz [seconds] [seed]`. Whatever is
 * done to the bytes, reading ends with a file or with damage that is said, in time and memory that
 * are bounded by the size of the input.
 */
const seconds = Number(process.argv[2] ?? 60);
let state = Number(process.argv[3] ?? 20261124) >>> 0 || 1;
const below = (n: number) => {
  state ^= state << 13;
  state >>>= 0;
  state ^= state >>> 17;
  state ^= state << 5;
  state >>>= 0;
  return state % n;
};

const chars = (text: string) => [...text].map((c) => c.charCodeAt(0));
const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const head = (format: number, tracks: number, division: number) => [
  ...chars('MThd'), ...u32(6), 0, format, tracks >> 8, tracks & 255, division >> 8, division & 255,
]; // prettier-ignore
const trk = (body: number[], length = body.length) => [...chars('MTrk'), ...u32(length), ...body];

const seeds: Uint8Array[] = [
  ...week.map((j) => j.bytes()),
  ...damageCorpus.map(([, bytes]) => bytes).filter((bytes) => bytes.length > 0),
  benchSong({ notes: 2000, tracks: 4, tempos: 50 }),
  Uint8Array.from([...head(1, 65_535, 96), ...trk([0, 0xff, 0x2f, 0])]),
  Uint8Array.from([
    ...head(2, 2, 0xe250),
    ...trk([0, 0x90, 1, 1, 0, 0xff, 0x2f, 0]),
    ...trk([0, 0xff, 0x2f, 0]),
  ]),
  Uint8Array.from([...head(1, 1, 96), ...trk([], 0), ...trk([0, 0xff, 0x2f, 0], 2 ** 31)]),
  Uint8Array.from([
    ...head(0, 1, 96),
    ...trk([0, 0x90, ...Array.from({ length: 900 }, (_, i) => (i * 7) & 127)]),
  ]),
];

function mutate(from: Uint8Array): Uint8Array {
  let bytes = Uint8Array.from(from);
  for (let k = 1 + below(6); k > 0; k--) {
    const at = below(Math.max(1, bytes.length));
    switch (below(8)) {
      case 0:
        bytes[at]! ^= 1 << below(8);
        break;
      case 1:
        bytes[at] = [0, 0x7f, 0x80, 0xff, 0xf0, 0xf7, 0x90, 0x2f][below(8)]!;
        break;
      case 2:
        bytes = bytes.slice(0, at);
        break;
      case 3: {
        // A stretch twice.
        const part = bytes.slice(at, at + 1 + below(40));
        bytes = Uint8Array.from([...bytes.slice(0, at), ...part, ...bytes.slice(at)]);
        break;
      }
      case 4:
        bytes = Uint8Array.from([...bytes.slice(0, at), ...bytes.slice(at + 1 + below(20))]);
        break;
      case 5: {
        // A chunk length that lies.
        const chunk = findChunk(bytes, at);
        if (chunk >= 0)
          bytes.set(u32([0, 1, 2 ** 31, 2 ** 32 - 1, below(5000)][below(5)]!), chunk + 4);
        break;
      }
      case 6:
        for (let i = 0; i < 12 && at + i < bytes.length; i++) bytes[at + i] = 0x80 | below(128);
        break;
      default:
        if (bytes.length > 14) bytes[8 + below(6)] = below(256);
    }
  }
  return bytes;
}

function findChunk(bytes: Uint8Array, from: number): number {
  for (let i = from; i + 8 < bytes.length; i++)
    if (bytes[i] === 0x4d && bytes[i + 1] === 0x54 && bytes[i + 2] === 0x72) return i;
  return -1;
}

const end = Date.now() + seconds * 1000;
let runs = 0;
let usable = 0;
let slowest = 0;
const codes = new Map<string, number>();
while (Date.now() < end) {
  const input = mutate(seeds[below(seeds.length)]!);
  const from = performance.now();
  try {
    const opened = openSource(input, { key: 'x', name: 'x', sha256: 'x' });
    for (const d of opened.damage) {
      codes.set(d.code, (codes.get(d.code) ?? 0) + 1);
      if (!/byte [\d,]+/.test(sayDamage(d))) throw new Error(`damage without a place: ${d.code}`);
      if (d.byteOffset < 0 || d.byteOffset > input.length)
        throw new Error(`a place outside: ${d.byteOffset}`);
    }
    if (!opened.source && !opened.damage.some(isFatal)) throw new Error('no source and no reason');
    if (opened.source) {
      usable++;
      inventoryOf(opened.source.head, opened.source.score);
      const file = readSmf(input).file!;
      const events = file.tracks.reduce((n, t) => n + t.count, 0);
      if (events > input.length) throw new Error('more events than bytes');
      const again = readSmf(writeSmf(file)).file;
      const count = again?.tracks.reduce((n, t) => n + t.count, 0);
      if (count !== events)
        throw new Error(`written and read again: ${count}, not ${events} events`);
    }
  } catch (error) {
    console.error(`run ${runs}: ${(error as Error).stack}`);
    console.error(`input: ${Buffer.from(input).toString('base64')}`);
    process.exit(1);
  }
  const took = performance.now() - from;
  const allowed = 200 + (input.length / 1_000_000) * 2000;
  if (took > allowed) {
    console.error(`run ${runs}: took ${took.toFixed(0)} ms for ${input.length} bytes`);
    process.exit(1);
  }
  slowest = Math.max(slowest, took);
  runs++;
}
console.log(
  `${runs.toLocaleString('en-GB')} inputs, ${usable.toLocaleString('en-GB')} of them usable, slowest ${slowest.toFixed(0)} ms`,
);
console.log(
  `damage met: ${[...codes]
    .sort((a, b) => b[1] - a[1])
    .map(([c, n]) => `${c} ${n}`)
    .join(', ')}`,
);
