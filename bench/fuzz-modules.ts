import { eelMarket } from '../demo/modules/eel-market';
import { writeIt } from '../demo/modules/write-it';
import { writeMod } from '../demo/modules/write-mod';
import { writeS3m } from '../demo/modules/write-s3m';
import { writeXm } from '../demo/modules/write-xm';
import { readModule } from '../src/core/sources/module/index';
import { knownOf } from '../src/core/sources/module/open';
import { readAsScore } from '../src/core/sources/module/to-file';
import { scoreFromFile } from '../src/core/score/from-file';
import { mutator } from './mutator';

/**
 * Modules of ours, damaged: `npm run bench modules [seconds] [seed]`. Reading and playing end, in time
 * that is bounded; what is played lies inside the song; the score has every note that was struck
 * inside of MIDI's keys, or says what it left.
 */
const seconds = Number(process.argv[2] ?? 60);
const { below, mutate } = mutator(Number(process.argv[3] ?? 20261129));

/** Small samples: what is damaged is to be the song more often than its sound. */
const tune = eelMarket();
const small = {
  ...tune,
  samples: tune.samples.map((s) => ({
    ...s,
    frames: s.frames.subarray(0, 300),
    loop: [10, 200] as const,
  })),
};
const seeds = [
  writeMod({ ...small, channels: 4 }),
  writeMod(small),
  writeS3m(small),
  writeXm(small),
  writeIt(small),
  writeIt({ ...small, samples: small.samples.map((s) => ({ ...s, packed: true, newNote: 1 })) }, true),
]; // prettier-ignore

const end = Date.now() + seconds * 1000;
let [runs, usable, slowest, longest] = [0, 0, 0, 0];
while (Date.now() < end) {
  const input =
    below(20) === 0
      ? Uint8Array.from({ length: 200 + below(8000) }, () => below(256))
      : mutate(seeds[below(seeds.length)]!);
  const from = performance.now();
  try {
    const read = readModule(input);
    if (read) {
      usable++;
      for (const d of read.doubts)
        if (d.at < 0 || d.says === '') throw new Error(`a doubt without a place: ${d.says}`);
      const known = knownOf(read.module);
      const { played } = known;
      longest = Math.max(longest, played.seconds);
      for (const s of played.strikes)
        if (s.at < 0 || s.end < s.at || s.at > played.seconds + 1e-6)
          throw new Error(`a strike outside of the song: ${s.at} to ${s.end}`);
      const { file } = readAsScore(known, {});
      const score = scoreFromFile(file, { sourceKey: 'main' });
      for (const p of score.parts)
        for (let i = 0; i < p.notes.count; i++)
          if (p.notes.end[i]! <= p.notes.start[i]!) throw new Error('a note without a length');
    }
  } catch (error) {
    console.error(`run ${runs}: ${(error as Error).stack}`);
    console.error(`input: ${Buffer.from(input).toString('base64')}`);
    process.exit(1);
  }
  const took = performance.now() - from;
  if (took > 15_000) {
    console.error(`run ${runs}: took ${took.toFixed(0)} ms for ${input.length} bytes`);
    console.error(`input: ${Buffer.from(input).toString('base64')}`);
    process.exit(1);
  }
  slowest = Math.max(slowest, took);
  runs++;
}
console.log(
  `${runs.toLocaleString('en-GB')} modules, ${usable.toLocaleString('en-GB')} of them usable, ` +
    `slowest ${slowest.toFixed(0)} ms, longest song ${longest.toFixed(0)} s`,
);
