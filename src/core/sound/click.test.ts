import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { mapsOf } from '../score/inventory';
import { toSchedule } from '../wire/to-view';
import { clickBeside, clicksOf, renderClicks, withCountIn } from './click';
import { renderGuide } from './guide';
import { noveltyOf, onsetsOf } from './onsets';
import { writeWave } from './render';

const track = new Track('Line')
  .note(1, 0, 480, 60, 100)
  .note(1, 960, 480, 64, 100)
  .note(1, 1440, 240, 67, 100);
const piece = renditionOf(song([conductor(), track], { endTick: 3840 }), targetWith({ seats: [] }))
  .pieces[0]!;
const { clock, bars } = mapsOf(piece.score);

describe('clicks', () => {
  const clicks = clicksOf(bars, clock, 3840);
  it('stand on every beat, the first of a bar accented', () => {
    expect(clicks.map((c) => c.ms)).toEqual([0, 500, 1000, 1500, 2000, 2500, 3000, 3500]);
    expect(clicks.filter((c) => c.accent).map((c) => c.ms)).toEqual([0, 2000]);
  });
  it('are counted in at the tempo of the start', () => {
    const { clicks: all, laterMs } = withCountIn(clicks, bars, clock, 1);
    expect(laterMs).toBe(2000);
    expect(all.map((c) => c.ms).slice(0, 5)).toEqual([0, 500, 1000, 1500, 2000]);
    expect(all).toHaveLength(12);
  });
  it('are heard where they are meant, in exactly the length that is asked for', () => {
    const sound = renderClicks(clicks, 22_050, 4000);
    expect(sound.channels[0]!.length).toBe(88_200);
    const { ms } = onsetsOf(sound, noveltyOf(sound));
    expect(ms.length).toBe(clicks.length);
    clicks.forEach((c, i) => expect(Math.abs(ms[i]! - c.ms)).toBeLessThan(3));
  });
  it('lie beside a recording on the other channel', () => {
    const recording = { rate: 8000, channels: [new Float32Array(8000).fill(0.25)] };
    const { channels } = clickBeside(recording, clicks);
    expect(channels.map((c) => c.length)).toEqual([8000, 8000]);
    expect(channels[0]![4321]).toBe(0.25);
    expect(Math.max(...channels[1]!)).toBeGreaterThan(0.3);
  });
});

it('a guide sounds the notes where they are, the same bytes every time', async () => {
  const bank = readFileSync('public/sounds.sf2');
  const render = async () => {
    const bytes = bank.buffer.slice(bank.byteOffset, bank.byteOffset + bank.length);
    const schedule = toSchedule(piece, { leftOutToo: false });
    return renderGuide(schedule, bytes as ArrayBuffer, { rate: 22_050, lengthMs: 1900 });
  };
  const guide = await render();
  expect(guide.channels[0]!.length).toBe(41_895);
  const { ms } = onsetsOf(guide, noveltyOf(guide));
  for (const at of [0, 1000, 1500])
    expect(Math.min(...ms.map((t) => Math.abs(t - at)))).toBeLessThan(15);
  expect(writeWave(await render(), 24).bytes).toEqual(writeWave(guide, 24).bytes);
}, 30_000);
