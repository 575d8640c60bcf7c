import { describe, expect, it } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { mapsOf } from '../score/inventory';
import { endTickOf } from '../score/score';
import { chartWorth } from './chart-worth';

const BARS = 16;
const of = (play: (track: Track) => void) => {
  const track = new Track('Part');
  play(track);
  const { score } = song([conductor(), track], { endTick: BARS * 1920 });
  const part = score.parts[0]!;
  return chartWorth(part.notes, mapsOf(score), endTickOf(score))!;
};
/** A line of eighths that walks up and down. */
const walk = (track: Track, bars = BARS) => {
  for (let i = 0; i < bars * 8; i++) track.note(1, i * 240, 200, 60 + Math.abs((i % 14) - 7), 80);
};

describe('how a part would play as a chart', () => {
  it('tells what it measured', () => {
    const line = of(walk);
    expect(line.strikesASecond).toBeCloseTo(4, 1);
    expect(line.keys).toBe(8);
    expect(line.repeats).toBe(0);
    expect(line.bars).toBe(1);
    expect(line.why).toBe('4 strikes a second, 8 keys, 0 % struck again, in 100 % of the bars');
    expect(line.worth).toBe(1);
  });
  it.each([
    [
      'one key again and again',
      (t: Track) => {
        for (let i = 0; i < 128; i++) t.note(1, i * 240, 200, 60, 80);
      },
    ],
    [
      'a drone',
      (t: Track) => {
        for (let i = 0; i < 4; i++) t.note(1, i * 7680, 7000, 60 + i, 80);
      },
    ],
    [
      'a roll that no hand follows',
      (t: Track) => {
        for (let i = 0; i < 900; i++) t.note(1, i * 30, 20, 60 + (i % 9), 80);
      },
    ],
    [
      'wide chords',
      (t: Track) => {
        for (let i = 0; i < 64; i++)
          for (const up of [0, 4, 7, 11]) t.note(1, i * 480, 400, 50 + (i % 8) + up, 80);
      },
    ],
    ['a line that rests most of the time', (t: Track) => walk(t, 2)],
  ])('%s is worth less than a line', (_, play) => {
    expect(of(play).worth).toBeLessThan(of(walk).worth * 0.75);
  });
  it('a rest is not counted into the density', () => {
    const rests = of((t) => {
      for (let bar = 0; bar < BARS; bar += 8)
        for (let i = 0; i < 16; i++) t.note(1, bar * 1920 + i * 240, 200, 60 + (i % 8), 80);
    });
    expect(rests.strikesASecond).toBeGreaterThan(3.5);
  });
  it('a part without notes has no worth to tell', () => {
    const { score } = song([conductor(), new Track('Empty').program(0, 1, 3)]);
    const part = score.parts[0]!;
    expect(chartWorth(part.notes, mapsOf(score), endTickOf(score))).toBeNull();
  });
});
