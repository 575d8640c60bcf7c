import { expect, it, describe } from 'vitest';
import { bandSongs } from '../../../../demo/band-songs';
import { conductor, song, sourceFromBytes, Track } from '../../../../testing/score-builder';
import type { Score } from '../../score/score';
import { areCues } from './cues';
import { isDrumPart } from './drums';
import { BASS, BEAT, importanceOf, TUNE } from './importance';

const BAR = 1920;
const songs = bandSongs();

/** The same music with names that say nothing. */
const nameless = (score: Score): Score => ({
  ...score,
  parts: score.parts.map((p, i) => ({ ...p, name: `Track ${i}` })),
});

describe('who has what is heard, with the names hidden', () => {
  const told = songs.map((s) => {
    const { score } = sourceFromBytes(s.bytes, s.name);
    const found = importanceOf(nameless(score));
    const nameOf = (id: string) => score.parts.find((p) => p.id === id)!.name;
    const most = (by: 'tune' | 'bass') =>
      nameOf([...found.parts].sort((a, b) => b[by] - a[by])[0]!.part.id);
    return { s, score, tune: most('tune'), bass: most('bass') };
  });
  const share = (right: boolean[]) => right.filter(Boolean).length / right.length;

  it('the tune in seventeen of twenty songs, the bass in nineteen, drums always', () => {
    expect(share(told.map(({ s, tune }) => s.lead.includes(tune)))).toBeGreaterThanOrEqual(0.85);
    expect(
      share(told.filter(({ s }) => s.bass.length > 0).map(({ s, bass }) => s.bass.includes(bass))),
    ).toBeGreaterThanOrEqual(0.95);
    const drums = told.flatMap(({ s, score }) =>
      nameless(score).parts.flatMap((p, i) =>
        p.notes.count === 0 ? [] : [isDrumPart(p) === s.drums.includes(score.parts[i]!.name)],
      ),
    );
    expect(share(drums)).toBeGreaterThanOrEqual(0.99);
  });
});

/** A tune of four bars and again, with what is asked beside it. */
const withTune = (...others: Track[]) => {
  const tune = new Track('A');
  const steps = [0, 2, 4, 2, 5, 4, 2, 0];
  for (let i = 0; i < 32; i++)
    if (i % 8 !== 7) tune.note(1, i * 480, 440, 67 + steps[(i * 3) % 8]! + (i > 15 ? 2 : 0), 100);
  return song([conductor(), tune, ...others]).score;
};
const of = (score: Score, name: string) => {
  const found = importanceOf(score);
  return found.parts.find((p) => p.part.name === name)!;
};
const weights = (score: Score, name: string) => {
  const { part } = of(score, name);
  return Array.from(part.notes.id, (id) => importanceOf(score).weight[id]!);
};
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;

it('a flute that plays chords is chords, whatever it is called', () => {
  const flute = new Track('Flute').program(0, 2, 73);
  for (let bar = 0; bar < 8; bar++)
    for (const key of [72, 76, 79]) flute.note(2, bar * BAR, 1800, key, 60);
  const score = withTune(flute);
  expect(of(score, 'Flute').role).toBe('long chords');
  expect(of(score, 'A')).toMatchObject({ role: 'tune', tune: 1 });
});

it('who plays the same an octave off is a double, and is missed least', () => {
  const { part } = of(withTune(), 'A');
  const above = new Track('B').program(0, 2, 48);
  for (let i = 0; i < part.notes.count; i++)
    above.note(2, part.notes.start[i]!, 440, part.notes.noteNumber[i]! - 12, 70);
  const low = new Track('Low');
  for (let bar = 0; bar < 8; bar++) low.note(3, bar * BAR, 1800, 36 + (bar % 3), 80);
  const score = withTune(above, low);
  expect(of(score, 'B').role).toBe('double');
  expect(of(score, 'B').brief).toBe('100 % of it as “A”');
  expect(mean(weights(score, 'B'))).toBeLessThan(mean(weights(score, 'A')) / 3);
});

it('the same figure in every bar is no tune, though it is the highest', () => {
  const figure = new Track('C');
  for (let bar = 0; bar < 8; bar++)
    for (let s = 0; s < 16; s++)
      figure.note(2, bar * BAR + s * 120, 100, [84, 88, 91, 96][s % 4]!, 60);
  const score = withTune(figure);
  expect(of(score, 'A').tune).toBeGreaterThan(0.5);
  expect(of(score, 'C').role).toBe('figure');
});

