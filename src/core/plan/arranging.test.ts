import { describe, expect, it } from 'vitest';
import { bandSongs } from '../../../demo/band-songs';
import { mendingSongs } from '../../../demo/mending-songs';
import { builtIn, conductor, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import { comparePieces } from '../compare/by-id';
import { figuresOf } from '../compare/figures';
import { isDrumPart } from '../reading/importance/drums';
import { importanceOf } from '../reading/importance/importance';
import type { Rendition } from '../score/piece';
import { isIn, type Part } from '../score/score';
import { builtInTargets } from '../target/index';
import { kindOf, kindOfTarget } from '../target/seat-kind';
import type { Target } from '../target/schema';
import { baseOf } from './base';
import { mendMany, type MendReach } from './mend';
import { runPlan } from './run';

/** One of each kind of song: those of the lantern week's hands, and others'. */
const songs = [
  ...bandSongs().filter((_, n) => n % 4 === 2),
  ...mendingSongs().filter((s) => s.name.endsWith('-2.mid') && s.shape !== 'long free tempo'),
];
const hearing = builtInTargets.filter((t) => !t.carrier && !t.notes?.none && !t.captions);
const mended = (bytes: Uint8Array, target: Target) => {
  const base = baseOf(sourceFromBytes(bytes));
  const { rendition } = runPlan({ base, target, plan: { steps: [] } });
  const done = mendMany({ rendition, target, base, reach: 'drop', accept: true });
  return { base, ...done };
};

/** The song with one more track, which says the volume and program of channels and plays nothing. */
function withSetUp(bytes: Uint8Array, channels: readonly number[]): Uint8Array {
  const events = channels.flatMap((n) => [0, 0xb0 | n, 7, 100, 0, 0xc0 | n, 5]);
  const length = events.length + 4;
  const chunk = [0x4d, 0x54, 0x72, 0x6b, 0, 0, length >> 8, length & 255];
  const out = Uint8Array.of(...bytes, ...chunk, ...events, 0, 0xff, 0x2f, 0);
  out[11]!++;
  return out;
}

describe.each(songs.map((s) => [s.name, s.bytes] as const))('%s', (_, bytes) => {
  const all = hearing.map((target) => ({ target, ...mended(bytes, target) }));
  const { score } = all[0]!.base.rendition.pieces[0]!;
  const importance = importanceOf(score);
  const playing = score.parts.filter((p) => p.notes.count > 0);
  const origin = new Map<number, Part>();
  for (const part of playing) for (const id of part.notes.id) origin.set(id, part);

  it('what was pitched becomes no drum', () => {
    for (const { target, rendition } of all)
      for (const piece of rendition.pieces)
        for (const part of piece.score.parts.filter(isIn)) {
          const seat = target.seats.find((s) => s.id === part.seat);
          const kind = seat ? kindOf(seat, target) : kindOfTarget(target);
          if (kind !== 'drums') continue;
          for (const id of part.notes.origin)
            expect(id === 0 || isDrumPart(origin.get(id)!), `${target.id}: ${part.name}`).toBe(
              true,
            );
        }
  });

  it('no two seats have one line while another part is left out', () => {
    for (const { target, rendition } of all) {
      if (target.seats.some((s) => s.kind === 'file')) continue;
      const kinds = new Set(target.seats.map((s) => kindOf(s, target)));
      const fits = (p: Part) => kinds.has('any') || kinds.has(isDrumPart(p) ? 'drums' : 'pitched');
      const seatsOf = new Map<string, Set<Part>>();
      const heard = new Set<Part>();
      for (const { score: s } of rendition.pieces)
        for (const part of s.parts.filter(isIn)) {
          const own = seatsOf.get(part.seat ?? '') ?? new Set();
          seatsOf.set(part.seat ?? '', own);
          for (const id of part.notes.origin) {
            const from = origin.get(id);
            if (!from) continue;
            heard.add(from);
            own.add(from);
          }
        }
      const single = [...seatsOf]
        .filter(([, from]) => from.size === 1)
        .map(([, from]) => [...from][0]!);
      const doubled = single.some((a) =>
        single.some(
          (b) => a !== b && importance.alike(a, b) >= 0.8 && importance.alike(b, a) >= 0.8,
        ),
      );
      const left = playing.filter(
        (p) =>
          !heard.has(p) &&
          fits(p) &&
          p.notes.count >= score.lastId * 0.05 &&
          [...heard].every((h) => importance.alike(p, h) < 0.8),
      );
      expect(
        doubled ? left.map((p) => p.name) : [],
        `${target.id}: a double sits, and these are out`,
      ).toEqual([]);
    }
  });

  it('no seat stays empty that a part could take', () => {
    for (const { target, rendition } of all) {
      if (target.chart || target.seats.some((s) => s.kind === 'file' || s.hand)) continue;
      const parts = rendition.pieces.flatMap((p) => p.score.parts);
      const taken = new Set(parts.filter((p) => isIn(p) && p.notes.count > 0).map((p) => p.seat));
      const out = parts.filter((p) => p.leftOut && p.notes.count > 0);
      for (const seat of target.seats) {
        if (taken.has(seat.id) || seat.part !== undefined) continue;
        const kind = kindOf(seat, target);
        const could = out.filter((p) => kind === 'any' || (kind === 'drums') === isDrumPart(p));
        expect(
          could.map((p) => p.name),
          `${target.id}: ${seat.id}`,
        ).toEqual([]);
      }
    }
  });

  it('channels that are set up and play nothing change nothing of who plays', () => {
    const used = new Set(playing.map((p) => p.channel));
    const spare = Array.from({ length: 16 }, (_, n) => n).filter((n) => !used.has(n + 1));
    const sounds = (r: Rendition) =>
      r.pieces.map(({ score: s }) =>
        s.parts
          .filter((p) => isIn(p) && p.notes.count > 0)
          .map((p) => [p.name, p.seat, p.notes.count]),
      );
    for (const { target, rendition } of all) {
      const beside = mended(withSetUp(bytes, spare), target);
      expect([target.id, sounds(beside.rendition)]).toEqual([target.id, sounds(rendition)]);
    }
  });

  it('nothing becomes a click', () => {
    for (const { target, base, rendition } of all) {
      // In a chart what is shorter than a hold is a tap, and a drum has no length either.
      if (target.chart || kindOfTarget(target) === 'drums') continue;
      const { clicks } = comparePieces(base.rendition.pieces, rendition.pieces);
      expect([target.id, clicks]).toEqual([target.id, 0]);
    }
  });
});

describe('what other files look like', () => {
  const result = (tracks: readonly Track[], id: string, reach: MendReach = 'drop') => {
    const target = builtIn(id);
    const base = baseOf(song([conductor(), ...tracks]));
    const { rendition } = runPlan({ base, target, plan: { steps: [] } });
    const done = mendMany({ rendition, target, base, reach, accept: true });
    const stops = done.findings.flatMap((f) => (f.severity === 'stop' ? [f.key] : []));
    return { ...done, stops, figures: figuresOf(base.rendition, done.rendition, target) };
  };
  const hands = () => {
    const right = new Track('Right').program(0, 1, 0);
    const left = new Track('Left');
    for (let i = 0; i < 48; i++) {
      right.note(1, i * 240, 230, 72 + ((i * 5) % 8), 96);
      if (i % 4 === 0)
        for (const key of [43, 55, 59]) left.note(1, i * 240, 900, key + ((i / 4) % 3), 70);
    }
    return [right, left];
  };

  it('two hands on two tracks and one channel: spread over the voices, not thinned to one', () => {
    for (const id of ['tide-voices', 'fog-pier']) {
      const { figures, stops } = result(hands(), id);
      expect(stops).toEqual([]);
      expect(figures.tune).toBeGreaterThan(0.95);
      expect(figures.bass).toBeGreaterThan(0.95);
    }
  });

  it('a double of the chords gives its seat to the chords', () => {
    const chords = (name: string, channel: number, late: number) => {
      const track = new Track(name).program(0, channel, 4);
      for (let i = 0; i < 16; i++)
        for (const key of [53, 60, 64])
          track.note(channel, i * 1920 + late, 1200, key + ((i * 2) % 5), 80);
      return track;
    };
    const tune = new Track('Solo').program(0, 5, 65);
    for (let i = 0; i < 32; i++) tune.note(5, i * 960, 700, 72 + ((i * 3) % 7), 110);
    const tracks = [chords('One', 4, 0), tune, chords('Other', 6, 20)];
    const { figures, stops, applied } = result(tracks, 'fog-pier');
    expect(stops).toEqual([]);
    expect(applied[0]!.title).toBe(
      'Seat “Solo” at Horn 3, the chords of “One” at Horn 1 and Horn 2',
    );
    expect([figures.tune, figures.bass]).toEqual([1, 1]);
    expect(figures.chords).toBeGreaterThan(0.7);
    const { figures: voices } = result(tracks, 'tide-voices');
    expect([voices.tune, voices.bass, voices.chords]).toEqual([1, 1, 1]);
  });

  it('a line that has no breath goes round the idle horns, and no note is shortened', () => {
    const line = new Track('Long line').program(0, 5, 70);
    for (let i = 0; i < 40; i++) line.note(5, i * 960, 860, 48 + ((i * 5) % 11), 90);
    const { figures, stops, rendition, applied } = result([line], 'fog-pier');
    expect(stops).toEqual([]);
    expect(figures.tune).toBe(1);
    expect(applied.map((a) => a.title)).toContain('Alternate between Horn 1 and Horn 2');
    const lengths = rendition.pieces[0]!.score.parts.flatMap((p) =>
      isIn(p) ? Array.from(p.notes.end, (end, i) => end - p.notes.start[i]!) : [],
    );
    expect(lengths).toHaveLength(40);
    expect(Math.min(...lengths)).toBe(860);
  });

  it('who is left out plays on a horn while it rests, and nobody at once with another', () => {
    const span = (name: string, channel: number, from: number, to: number, key: number) => {
      const track = new Track(name).program(0, channel, 60);
      for (let q = from; q < to; q++) track.note(channel, q * 480, 240, key + ((q * q) % 7), 80);
      return track;
    };
    const tracks = [
      span('Late', 1, 96, 160, 60),
      span('All through', 2, 0, 160, 50),
      span('Most of it', 3, 16, 160, 44),
      span('Fourth', 4, 0, 128, 66),
    ];
    const { figures, stops, rendition, applied } = result(tracks, 'fog-pier');
    expect(stops).toEqual([]);
    expect(applied[0]!.title).toMatch(/, “[\w ]+” while Horn \d rests$/);
    expect([figures.tune, figures.bass]).toEqual([1, 1]);
    // That somebody rests who would be left out otherwise is who plays, and drops no note of a seat.
    const kept = result(tracks, 'fog-pier', 'keep');
    expect(kept.applied[0]!.title).toBe(applied[0]!.title);
    const bySeat = new Map<string, [start: number, end: number][]>();
    for (const { seat, notes } of rendition.pieces[0]!.score.parts.filter(isIn)) {
      for (let i = 0; i < notes.count; i++)
        bySeat.set(seat!, [...(bySeat.get(seat!) ?? []), [notes.start[i]!, notes.end[i]!]]);
    }
    expect(bySeat.size).toBe(3);
    // Nobody is left out, and of the four only what would be at once with another is missing.
    expect([...bySeat.values()].flat().length).toBeGreaterThanOrEqual(160 + 144 + 128 + 32);
    for (const list of bySeat.values()) {
      list.sort((a, b) => a[0] - b[0]);
      list.slice(1).forEach(([start], i) => expect(start).toBeGreaterThanOrEqual(list[i]![1]));
    }
  });

  it('lines alone, no chords and no keys: the hands get one each', () => {
    const lines = Array.from({ length: 9 }, (_, n) => {
      const track = new Track(`Line ${n}`).program(0, n + 1, 70);
      for (let i = 0; i < 40; i++)
        track.note(n + 1, i * 480, 400, (n < 2 ? 36 : 70) + ((i * (n + 3)) % 17), 80);
      return track;
    });
    const { figures, stops, rendition } = result(lines, 'two-hand-scroll');
    expect(stops).toEqual([]);
    expect([figures.tune, figures.bass]).toEqual([1, 1]);
    expect(figures.chords).toBeGreaterThan(0.95);
    const seats = rendition.pieces[0]!.score.parts.map((p) => p.seat);
    for (const hand of ['left', 'right']) expect(seats).toContain(hand);
  });
});
