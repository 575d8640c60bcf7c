import { describe, expect, it } from 'vitest';
import { type FeatureNote, scoreFeatures } from './features';
import { likeness, warp } from './warp';

const BEAT = 500;
const BARS = 40;
const drum = (ms: number, key: number): FeatureNote => ({
  fromMs: ms,
  toMs: ms + 80,
  key,
  velocity: 90,
  drum: true,
});

/** Drums alone for four bars, and again in the middle; between them a line that does not repeat. */
function song(): FeatureNote[] {
  const notes: FeatureNote[] = [];
  for (let beat = 0; beat < BARS * 4; beat++) {
    const ms = beat * BEAT;
    notes.push(drum(ms, beat % 2 === 0 ? 36 : 38), drum(ms + BEAT / 2, 42));
    const bar = Math.floor(beat / 4);
    if (bar < 4 || (bar >= 20 && bar < 24)) continue;
    const key = 48 + ((beat * beat * 7 + bar * 5) % 24);
    notes.push({ fromMs: ms, toMs: ms + 450, key, velocity: 80, drum: false });
  }
  return notes;
}
const LENGTH = BARS * 4 * BEAT;
const moved = (notes: readonly FeatureNote[], by: (ms: number) => number | null) =>
  notes.flatMap((n) => {
    const from = by(n.fromMs);
    return from === null ? [] : [{ ...n, fromMs: from, toMs: from + n.toMs - n.fromMs }];
  });

/** Where each frame of the score lies in the sound, milliseconds later; null where it does not. */
function later(notes: readonly FeatureNote[], by: (ms: number) => number | null, length: number) {
  const score = scoreFeatures(notes, LENGTH);
  const sound = scoreFeatures(moved(notes, by), length);
  const { hopMs, stretches } = warp(
    likeness(score, sound),
    score.frames,
    sound.frames,
    score.hopMs,
  );
  const at = new Map<number, number>();
  for (const s of stretches) s.score.forEach((f, k) => at.set(f, (s.sound[k]! - f) * hopMs));
  return (ms: number) => at.get(Math.round(ms / hopMs)) ?? null;
}

describe('the way through score and sound', () => {
  const notes = song();

  it('leads through bars of drums alone as through all others', () => {
    const at = later(notes, (ms) => ms + 1500, LENGTH + 1500);
    for (let ms = 1000; ms < LENGTH - 1000; ms += 250) expect(at(ms), `${ms} ms`).toBe(1500);
  });

  it('begins where both do, though drums alone fit later as well, and jumps where bars are missing', () => {
    const [from, to] = [26 * 4 * BEAT, 31 * 4 * BEAT];
    const gap = to - from;
    const at = later(notes, (ms) => (ms < from ? ms : ms >= to ? ms - gap : null), LENGTH - gap);
    for (let ms = 500; ms < from - 1000; ms += 250) expect(at(ms), `${ms} ms`).toBe(0);
    for (let ms = to + 1000; ms < LENGTH - 1000; ms += 250) expect(at(ms), `${ms} ms`).toBe(-gap);
  });

  it('follows an excerpt where it lies', () => {
    const [from, to] = [12 * 4 * BEAT, 30 * 4 * BEAT];
    const at = later(notes, (ms) => (ms >= from && ms < to ? ms - from : null), to - from);
    for (let ms = from + 1000; ms < to - 1000; ms += 250) expect(at(ms), `${ms} ms`).toBe(-from);
  });
});
