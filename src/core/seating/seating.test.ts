import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mendingSongs } from '../../../demo/mending-songs';
import {
  builtIn,
  conductor,
  song,
  sourceFromBytes,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { mapsOf } from '../score/inventory';
import { seatByDefault } from '../plan/seating';
import { assign } from './assign';
import { fitSeats } from './fit-seats';
import { importanceOf } from '../reading/importance/importance';
import { rolesIn } from '../reading/importance/names';
import { sharing } from './together';

/** Every way there is, for small tables. */
function bestByTrying(worth: number[][], columns: number): number {
  const go = (row: number, used: number): number => {
    if (row === worth.length) return 0;
    let best = go(row + 1, used);
    for (let c = 0; c < columns; c++)
      if (!(used & (1 << c))) best = Math.max(best, worth[row]![c]! + go(row + 1, used | (1 << c)));
    return best;
  };
  return go(0, 0);
}

describe('the assignment', () => {
  it('is the best there is, each to one, whichever are more', () => {
    const table = fc
      .tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 }))
      .chain(([rows, columns]) =>
        fc.tuple(
          fc.constant(columns),
          fc.array(
            fc.array(fc.integer({ min: 0, max: 100 }), { minLength: columns, maxLength: columns }),
            { minLength: rows, maxLength: rows },
          ),
        ),
      );
    fc.assert(
      fc.property(table, ([columns, worth]) => {
        const found = assign(worth, columns);
        const taken = found.filter((c) => c >= 0);
        expect(new Set(taken).size).toBe(taken.length);
        const sum = found.reduce((n, c, r) => n + (c < 0 ? 0 : worth[r]![c]!), 0);
        expect(sum).toBe(bestByTrying(worth, columns));
      }),
    );
  });
  it('of thousands of parts and few seats is found at once', () => {
    const worth = Array.from({ length: 20_000 }, (_, r) => [
      (r * 7919) % 1000,
      (r * 104_729) % 1000,
    ]);
    expect(assign(worth, 2).filter((c) => c >= 0)).toHaveLength(2);
  });
});

it.each([
  ['Piano right', 'right'],
  ['Mano izquierda', 'left'],
  ['Linke Hand', 'left'],
  ['Schlagzeug', 'drums'],
  ['E-Bass', 'bass'],
  ['Lead whistle', 'lead'],
  ['Lamp cues', 'cues'],
] as const)('“%s” speaks of %s', (name, role) => expect(rolesIn(name)).toContain(role));

const fit = (source: ReturnType<typeof song>, id: string) => {
  const target = builtIn(id);
  return fitSeats(
    source.score.parts,
    target.seats,
    target,
    mapsOf(source.score),
    importanceOf(source.score),
  );
};

describe('who plays', () => {
  it('hands by what they are called', () => {
    const bytes = mendingSongs().find((s) => s.name === 'piano-on-two-tracks-1.mid')!.bytes;
    const { taken, clear } = fit(sourceFromBytes(bytes), 'two-hand-scroll');
    const seated = Object.fromEntries(taken.map((f) => [f.seat.id, f.part.name]));
    expect(seated).toMatchObject({ left: 'Piano left', right: 'Piano right' });
    expect(clear).toBe(true);
  });
  it('drums only where drums belong', () => {
    const kit = new Track('Kit').note(10, 0, 60, 36, 100);
    const line = new Track('Tune').note(2, 0, 400, 64, 90);
    const { taken } = fit(song([conductor(), kit, line]), 'fog-pier');
    expect(taken.map((f) => f.part.name)).toEqual(['Tune']);
  });
  it('names of seats speak for parts, and decide only where half of the parts have one', () => {
    const names = builtIn('fog-pier').seats.map((s) => s.name);
    const tune = new Track('Gulls');
    const low = new Track('Hull');
    for (let i = 0; i < 32; i++) {
      tune.note(1, i * 240, 220, 67 + ((i * 5) % 8), 100);
      low.note(2, i * 240, 220, 40 + ((i * 3) % 7), 90);
    }
    const held = names.map((name, n) =>
      new Track(name).note(3 + n, 3840 + 960 * n, 400, 60 + 4 * n, 60),
    );
    const others = ['Ropes', 'Tar', 'Nets'].map((name, n) =>
      new Track(name).note(9 - n, 1920 * n, 400, 62, 60),
    );
    const who = (...more: Track[]) => {
      const { taken } = fit(song([conductor(), tune, low, ...held, ...more]), 'fog-pier');
      return taken.map((f) => f.part.name);
    };
    expect(who(...others)).toEqual(expect.arrayContaining(['Gulls', 'Hull']));
    // With two lines beside them the file has the names of this target.
    expect(who().sort()).toEqual([...names].sort());
  });
  it('who has the name of a seat and its channel sits there, whoever else is in the file', () => {
    const target = builtIn('fog-pier');
    const [seat] = target.seats as { id: string; name: string; channel: number }[];
    const others = ['Ropes', 'Tar', 'Nets', 'Hull', 'Gulls'].map((name, n) =>
      new Track(name).note(11 + n, 480 * n, 400, 62 + n, 60),
    );
    const at = (channel: number) => {
      const named = new Track(seat!.name).note(channel, 0, 400, 60, 90);
      const { score } = song([conductor(), named, ...others]);
      return seatByDefault(score, target).parts.find((p) => p.name === seat!.name)!.seat;
    };
    expect(at(seat!.channel)).toBe(seat!.id);
    expect(at(9)).toBeNull();
  });
  it('in whatever order the parts stand in the file', () => {
    const tracks = () => [
      new Track('Whistle').note(1, 0, 400, 76, 90).note(1, 480, 400, 74, 90),
      new Track('Bass').note(2, 0, 400, 40, 90),
      new Track('Chords').note(3, 0, 900, 60, 70).note(3, 0, 900, 64, 70),
    ];
    const way = (order: number[]) => {
      const all = tracks();
      const { taken } = fit(song([conductor(), ...order.map((i) => all[i]!)]), 'tide-voices');
      return taken.map((f) => `${f.part.name} at ${f.seat.id}`).sort();
    };
    expect(way([2, 0, 1])).toEqual(way([0, 1, 2]));
    expect(way([1, 2, 0])).toEqual(way([0, 1, 2]));
  });
  it('a single seat of one voice is no matter of course where several could play', () => {
    const bytes = mendingSongs().find((s) => s.name === 'choir-1.mid')!.bytes;
    const { all, clear } = fit(sourceFromBytes(bytes), 'song-board');
    expect(all.length).toBe(4);
    expect(clear).toBe(false);
  });
});

