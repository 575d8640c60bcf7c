import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { importanceOf } from '../reading/importance/importance';
import { mapsOf } from '../score/inventory';
import { isDrumPart } from '../reading/importance/drums';
import { inRests } from './in-rests';

const QUARTER = 480;

const horns = (count: number, more: object = {}) =>
  targetWith({
    seats: Array.from({ length: count }, (_, n) => ({
      kind: 'channel' as const,
      id: `horn-${n + 1}`,
      name: `Horn ${n + 1}`,
      channel: n + 1,
      optional: true,
    })),
    polyphony: { together: 1, over: 'seat' },
    ...more,
  });

/** A line of quarters between two of them, keys of its own. */
const line = (name: string, channel: number, ...spans: readonly [from: number, to: number][]) => {
  const track = new Track(name);
  spans.forEach(([from, to]) => {
    for (let q = from; q < to; q++)
      track.note(channel, q * QUARTER, QUARTER - 20, 40 + channel * 7 + ((q * q) % 5), 80);
  });
  return track;
};

function filled(tracks: readonly Track[], seats: number, target = horns(seats)) {
  const source = song([conductor(), ...tracks]);
  const parts = source.score.parts.filter((p) => p.notes.count > 0);
  const seated = target.seats.map((seat, n) => ({ part: parts[n]!, seat }));
  const over = parts.slice(seats);
  const maps = mapsOf(source.score);
  return { seated, over, got: inRests(target, seated, over, maps, importanceOf(source.score)) };
}

describe('who plays while another rests', () => {
  it('takes the rests, and is silent wherever the other plays', () => {
    const { got } = filled([line('Tune', 1, [32, 64]), line('Other', 2, [0, 96])], 1);
    expect(got).toHaveLength(1);
    const [{ part, silent, notes }] = got as [(typeof got)[0]];
    expect(part.name).toBe('Other');
    expect(silent).toEqual([{ fromTick: 32 * QUARTER, toTick: 64 * QUARTER - 20 }]);
    expect(notes).toBe(64);
  });

  it('nobody comes in where the rest is short, or brings hardly a note', () => {
    const often = line('Tune', 1, ...[0, 10, 20, 30].map((q): [number, number] => [q, q + 4]));
    expect(filled([often, line('Other', 2, [0, 34])], 1).got).toEqual([]);
    expect(filled([line('Tune', 1, [32, 64]), line('Other', 2, [0, 8])], 1).got).toEqual([]);
  });

  it('no drums, no double of what is heard; lanes, and seats of several voices, never', () => {
    const late = line('Tune', 1, [64, 128]);
    expect(filled([late, line('Beat', 10, [0, 64])], 1).got).toEqual([]);
    const again = new Track('Again');
    for (let q = 0; q < 64; q++) again.note(3, q * QUARTER, 300, 54 + ((q * q) % 5), 70);
    const other = line('Other', 2, [0, 64]);
    expect(filled([late, other, again], 2).got).toEqual([]);
    for (const more of [{ polyphony: { together: 2, over: 'seat' } }, { polyphony: undefined }])
      expect(filled([late, other], 1, horns(1, more)).got).toEqual([]);
  });

  it('of long rests who is missed most comes first, then another in what is left', () => {
    const { got } = filled(
      [line('Tune', 1, [96, 128]), line('Long', 2, [0, 64]), line('Short', 3, [40, 96])],
      1,
    );
    expect(got.map((g) => g.part.name).sort()).toEqual(['Long', 'Short']);
    expect(new Set(got.map((g) => g.seat.id))).toEqual(new Set(['horn-1']));
  });

  it('over random songs: one at a time on each seat, each part once, each long enough', () => {
    const spans = fc.array(fc.tuple(fc.nat(120), fc.integer({ min: 1, max: 40 })), {
      minLength: 1,
      maxLength: 4,
    });
    fc.assert(
      fc.property(fc.array(spans, { minLength: 2, maxLength: 7 }), (list) => {
        const tracks = list.map((own, n) =>
          line(`Line ${n}`, n + 1, ...own.map(([q, len]): [number, number] => [q, q + len])),
        );
        const seats = Math.min(2, tracks.length - 1);
        const { seated, over, got } = filled(tracks, seats);
        expect(new Set(got.map((g) => g.part)).size).toBe(got.length);
        for (const g of got) expect(over).toContain(g.part);
        for (const { seat, part } of seated) {
          const playing = [part.notes, ...got.filter((g) => g.seat === seat).map(heardOf)];
          const begins = playing.map((p) =>
            Array.from({ length: p.count }, (_, i) => p.start[i]!).filter((t) => t >= 0),
          );
          // Two that change places do not strike in each other's stretches.
          begins.forEach((one, a) =>
            begins.slice(a + 1).forEach((other) => {
              expect(one.filter((t) => other.includes(t))).toEqual([]);
            }),
          );
        }
        for (const g of got) {
          expect(isDrumPart(g.part)).toBe(false);
          expect(heardOf(g).start.filter((t) => t >= 0).length).toBe(g.notes);
          expect(g.notes).toBeGreaterThanOrEqual(12);
        }
      }),
      { numRuns: 60 },
    );
  });
});

/** Starts of what a part plays outside of where it is silent; −1 of the others. */
const heardOf = ({ part, silent }: ReturnType<typeof filled>['got'][number]) => ({
  count: part.notes.count,
  start: Array.from(part.notes.start, (t) =>
    silent.some((s) => t >= s.fromTick && t < s.toTick) ? -1 : t,
  ),
});
