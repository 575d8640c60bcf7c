import { writeFileSync } from 'node:fs';
import { buildFile, TrackBuilder } from '../src/core/smf/build';
import { writeSmf } from '../src/core/smf/write';
import { baseOf, baseRendition } from '../src/core/plan/base';
import { proof } from '../src/core/rules/proof';
import { rules } from '../src/core/rules/index';
import { concerns } from '../src/core/rules/define-rule';
import { openSource, type SourceScore } from '../src/core/sources/source';
import { builtInTargets } from '../src/core/target/index';
import { benchSong } from './songs';

/**
 * How the time of each rule grows with the notes: `npm run bench linear`. A rule that is linear takes
 * ten times as long on ten times the notes; what stands here is by how much it differs from that.
 */
const take = (bytes: Uint8Array): SourceScore => {
  const { source } = openSource(bytes, { key: 'main', name: 'x.mid', sha256: 'x' });
  if (!source) throw new Error('the bench song cannot be read');
  return source;
};
const sizes = [100_000, 1_000_000] as const;
const songs = sizes.map((notes) => take(benchSong({ notes, tracks: 16 })));
const timed = (work: () => void) => {
  const from = performance.now();
  work();
  return performance.now() - from;
};

const lines: string[] = ['# Growth', '', 'Written by `npm run bench linear`.', ''];
lines.push(
  '| rule | slowest target | 100 k notes | 1 M notes | times as long |',
  '| --- | --- | --- | --- | --- |',
);
const slowest = new Map<string, { target: string; ms: number[] }>();
for (const target of builtInTargets) {
  const judged = songs.map((song) => {
    const base = baseOf(song);
    return { base, rendition: baseRendition(base, target), target };
  });
  for (const rule of rules) {
    if (!concerns(rule, target)) continue;
    const ms = judged.map((given) => timed(() => proof({ ...given, only: [rule] })));
    const known = slowest.get(rule.id);
    if (!known || ms[1]! > known.ms[1]!) slowest.set(rule.id, { target: target.id, ms });
  }
}
for (const [rule, { target, ms }] of [...slowest].sort((a, b) => b[1].ms[1]! - a[1].ms[1]!))
  if (ms[1]! > 20)
    lines.push(
      `| ${rule} | ${target} | ${ms[0]!.toFixed(1)} ms | ${ms[1]!.toFixed(0)} ms | ${(ms[1]! / Math.max(0.05, ms[0]!)).toFixed(1)} |`,
    );

/** Every note-on without an end, all on a few keys. */
function stuckNotes(notes: number): Uint8Array {
  const track = new TrackBuilder(notes + 8);
  for (let i = 0; i < notes; i++) track.channelEvent(i * 30, 0x90, 36 + (i % 40), 90);
  return writeSmf(buildFile(1, 480, [track.end(notes * 30)]));
}
const manyTracks = (tracks: number) => benchSong({ notes: tracks * 3, tracks });
const odd = (name: string, small: Uint8Array, large: Uint8Array, times: number) => {
  const [a, b] = [small, large].map((bytes) =>
    timed(() => {
      const base = baseOf(take(bytes));
      for (const target of builtInTargets)
        proof({ rendition: baseRendition(base, target), target, base });
    }),
  );
  lines.push(
    `| ${name} | ${a!.toFixed(0)} ms | ${b!.toFixed(0)} ms | ${times} | ${(b! / a!).toFixed(1)} |`,
  );
};
lines.push('', '## Odd shapes: read, and held against all sixteen targets', '');
lines.push(
  '| shape | small | large | times the size | times as long |',
  '| --- | --- | --- | --- | --- |',
);
odd('stuck notes, 10 k and 100 k', stuckNotes(10_000), stuckNotes(100_000), 10);
odd('tracks, 3,200 and 32,000', manyTracks(3200), manyTracks(32_000), 10);
// Damage of two kinds in turn, so that no entry is the same as the one before.
const torn = (events: number): Uint8Array => {
  const bytes = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0];
  const body: number[] = [];
  for (let i = 0; i < events; i++) body.push(0, 0xf4, 0, 0xf5, 1, 0x90, 60, 200);
  body.push(0, 0xff, 0x2f, 0);
  const n = body.length;
  return Uint8Array.from(
    [...bytes, 0x4d, 0x54, 0x72, 0x6b, n >>> 24, (n >> 16) & 255, (n >> 8) & 255, n & 255].concat(
      body,
    ),
  );
};
odd('damaged events, 20 k and 200 k', torn(10_000), torn(100_000), 10);
console.log(lines.join('\n'));
if (process.argv.includes('--keep')) writeFileSync('bench/growth.md', `${lines.join('\n')}\n`);
