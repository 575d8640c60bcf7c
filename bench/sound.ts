import { align } from '../src/core/sound/align/align';
import { soundFeatures } from '../src/core/sound/align/features';
import { beatsOf } from '../src/core/sound/beat';
import { decodeSound } from '../src/core/sound/decode';
import { lineUp, struckOf } from '../src/core/sound/line-up';
import { noveltyOf, onsetsOf } from '../src/core/sound/onsets';
import { peaksOf } from '../src/core/sound/peaks';
import { writeWave } from '../src/core/sound/render';
import { madeUpTune, renderTune } from '../testing/render-tune';

/** What a long recording costs: `npm run bench sound [minutes]`. Asked: peaks 1.5 s, onsets 4 s. */
const minutes = Number(process.argv[2] ?? 10);
const RATE = 48_000;
const tune = madeUpTune(7, { bars: Math.round((minutes * 120) / 4), bpm: 120 });
const one = renderTune(tune, { rate: RATE, lengthMs: minutes * 60_000, noiseDb: 20, echo: true });
const both = { rate: RATE, channels: [one.channels[0]!, Float32Array.from(one.channels[0]!)] };
const bytes = both.channels.reduce((n, c) => n + c.byteLength, 0);

const rows: string[] = [];
async function timed<T>(what: string, work: () => T | Promise<T>): Promise<T> {
  globalThis.gc?.();
  const from = performance.now();
  const before = process.memoryUsage();
  const made = await work();
  const ms = performance.now() - from;
  const after = process.memoryUsage();
  const grown = after.arrayBuffers - before.arrayBuffers;
  rows.push(`| ${what} | ${ms.toFixed(0)} | ${(grown / bytes).toFixed(2)} |`);
  return made;
}

await timed('peaks', () => peaksOf(both));
const novelty = await timed('novelty', () => noveltyOf(both));
const onsets = await timed('onsets', () => onsetsOf(both, novelty));
await timed('beat', () => beatsOf(novelty));
const struck = struckOf(tune.map((n) => [n.ms, n.velocity] as const));
await timed('lined up by offset', () => lineUp(struck, onsets));
const features = await timed('what sounds', () => soundFeatures(both));
const notes = tune.map((n) => ({
  fromMs: n.ms,
  toMs: n.ms + n.lengthMs,
  key: n.key,
  velocity: n.velocity,
  drum: n.drum ?? false,
}));
await timed('aligned', () => align({ notes, scoreMs: minutes * 60_000, onsets, features }));
const wave = writeWave(both, 16).bytes;
await timed('WAV decoded', () => decodeSound(wave));
console.log(
  [
    `# ${minutes} minutes, two channels, ${RATE} Hz (${(bytes / 1e6).toFixed(0)} MB of samples)`,
    '',
    '| what | ms | memory kept, of the samples |',
    '| --- | --- | --- |',
    ...rows,
  ].join('\n'),
);
