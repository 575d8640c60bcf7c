import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { songBars } from './stretches';

const PPQ = 480;
const BAR = 4 * PPQ;
/** Two phrases that repeat as A A B A, eight bars each. */
function drums(marked: boolean) {
  const track = new Track('Drums');
  for (let bar = 0; bar < 32; bar++) {
    const b = bar >= 16 && bar < 24;
    for (let beat = 0; beat < (b ? 2 : 4); beat++)
      track.note(10, bar * BAR + beat * PPQ, 60, b ? 45 : 36 + (bar % 2) * 2, 90);
  }
  const head = conductor();
  if (marked)
    head
      .marker(0, 'Verse')
      .marker(16 * BAR, 'Bridge')
      .marker(24 * BAR, ' ');
  return renditionOf(song([head, track]), targetWith({})).pieces[0]!;
}

describe('a song as bars', () => {
  it('counts what begins in each bar', () => {
    const { notes, barTicks, file } = songBars(drums(false));
    expect(notes).toEqual([...Array<number>(16).fill(4), ...Array<number>(8).fill(2), ...Array<number>(8).fill(4)]); // prettier-ignore
    expect(barTicks).toHaveLength(33);
    expect(barTicks[16]).toBe(16 * BAR);
    expect(file).toMatch(/\.mid$/);
  });
  it('names the sections where there are no markers, with how often each is heard', () => {
    const { stretches } = songBars(drums(false));
    expect(stretches.every((s) => s.by === 'section')).toBe(true);
    const bridge = stretches.find((s) => s.fromBar === 17)!;
    expect(bridge.times).toBeGreaterThan(0);
    expect(stretches.find((s) => s.fromBar === 1)!.times).toBeGreaterThan(1);
  });
  it('names what stands between markers, the last to the end', () => {
    const { stretches } = songBars(drums(true));
    expect(stretches.filter((s) => s.by === 'marker')).toEqual([
      { name: 'Verse', fromBar: 1, bars: 16, times: 1, by: 'marker' },
      { name: 'Bridge', fromBar: 17, bars: 8, times: 1, by: 'marker' },
      { name: 'Bar 25', fromBar: 25, bars: 8, times: 1, by: 'marker' },
    ]);
    // Beside markers a section is told only where it comes back.
    expect(stretches.filter((s) => s.by === 'section').every((s) => s.times > 1)).toBe(true);
  });
});
