import { describe, expect, it } from 'vitest';
import { put } from './put';
import { linesOfMost, unbent } from './unbent';
import type { Stretch } from './warp';

const HOP_MS = 50;
const LENGTH_MS = 90_000;
const FRAMES = LENGTH_MS / HOP_MS;
/** A stroke of the music: ways slip by as much. */
const STROKE_MS = 200;

/** Moments on most strokes, so that one beside another meets many beginnings too. */
const moments = Float64Array.from(
  { length: LENGTH_MS / STROKE_MS },
  (_, i) => i * STROKE_MS,
).filter((_, i) => (i * 7) % 11 < 7);
const everyStroke = Float64Array.from({ length: LENGTH_MS / STROKE_MS }, (_, i) => i * STROKE_MS);
const heard = (where: (ms: number) => number | null, at = moments) => {
  const ms = Float64Array.from([...at].flatMap((m) => where(m) ?? []));
  return { ms, strength: new Float32Array(ms.length).fill(1) };
};
const stretch = (from: number, to: number, where: (ms: number) => number): Stretch => {
  const score = Int32Array.from({ length: to - from }, (_, k) => from + k);
  return { score, sound: score.map((f) => Math.max(0, Math.round(where(f * HOP_MS) / HOP_MS))) };
};
const simplest = (
  long: readonly Stretch[],
  where: (ms: number) => number | null,
  { every = false, later = 0 } = {},
) => {
  const at = every ? everyStroke : moments;
  const onsets = heard((ms) => (later === 0 ? where(ms) : where(ms)! + later), at);
  const putOne = (s: Stretch) => put(s, HOP_MS, at, onsets);
  const m = FRAMES + 200;
  const pairs = { alike: new Float32Array(FRAMES * m), n: FRAMES, m };
  // What sounds says something only where beginnings cannot: on every stroke there is one.
  if (every)
    for (let f = 0; f < FRAMES; f++)
      pairs.alike[f * m + Math.round((where((f + 0.5) * HOP_MS) ?? 0) / HOP_MS - 0.5)] = 1;
  const warp = { stretches: long, value: 0, hopMs: HOP_MS } as never;
  return unbent({ long, all: long.map(putOne) }, { pairs, warp, moments: at, onsets, putOne });
};
const furthest = (found: ReturnType<typeof simplest>, where: (ms: number) => number | null) =>
  Math.max(
    ...found.all.flatMap((one) =>
      one.places.map((p) => Math.abs(p.soundMs - (where(p.scoreMs) ?? NaN))),
    ),
  );

describe('a way that slips by strokes', () => {
  const slips = (ms: number) =>
    ms > 20_000 && ms < 38_000 ? STROKE_MS : ms > 70_000 ? -STROKE_MS : 0;

  it.each([
    ['at the same tempo', (ms: number) => ms + 1240],
    ['six hundredths faster', (ms: number) => 300 + ms * 0.94],
  ])('is the line that meets more, %s', (_, where) => {
    const found = simplest([stretch(0, FRAMES, (ms) => where(ms) + slips(ms))], where);
    expect(found.all).toHaveLength(1);
    expect(found.all[0]!.bends).toBe(false);
    expect(furthest(found, where)).toBeLessThan(12);
    expect(found.all[0]!.met).toBeGreaterThan(0.97);
  });

  it('and jumps to another place is one line, where that meets clearly more', () => {
    const where = (ms: number) => ms + 500;
    const elsewhere = (ms: number) => where(ms) + 5130;
    const found = simplest(
      [stretch(0, 800, elsewhere), stretch(800, FRAMES, (ms) => where(ms) + slips(ms))],
      where,
    );
    expect(found.long).toHaveLength(1);
    expect(furthest(found, where)).toBeLessThan(12);
  });

  it('lies where both are most alike, of strokes that are met as often', () => {
    const where = (ms: number) => ms + 1000;
    const far = (ms: number) => where(ms) + (ms < 70_000 ? 2 : 1) * STROKE_MS;
    // Strokes go on behind the end, and the first ones are silent: a line some of them later meets more.
    const how = { every: true, later: 8 * STROKE_MS };
    const found = simplest([stretch(0, FRAMES, far)], where, how);
    expect(found.all[0]!.bends).toBe(false);
    expect(furthest(found, where)).toBeLessThan(12);
  });

  it('is none where somebody played so', () => {
    const where = (ms: number) => ms + 900 * Math.sin(ms / 9000) + 1000;
    const found = simplest([stretch(0, FRAMES, where)], where);
    expect(found.all[0]!.bends).toBe(true);
    expect(furthest(found, where)).toBeLessThan(30);
  });

  it('bars that are missing stay missing, though the strokes go on as they were', () => {
    const cut = 40 * STROKE_MS;
    const where = (ms: number) => (ms < 40_000 ? ms : ms < 40_000 + cut ? null : ms - cut);
    const found = simplest(
      [stretch(0, 799, (ms) => ms), stretch(800 + cut / HOP_MS, FRAMES, (ms) => ms - cut)],
      where,
    );
    expect(found.long).toHaveLength(2);
    expect(furthest(found, where)).toBeLessThan(1);
  });
});

describe('the lines of most beginnings', () => {
  it('is found beside a line that lies strokes and a part of the tempo away', () => {
    const { ms } = heard((at) => 700 + at * 1.003);
    const [found] = linesOfMost(moments, { offset: 1100, ratio: 1.0005 }, { ms });
    for (const at of [0, LENGTH_MS])
      expect(Math.abs(found!.offset + found!.ratio * at - (700 + at * 1.003))).toBeLessThan(20);
    expect(Math.abs(found!.ratio - 1.003)).toBeLessThan(0.0003);
  });

  it('is found in half an hour of music, of some of its moments', () => {
    const many = Float64Array.from({ length: 12_000 }, (_, i) => i * 150 + ((i * 37) % 90));
    const ms = many.map((at) => 2000 + at * 0.9985);
    const [found] = linesOfMost(many, { offset: 1000, ratio: 1 }, { ms });
    for (const at of [0, many.at(-1)!])
      expect(Math.abs(found!.offset + found!.ratio * at - (2000 + at * 0.9985))).toBeLessThan(40);
  });

  it('is none where nothing begins near it, or hardly a note is there', () => {
    expect(linesOfMost(moments, { offset: 0, ratio: 1 }, { ms: new Float64Array() })).toEqual([]);
    const far = { offset: 500_000, ratio: 1 };
    expect(linesOfMost(moments, far, { ms: Float64Array.of(1, 2, 3) })).toEqual([]);
    expect(linesOfMost(Float64Array.of(5), far, { ms: Float64Array.of(1) })).toEqual([]);
  });
});