describe('parts that share a seat', () => {
  const line = (name: string, channel: number, key: number, from = 0) =>
    new Track(name).note(channel, from, 400, key, 90).note(channel, from + 480, 400, key + 2, 90);
  const songOf = (...tracks: Track[]) => {
    const { score } = song([conductor(), ...tracks]);
    return {
      parts: score.parts.filter((p) => p.notes.count > 0),
      importance: importanceOf(score),
    };
  };
  const loft = builtIn('bell-loft');
  const [bells] = loft.seats;

  it('as many as can be heard at once, the others not; drums never', () => {
    const five = [
      line('First', 1, 60),
      line('Second', 2, 64),
      line('Third', 3, 67),
      line('Fourth', 4, 72),
      line('Fifth', 5, 76),
      line('Beat', 10, 36),
    ];
    const { parts, importance } = songOf(...five);
    const shared = sharing(loft, [{ part: parts[0]!, seat: bells! }], parts.slice(1), importance);
    expect(shared).toHaveLength(3);
    expect(shared.map((s) => s.part.name)).not.toContain('Beat');
    // What plays when the others rest finds room.
    const six = songOf(...five, line('Late', 6, 60, 4800));
    const all = sharing(
      loft,
      [{ part: six.parts[0]!, seat: bells! }],
      six.parts.slice(1),
      six.importance,
    );
    expect(all.map((s) => s.part.name)).toContain('Late');
  });
  it('not where one part is a seat’s, or one voice', () => {
    const { parts, importance } = songOf(line('First', 1, 60), line('Second', 2, 64));
    for (const id of ['tide-voices', 'lantern-rail', 'marsh-duel', 'song-board'])
      expect(
        sharing(
          builtIn(id),
          [{ part: parts[0]!, seat: builtIn(id).seats[0]! }],
          parts.slice(1),
          importance,
        ),
        id,
      ).toEqual([]);
  });
});

it('of two parts alike the one that the seat can play is worth more, by the share of its notes', () => {
  const target = targetWith({
    seats: [{ kind: 'channel', id: 'low', name: 'Stair', channel: 3, track: 'Stair' }],
    notes: { lowest: 60, highest: 65 },
  });
  const part = (name: string, inside: number) => {
    const track = new Track(name);
    // From F sharp to B no octave helps.
    for (let i = 0; i < 8; i++)
      track.note(name === 'P' ? 5 : 6, i * 480, 240, (i < inside ? 60 : 66) + (i % 6), 90);
    return track;
  };
  const worthOf = (inside: number, other: number) => {
    const { score } = song([conductor(), part('P', inside), part('Q', other)]);
    const { all } = fitSeats(score.parts, target.seats, target, mapsOf(score), importanceOf(score));
    return ['P', 'Q'].map((name) => all.find((f) => f.part.name === name)!);
  };
  const [all, half] = worthOf(8, 4);
  expect(all!.worth - half!.worth).toBeGreaterThan(0.15);
  expect(half!.why).toContain('50 % in reach');
  const [none, some] = worthOf(0, 8);
  expect(some!.worth - none!.worth).toBeGreaterThan(0.25);
});
