import { describe, expect, it } from 'vitest';
import { madeUpTune, renderTune, type Sung } from '../../../testing/render-tune';
import { beatsOf } from './beat';
import { align } from './align/align';
import { SURE } from './align/sure';
import { soundFeatures } from './align/features';
import { lineUp, struckOf } from './line-up';
import { noveltyOf, onsetsOf } from './onsets';

/** Twice the matched over all, where each is matched once within as many ms. */
function agreement(found: ArrayLike<number>, truth: ArrayLike<number>, withinMs: number): number {
  let [hits, j] = [0, 0];
  for (let i = 0; i < truth.length; i++) {
    while (j < found.length && found[j]! < truth[i]! - withinMs) j++;
    if (j >= found.length || Math.abs(found[j]! - truth[i]!) > withinMs) continue;
    hits++;
    j++;
  }
  return (2 * hits) / (found.length + truth.length);
}
const mean = (a: readonly number[]) => a.reduce((x, y) => x + y, 0) / a.length;
const SEEDS = Array.from({ length: 6 }, (_, i) => i + 1);
const inARoom = { noiseDb: 20, echo: true };
const bpmOf = (seed: number) => 84 + ((seed * 37) % 60);
const struck = (tune: readonly Sung[]) => struckOf(tune.map((n) => [n.ms, n.velocity]));
const heard = (tune: readonly Sung[], at: (ms: number) => number, seed: number) => {
  const samples = renderTune(
    tune.map((n) => ({ ...n, ms: at(n.ms) })),
    { ...inARoom, rate: 16_000, seed },
  );
  const novelty = noveltyOf(samples);
  return { novelty, onsets: onsetsOf(samples, novelty), features: soundFeatures(samples) };
};
const laid = (tune: readonly Sung[], { onsets, features }: ReturnType<typeof heard>) => {
  const notes = tune.map((n) => ({
    fromMs: n.ms,
    toMs: n.ms + n.lengthMs,
    key: n.key,
    velocity: n.velocity,
    drum: n.drum ?? false,
  }));
  const scoreMs = notes.reduce((ms, n) => Math.max(ms, n.toMs), 0) + 500;
  return align({ notes, scoreMs, onsets, features });
};

