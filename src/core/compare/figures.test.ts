import { describe, expect, it } from 'vitest';
import { compare, listen } from '../../../bench/mending/listener';
import { lineOf } from '../../../bench/mending/lines';
import { bandSongs } from '../../../demo/band-songs';
import { builtIn, conductor, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { mendMany } from '../plan/mend';
import { runPlan } from '../plan/run';
import { fileOf } from '../score/to-file';
import { writeSmf } from '../smf/write';
import type { StepCall } from '../steps/call';
import { figuresOf } from './figures';
import { musicIn, percentOf, sayFigures } from './say-figures';

const songs = bandSongs();
const target = builtIn('parlour-keyboard');
const after = (name: string, ...steps: readonly Omit<StepCall, 'on'>[]) => {
  const base = baseOf(sourceFromBytes(songs.find((s) => s.name === name)!.bytes, name));
  const plan = { steps: steps.map((s, i) => ({ key: `${i}`, on: true, ...s })) };
  const { rendition } = runPlan({ base, target, plan });
  return figuresOf(base.rendition, rendition, target);
};
const ref = (track: string, channel: number) => ({ source: 'main', track, channel, occurrence: 0 });
const NAME = 'off-the-beat-1.mid';
const parts = sourceFromBytes(songs.find((s) => s.name === NAME)!.bytes, NAME).score.parts;
const partOf = (name: string) => parts.find((p) => p.name === name)!.ref;

describe('the four figures', () => {
  it('are whole where nothing changed, was transposed alike, put an octave up or later', () => {
    const whole = { tune: 1, bass: 1, beat: 1, chords: 1 };
    expect(after(NAME)).toEqual(whole);
    const pitched = parts.filter((p) => p.channel !== 10 && p.notes.count > 0).map((p) => p.ref);
    expect(
      after(NAME, { step: 'transpose', params: { semitones: 5 }, scope: { parts: pitched } }),
    ).toEqual(whole);
    expect(
      after(NAME, {
        step: 'transpose',
        params: { semitones: -12 },
        scope: { parts: [partOf('Melodica')] },
      }),
    ).toEqual(whole);
  });
  it('fall by what is left out, each by its own', () => {
    const without = (name: string) =>
      after(NAME, { step: 'leave-out', params: {}, scope: { parts: [partOf(name)] } });
    expect(without('Melodica').tune).toBeLessThan(0.75);
    expect(without('Melodica')).toMatchObject({ bass: 1, beat: 1 });
    expect(without('Bass').bass).toBeLessThan(0.75);
    expect(without('Drums')).toMatchObject({ tune: 1, bass: 1, beat: 0, chords: 1 });
  });
  it('what is moved off its place among its neighbours is not heard there', () => {
    const one = after(NAME, {
      step: 'move-notes',
      params: { ms: 120 },
      scope: { parts: [ref('Melodica', partOf('Melodica').channel)] },
    });
    expect(one.tune).toBeLessThan(1);
  });
  it('a line alone has no chords, also where each note runs a little into the next', () => {
    const figures = (length: number, more: Track[] = []) => {
      const line = new Track('Curlew');
      for (let i = 0; i < 64; i++)
        line.note(1, i * 480, length, 62 + (i % 4) + (i % 7), 80 + (i % 9));
      const base = baseOf(song([conductor(), line, ...more]));
      const { rendition } = runPlan({ base, target, plan: { steps: [] } });
      return figuresOf(base.rendition, rendition, target);
    };
    expect(figures(400)).toMatchObject({ tune: 1, chords: null });
    expect(figures(510)).toMatchObject({ tune: 1, chords: null });
    const below = new Track('Peat').note(2, 960, 900, 48, 80);
    expect(figures(400, [below])).toMatchObject({ tune: 1, chords: 1 });
  });
  it('what a target cannot hold is left out, and said in one line', () => {
    const base = baseOf(sourceFromBytes(songs.find((s) => s.name === NAME)!.bytes, NAME));
    const none = { tune: null, bass: null, beat: null, chords: null };
    // Before anybody has a seat there is nothing to tell.
    expect(figuresOf(base.rendition, base.rendition, builtIn('fog-pier'))).toEqual(none);
    const seated = base.rendition.pieces.map((p) => ({
      ...p,
      score: { ...p.score, parts: p.score.parts.map((o) => ({ ...o, seat: 'horn-1' })) },
    }));
    const pier = figuresOf(base.rendition, { pieces: seated }, builtIn('fog-pier'));
    expect(pier).toEqual({ tune: 1, bass: 1, beat: null, chords: 1 });
    expect(sayFigures(pier)).toBe('tune 100 %, bass 100 %, chords 100 %');
    const crate = figuresOf(base.rendition, base.rendition, builtIn('stomp-crate'));
    expect(sayFigures(crate)).toBe('beat 100 %');
    expect(musicIn({ tune: null, bass: null, beat: null, chords: null })).toBeNull();
    expect([0.9999, 0.0001, 1, 0].map(percentOf)).toEqual([99, 1, 100, 0]);
  });
});

it('agree within five points with an ear that is not ours', () => {
  const apart: number[] = [];
  for (const id of ['bell-loft', 'fog-pier', 'two-hand-scroll', 'ferry-barrel'])
    for (const s of songs.filter((_, n) => n % 4 === 1)) {
      const device = builtIn(id);
      const base = baseOf(sourceFromBytes(s.bytes, s.name));
      const { rendition } = runPlan({ base, target: device, plan: { steps: [] } });
      const done = mendMany({ rendition, target: device, base, reach: 'drop', accept: true });
      const ours = figuresOf(base.rendition, done.rendition, device).tune!;
      const came = listen(s.bytes);
      const [file] = done.rendition.pieces.map((p) => listen(writeSmf(fileOf(p))));
      const line = lineOf(came, s.lead);
      const { kept } = compare(line, file!, { toleranceMs: 50, stretch: 0.03 });
      apart.push(Math.abs(ours - kept / line.length));
    }
  apart.sort((a, b) => a - b);
  expect(apart[Math.floor(apart.length / 2)]).toBeLessThanOrEqual(0.05);
});
