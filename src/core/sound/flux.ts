import type { Checkpoint } from '../diagnostic/checkpoint';
import { framesOf, type Samples } from './samples';
import { Spectrum, Windows } from './spectrum';

/** Milliseconds from one value to the next. */
export const FLUX_HOP_MS = 10;

/** How what begins is looked for. */
export interface FluxShape {
  readonly windowSeconds: number;
  readonly bandsPerOctave: number;
  /** What is softer than the music by so much counts little. */
  readonly floorDb: number;
  /** Values back that a band is held against. */
  readonly back: number;
  /** Large changes count more than many small ones by this power. */
  readonly power: 1 | 1.5;
}

/**
 * A long window tells tones apart: a string that begins among others is heard, and what wavers stays in
 * its band. A short one tells when: drums, plucked and struck notes close to each other.
 */
export const SLOW: FluxShape = {
  windowSeconds: 0.093,
  bandsPerOctave: 60,
  floorDb: -64,
  back: 2,
  power: 1.5,
};
export const QUICK: FluxShape = {
  windowSeconds: 0.023,
  bandsPerOctave: 24,
  floorDb: -46,
  back: 2,
  power: 1,
};

const LOWEST_HZ = 40;
const HIGHEST_HZ = 10_000;
/** Windows by which it is told how loud the music is, at most. */
const TRIED = 400;
const CHECK_EVERY = 256;
/** Below it nothing is music, against full scale. */
const SILENT = 3e-5;

/** Edges of bands in bins, rising; none is narrower than a bin. */
function bandEdges(rate: number, size: number, perOctave: number): Int32Array {
  const edges: number[] = [];
  const top = Math.min(HIGHEST_HZ, rate * 0.48);
  for (let b = 0; ; b++) {
    const hz = LOWEST_HZ * 2 ** (b / perOctave);
    if (hz > top) return Int32Array.from(edges);
    const bin = Math.max(1, Math.round((hz * size) / rate));
    if (edges.length === 0 || bin > edges.at(-1)!) edges.push(bin);
  }
}

/**
 * How much louder each band became, logarithmically, summed: a value every `FLUX_HOP_MS`, that of a
 * window with its middle there. A band is held against the loudest of its neighbours a little before,
 * so that a tone that wavers is no beginning.
 */
export function fluxOf(
  sides: readonly Samples[],
  shape: FluxShape,
  checkpoint?: Checkpoint,
): Float32Array {
  const windows = new Windows(sides, shape.windowSeconds);
  const { size, rate } = windows;
  const edges = bandEdges(rate, size, shape.bandsPerOctave);
  const bands = edges.length - 1;
  const hop = (rate * FLUX_HOP_MS) / 1000;
  const count = Math.ceil(framesOf(sides[0]!) / windows.each / hop) + shape.back + 2;
  const spectrum = new Spectrum(size);
  const powers = new Float64Array(size / 2 + 1);
  const look = (to: Float64Array, t: number) => {
    spectrum.powers(powers, windows.at(Math.round(t * hop) - size / 2));
    for (let b = 0; b < bands; b++) {
      let most = 0;
      for (let k = edges[b]!; k < edges[b + 1]!; k++) if (powers[k]! > most) most = powers[k]!;
      to[b] = Math.sqrt(most);
    }
    return to;
  };
  const past = Array.from({ length: shape.back + 1 }, () => new Float64Array(bands));
  const { loudest, quiet } = levelsOf(count, bands, (t) => look(past[0]!, t));
  const floor = loudest * 10 ** (shape.floorDb / 20);
  const floors = quiet.map((q) => Math.max(floor, q * ABOVE_NOISE));
  for (const row of past) row.fill(0);
  const values = new Float32Array(count);
  if (floor <= SILENT * 10 ** (shape.floorDb / 20)) return values;
  for (let t = 0; t < count; t++) {
    if (t % CHECK_EVERY === 0) checkpoint?.(t, count);
    const now = look(past[t % past.length]!, t);
    for (let b = 0; b < bands; b++) now[b] = Math.log1p(now[b]! / floors[b]!);
    const before = past[(t + 1) % past.length]!;
    let sum = 0;
    for (let b = 0; b < bands; b++) {
      let was = before[b]!;
      if (b > 0 && before[b - 1]! > was) was = before[b - 1]!;
      if (b + 1 < bands && before[b + 1]! > was) was = before[b + 1]!;
      const rise = now[b]! - was;
      if (rise > 0) sum += shape.power === 1 ? rise : rise * Math.sqrt(rise);
    }
    values[t] = sum / bands;
  }
  return values;
}

/** What is there all the time is noise: what rises by less than so much of it counts little. */
const ABOVE_NOISE = 2;
/** A tenth of the windows are as soft or softer. */
const QUIET = 0.1;

/** How loud the strongest tone of loud windows is, and how loud each band is where little sounds. */
function levelsOf(count: number, bands: number, look: (t: number) => Float64Array) {
  const tried = Math.min(TRIED, count);
  const most: number[] = [];
  const each = Array.from({ length: bands }, () => new Float64Array(tried));
  for (let i = 0; i < tried; i++) {
    const now = look(Math.floor(((i + 0.5) * count) / tried));
    for (let b = 0; b < bands; b++) each[b]![i] = now[b]!;
    most.push(now.reduce((a, b) => Math.max(a, b), 0));
  }
  most.sort((a, b) => a - b);
  return {
    loudest: Math.max(most[Math.floor(tried * 0.9)]!, most.at(-1)! / 4),
    quiet: Float64Array.from(each, (row) => row.sort()[Math.floor(tried * QUIET)]!),
  };
}