it('a tune goes over with the pick-up of who comes, and not within the phrase of who goes', () => {
  const [first, second] = [new Track('First'), new Track('Second')];
  const tune = (to: Track, channel: number, from: number, bars: number) => {
    for (let i = 0; i < bars * 4; i++)
      if (i % 8 !== 7)
        to.note(channel, from + i * 480, 440, 67 + [0, 2, 4, 5, 4, 2, 0, 2][(i * 3) % 8]!, 100);
  };
  // The first ends on the third beat of bar 8; the second comes in with three eighths before bar 9.
  tune(first, 1, 0, 8);
  for (const eighth of [3, 2, 1]) second.note(2, 8 * BAR - eighth * 240, 220, 72 - eighth, 100);
  tune(second, 2, 8 * BAR, 8);
  const { score } = song([conductor(), first, second]);
  const spans = importanceOf(score).tune.map((s) => [s.part.name, s.fromTick]);
  expect(spans).toEqual([
    ['First', 0],
    ['Second', 8 * BAR - 720],
  ]);
  // One whose phrase ends behind the bar line keeps it to its end.
  const [late, other] = [new Track('Late'), new Track('Other')];
  tune(late, 1, 0, 8);
  late.note(1, 8 * BAR - 480, 470, 69, 100).note(1, 8 * BAR, 900, 67, 100);
  tune(other, 2, 8 * BAR + 960, 8);
  const long = song([conductor(), late, other]).score;
  expect(importanceOf(long).tune[1]!.fromTick).toBe(8 * BAR + 900);
});

it('every note has a weight and belongs to what it is; the tune weighs most, the bass next', () => {
  const low = new Track('D');
  const drums = new Track('E');
  const chords = new Track('F');
  for (let bar = 0; bar < 8; bar++) {
    low.note(2, bar * BAR, 900, 36 + (bar % 3), 90);
    for (const key of [60, 64, 67]) chords.note(3, bar * BAR, 900, key, 70);
    for (let q = 0; q < 4; q++) drums.note(10, bar * BAR + q * 480, 60, 38, 90);
  }
  const score = withTune(low, drums, chords);
  const { flags, weight } = importanceOf(score);
  for (const { notes } of score.parts)
    for (const id of notes.id) expect(weight[id]).toBeGreaterThan(0);
  const flagged = (name: string, flag: number) =>
    Array.from(of(score, name).part.notes.id, (id) => (flags[id]! & flag) !== 0).every(Boolean);
  expect(flagged('A', TUNE)).toBe(true);
  expect(flagged('D', BASS)).toBe(true);
  expect(flagged('E', BEAT)).toBe(true);
  expect(mean(weights(score, 'A'))).toBeGreaterThan(mean(weights(score, 'D')));
  expect(mean(weights(score, 'D'))).toBeGreaterThan(mean(weights(score, 'F')));
});

it('on the tenth channel are drums, unless it is named and played as a line', () => {
  const track = (name: string, keys: readonly number[], long: number) => {
    const made = new Track(name);
    keys.forEach((key, i) => made.note(10, i * 240, long, key, 90));
    return made;
  };
  const scale = Array.from({ length: 24 }, (_, i) => 60 + [0, 2, 4, 5, 7, 9, 11, 12][i % 8]!);
  const drum = (t: Track) =>
    isDrumPart(song([conductor(), t]).score.parts.find((p) => p.notes.count > 0)!);
  expect(drum(track('', [36, 42, 38, 42], 60))).toBe(true);
  expect(drum(track('', scale, 230))).toBe(true);
  expect(drum(track('Melody', scale, 230))).toBe(false);
  expect(drum(track('Melody', [36, 36, 38, 36], 60))).toBe(true);
});

it('cues are told by a name that says nothing else, where no sound was chosen', () => {
  const cues = (name: string, program?: number) => {
    const track = new Track(name).note(2, 0, 400, 60, 90);
    if (program !== undefined) track.program(0, 2, program);
    const { parts } = song([conductor(), track]).score;
    return areCues(parts.find((p) => p.notes.count > 0)!);
  };
  expect(['Lamp cues', 'Lights 2', 'Shutter', 'Cue line'].map((n) => cues(n))).not.toContain(false);
  // Songs and their parts are called by lights too.
  for (const name of ['Into the light', 'Light guitar', 'Lantern waltz', 'Light strings'])
    expect([name, cues(name)]).toEqual([name, false]);
  expect(cues('Light', 0)).toBe(false);
});
