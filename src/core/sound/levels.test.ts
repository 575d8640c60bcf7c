import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { toSchedule } from '../wire/to-view';
import { levelled, SILENT_DB } from './levels';
import { LoudnessMeter } from './loudness';

const bank = readFileSync('public/sounds.sf2');
const bytes = () => bank.buffer.slice(bank.byteOffset, bank.byteOffset + bank.byteLength);
const target = targetWith({ seats: [] });
const two = song([
  conductor(),
  new Track('Loud').program(0, 1, 0).note(1, 0, 1800, 60, 120).note(1, 1920, 1800, 64, 120),
  new Track('Soft').program(0, 2, 48).note(2, 0, 1800, 72, 40),
]);
const schedule = toSchedule(renditionOf(two, target).pieces[0]!, { leftOutToo: false });
const parts = two.score.parts.map((p) => p.name);
const stretch = { fromMs: 0, toMs: 2000 };

describe('loudness', () => {
  it('is measured for one part alone, the same each time, and told when nothing sounds', async () => {
    const meter = await LoudnessMeter.of(bytes());
    const loud = meter.of(schedule, parts.indexOf('Loud'), stretch);
    const soft = meter.of(schedule, parts.indexOf('Soft'), stretch);
    expect(loud).toBeGreaterThan(soft);
    expect(soft).toBeGreaterThan(SILENT_DB);
    expect(meter.of(schedule, parts.indexOf('Loud'), stretch)).toBeCloseTo(loud, 3);
    expect(meter.of(schedule, 99, stretch)).toBe(SILENT_DB);
    expect(meter.of(schedule, 0, { fromMs: 500, toMs: 500 })).toBe(SILENT_DB);
  });
  it('a part that is levelled is louder by about as much as was asked', async () => {
    const meter = await LoudnessMeter.of(bytes());
    const part = parts.indexOf('Soft');
    const before = meter.of(schedule, part, stretch);
    for (const db of [-4, 6]) {
      const after = meter.of(levelled(schedule, part, db), part, stretch);
      expect(after - before).toBeGreaterThan(db - 2);
      expect(after - before).toBeLessThan(db + 2);
    }
  });
});

describe('a schedule with one part levelled', () => {
  const onsOf = (s: typeof schedule, part: number) =>
    [...s.status.keys()]
      .filter((i) => s.part[i] === part && (s.status[i]! & 0xf0) === 0x90 && s.data2[i]! > 0)
      .map((i) => s.data2[i]!);
  it('leaves the others, the ends of notes and the bytes it was given', () => {
    const seen = [...schedule.data2];
    const part = parts.indexOf('Soft');
    const made = levelled(schedule, part, 6);
    expect(onsOf(made, part)).toEqual([Math.round(40 * 10 ** (6 / 40))]);
    expect(onsOf(made, parts.indexOf('Loud'))).toEqual(onsOf(schedule, parts.indexOf('Loud')));
    expect([...schedule.data2]).toEqual(seen);
  });
  it('stays within velocities, and never makes a note an end', () => {
    const part = parts.indexOf('Loud');
    expect(onsOf(levelled(schedule, part, 40), part)).toEqual([127, 127]);
    expect(onsOf(levelled(schedule, part, -120), part)).toEqual([1, 1]);
  });
  it('is the same object where there is nothing to do', () => {
    expect(levelled(schedule, 0, 0)).toBe(schedule);
  });
});