describe('music of known truth, with noise 20 dB below and a room’s echo', () => {
  it('beginnings, beats, the offset, a rest in bars', () => {
    const [onsetFit, beatFit]: number[][] = [[], []];
    for (const seed of SEEDS) {
      const bpm = bpmOf(seed);
      const tune = madeUpTune(seed, { bars: 10, bpm });
      const bars = seed % 4;
      const late = seed % 2 === 0 ? (bars * 240_000) / bpm : [1234, 250, 7777, 61][bars]!;
      const { novelty, onsets } = heard(tune, (ms) => ms + late, seed);
      const score = struck(tune);
      onsetFit!.push(
        agreement(
          onsets.ms,
          score.ms.map((ms) => ms + late),
          25,
        ),
      );
      const beats = Array.from({ length: 10 * 4 }, (_, i) => late + (i * 60_000) / bpm);
      beatFit!.push(agreement(beatsOf(novelty)!.ms, beats, 70));
      const found = lineUp(score, onsets)!;
      expect(Math.abs(found.offsetMs - late), `seed ${seed}`).toBeLessThan(5);
      expect(found.confidence, `seed ${seed}`).toBeGreaterThan(0.4);
      if (seed % 2 === 0) expect(Math.round((found.offsetMs * bpm) / 240_000)).toBe(bars);
    }
    expect(mean(onsetFit!)).toBeGreaterThanOrEqual(0.9);
    expect(mean(beatFit!)).toBeGreaterThanOrEqual(0.85);
  }, 120_000);
  it('at the rate of a disc, where half of the samples are enough', () => {
    const fits = SEEDS.slice(0, 3).map((seed) => {
      const tune = madeUpTune(seed, { bars: 4, bpm: bpmOf(seed) });
      const samples = renderTune(tune, { ...inARoom, rate: 48_000, seed });
      return agreement(onsetsOf(samples, noveltyOf(samples)).ms, struck(tune).ms, 25);
    });
    expect(mean(fits)).toBeGreaterThanOrEqual(0.88);
  }, 60_000);
  it('a tempo that differs, within 0.05 %', () => {
    for (const seed of SEEDS.slice(1, 5)) {
      const ratio = 1 + ((seed % 7) - 3) * 0.02;
      const tune = madeUpTune(seed, { bars: 10, bpm: bpmOf(seed) });
      const found = laid(
        tune,
        heard(tune, (ms) => ms * ratio + 900, seed),
      )!;
      expect(found.kind, `seed ${seed}`).toBe(ratio === 1 ? 'offset' : 'tempo');
      expect(Math.abs(found.ratio - ratio) * 100, `seed ${seed}`).toBeLessThan(0.05);
      expect(Math.abs(found.offsetMs - 900), `seed ${seed}`).toBeLessThan(15);
      expect(found.confidence, `seed ${seed}`).toBeGreaterThan(SURE);
    }
  }, 120_000);
  it('a tempo that wanders by over a second is followed', () => {
    // More of them, with other sounds: `npm run bench align`.
    for (const seed of [1, 9]) {
      const played = (ms: number) =>
        3000 + ms + 900 * Math.sin(ms / 9000) + 250 * Math.sin(ms / 2900 + seed);
      const tune = madeUpTune(seed, { bars: 18, bpm: bpmOf(seed) });
      const { places, kind } = laid(tune, heard(tune, played, seed))!;
      const right = places.filter((p) => Math.abs(p.soundMs - played(p.scoreMs)) < 30);
      expect(kind).toBe('wander');
      expect(right.length / struck(tune).ms.length, `seed ${seed}`).toBeGreaterThan(0.7);
      expect(right.length / places.length, `seed ${seed}`).toBeGreaterThan(0.97);
    }
  }, 120_000);
  it('bars that are missing in it are named, and what is behind them lies right', () => {
    for (const seed of [2, 8]) {
      const bar = 240_000 / bpmOf(seed);
      const tune = madeUpTune(seed, { bars: 20, bpm: bpmOf(seed) });
      const left = tune.filter((n) => n.ms < 8 * bar - 1 || n.ms >= 12 * bar - 1);
      const at = (ms: number) => (ms < 10 * bar ? ms + 700 : ms - 4 * bar + 700);
      const { jumps, places } = laid(tune, heard(left, at, seed))!;
      expect(jumps, `seed ${seed}`).toHaveLength(1);
      expect(Math.abs(jumps[0]!.scoreFromMs - 8 * bar), `seed ${seed}`).toBeLessThan(bar / 2);
      expect(Math.abs(jumps[0]!.scoreToMs - 12 * bar), `seed ${seed}`).toBeLessThan(bar / 2);
      const behind = places.filter((p) => p.scoreMs > 13 * bar);
      const right = behind.filter((p) => Math.abs(p.soundMs - at(p.scoreMs)) < 30);
      expect(right.length / behind.length, `seed ${seed}`).toBeGreaterThan(0.9);
    }
  }, 120_000);
  it('another song is never sure', () => {
    for (const seed of SEEDS.slice(0, 4)) {
      const tune = madeUpTune(seed, { bars: 14, bpm: bpmOf(seed) });
      const other = madeUpTune(seed + 40, { bars: 14, bpm: bpmOf(seed) });
      const found = laid(
        tune,
        heard(other, (ms) => ms, seed),
      );
      expect(found?.confidence ?? 0, `seed ${seed}`).toBeLessThan(SURE);
    }
  }, 120_000);
});

describe('what cannot be lined up', () => {
  const silence = { rate: 22_050, channels: [new Float32Array(22_050 * 4)] };
  it('silence has no beginnings, no beat and no place', () => {
    const novelty = noveltyOf(silence);
    const onsets = onsetsOf(silence, novelty);
    expect(onsets.ms.length).toBe(0);
    expect(beatsOf(novelty)).toBeNull();
    expect(lineUp(struckOf([[0, 90]]), onsets)).toBeNull();
    expect(
      laid([{ ms: 0, lengthMs: 90, key: 60, velocity: 90 }], {
        novelty,
        onsets,
        features: soundFeatures(silence),
      }),
    ).toBeNull();
  });
  it('noise is not taken for the song', () => {
    const tune = madeUpTune(2, { bars: 12 });
    const other = madeUpTune(11, { bars: 12, bpm: 97 });
    const { onsets } = heard(other, (ms) => ms, 5);
    expect(lineUp(struck(tune), onsets)!.confidence).toBeLessThan(0.4);
  });
  it('an empty score has no place', () => {
    expect(
      lineUp(struckOf([]), { ms: Float64Array.of(1), strength: Float32Array.of(1) }),
    ).toBeNull();
  });
  it('a sound that starts before the score lies at a negative offset', () => {
    const tune = madeUpTune(6, { bars: 12 }).map((n) => ({ ...n, ms: n.ms + 8000 }));
    const { onsets } = heard(tune, (ms) => ms - 7500, 3);
    expect(Math.abs(lineUp(struck(tune), onsets)!.offsetMs + 7500)).toBeLessThan(5);
  });
});
