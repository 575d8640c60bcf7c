import { describe, expect, it } from 'vitest';
import { bandSongs } from '../../../demo/band-songs';
import { moduleFromScore } from '../../../demo/modules/from-score';
import { seeded } from '../../../demo/song';
import { renderTune } from '../../../testing/render-tune';
import { sourceFromBytes, targetWith } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { align } from '../sound/align/align';
import type { Alignment } from '../sound/align/alignment';
import { soundFeatures } from '../sound/align/features';
import { CLASSES, SIZE, heardFeatures, standingOut, type Features } from '../sound/align/frames';
import { betterThan } from '../sound/align/sure';
import { notesIn } from '../sound/beside';
import { factsOf } from '../sound/facts';
import type { Samples } from '../sound/samples';
import { likeOf } from './like';
import { mix } from './module/mix';
import { knownOf, knowModule } from './module/open';
import type { KnownModule } from './module/known';
import { openSource } from './source';

const LATE_MS = 1700;
/** By how much the samples sound off what is written: an instrument each, as they were found. */
const OFF = [-5, 4, 7, -3, 10, -8, 2, -11];

/** A song whose samples sound anywhere but where it is written. */
function outOfPlace(n: number): KnownModule {
  const song = bandSongs()[n]!;
  const { score } = sourceFromBytes(song.bytes, song.name);
  const made = moduleFromScore(score, 'xm', 31 + n, { rowsPerBeat: 4, speed: 6 })!;
  const { module } = knowModule(made.bytes)!;
  return knownOf({
    ...module,
    samples: module.samples.map((s, i) =>
      s === null || made.isDrum[i] ? s : { ...s, rate: s.rate * 2 ** (OFF[i % OFF.length]! / 12) },
    ),
  });
}

/** As another program plays it, in a room, and begun late. */
function played(known: KnownModule): Samples {
  const rate = 22_050;
  const dry = mix(known, { rate, between: 'cubic', softened: 0 });
  const roll = seeded(9);
  const late = (LATE_MS * rate) / 1000;
  return {
    rate,
    channels: dry.channels.slice(0, 1).map((c) => {
      const out = new Float32Array(c.length + late);
      for (let i = 0; i < out.length; i++)
        out[i] =
          0.7 * (c[i - late] ?? 0) +
          0.2 * (c[i - late - 1300] ?? 0) +
          0.02 * (roll(2001) / 1000 - 1);
      return out;
    }),
  };
}

const sourceOf = (module: KnownModule) =>
  openSource(new Uint8Array(), { key: 'main', name: 'song.xm', sha256: '0', module }).source!;

describe('a module beside a recording of it', () => {
  const [known, other] = [outOfPlace(36), outOfPlace(19)];
  const base = baseOf([sourceOf(known)]);
  const [piece] = base.rendition.pieces;
  const heard = factsOf(played(known));
  const lies = (of: Piece, isKnown: boolean, { onsets, features } = heard) => {
    const { clock } = mapsOf(of.score);
    const notes = notesIn(of, clock);
    const scoreMs = notes.reduce((ms, n) => Math.max(ms, n.toMs), 0) + 500;
    const like = isKnown ? (likeOf(base, of, clock)!() ?? undefined) : undefined;
    return align({ notes, scoreMs, onsets, features, like });
  };

  const isSure = (found: Alignment | null) => found?.doubt === null;

  it('is found by what its machine plays, where its notes tell other pitches', () => {
    expect(isSure(lies(piece!, false))).toBe(false);
    const found = lies(piece!, true)!;
    expect(isSure(found)).toBe(true);
    expect(Math.abs(found.offsetMs - LATE_MS)).toBeLessThan(10);
    expect(found.kind).toBe('offset');
  });
  it('where sound is dense it is what stands out that tells the place, whatever silence follows', () => {
    const sound = soundFeatures(mix(known, { rate: 22_050, between: 'linear', softened: 0.5 }));
    // A floor under all tones, as distorted guitars and long cymbals leave it.
    const dense = (of: Features): Features => ({
      ...of,
      values: of.values.map((v, i) => (i % SIZE < CLASSES * 2 ? 0.25 + 0.15 * v : v)),
    });
    const endMs = sound.frames * sound.hopMs;
    const longer = (of: Features) =>
      heardFeatures(of, endMs + 5000, (ms) => (ms < endMs ? ms : null));
    const other = mix(known, { rate: 32_000, between: 'cubic', softened: 0 });
    const [floor, recording] = [dense(sound), dense(soundFeatures(other))];
    for (const of of [standingOut(floor), longer(standingOut(floor))]) {
      const { song, place } = betterThan(of, standingOut(recording), true);
      expect(song).toBeGreaterThan(0.6);
      expect(place).toBeGreaterThan(0.3);
    }
    const asTheyAre = [floor, longer(floor)].map((of) => betterThan(of, recording, true));
    expect(Math.min(...asTheyAre.flatMap((b) => [b.song, b.place]))).toBeLessThan(0.3);
  });
  it('is not found in the sound of another song', () => {
    expect(isSure(lies(piece!, true, factsOf(played(other))))).toBe(false);
  });
  it('is found as well where a synthesiser plays its notes as they are written', () => {
    const { clock } = mapsOf(piece!.score);
    const tune = notesIn(piece!, clock).map((n) => ({
      ms: n.fromMs + LATE_MS,
      lengthMs: n.toMs - n.fromMs,
      key: n.key,
      velocity: n.velocity,
      drum: n.drum,
    }));
    const found = lies(piece!, true, factsOf(renderTune(tune, { rate: 16_000, seed: 4 })))!;
    expect(isSure(found)).toBe(true);
    expect(Math.abs(found.offsetMs - LATE_MS)).toBeLessThan(15);
  });
  it('is found as its plan leaves its time: behind bars of rest', () => {
    const call = (step: string, params: unknown) => ({
      ...{ key: step, step, params, scope: {}, on: true },
    });
    const run = (...steps: ReturnType<typeof call>[]) =>
      runPlan({ base, target: targetWith({}), plan: { steps } }).rendition.pieces[0]!;
    const barMs = mapsOf(piece!.score).clock.msAt(mapsOf(piece!.score).bars.barStart(1));
    const rested = lies(run(call('rest-at-start', { bars: 2 })), true)!;
    expect(isSure(rested)).toBe(true);
    expect(Math.abs(rested.offsetMs - (LATE_MS - 2 * barMs))).toBeLessThan(10);
  });
});
