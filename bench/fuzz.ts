import { damageCorpus } from '../demo/damage';
import { smfWeek } from '../demo/week';
import { isFatal, sayDamage } from '../src/core/diagnostic/damage';
import { openSource } from '../src/core/sources/source';
import { inventoryOf } from '../src/core/score/inventory';
import { writeSmf } from '../src/core/smf/write';
import { readSmf } from '../src/core/smf/read';
import { mutator } from './mutator';
import { benchSong } from './songs';

/**
 * A mutation fuzzer with a fixed seed and a time budget: `npm run fuzz [seconds] [seed]`. Whatever is
 * done to the bytes, reading ends with a file or with damage that is said, in time and memory that
 * are bounded by the size of the input.
 */
const seconds = Number(process.argv[2] ?? 60);
const { below, mutate } = mutator(Number(process.argv[3] ?? 20261124));

const chars = (text: string) => [...text].map((c) => c.charCodeAt(0));
const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const head = (format: number, tracks: number, division: number) => [
  ...chars('MThd'), ...u32(6), 0, format, tracks >> 8, tracks & 255, division >> 8, division & 255,
]; // prettier-ignore
const trk = (body: number[], length = body.length) => [...chars('MTrk'), ...u32(length), ...body];

const seeds: Uint8Array[] = [
  ...smfWeek.map((j) => j.bytes()),
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
