import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { bandSongs } from '../../../../demo/band-songs';
import { moduleFromScore } from '../../../../demo/modules/from-score';
import { sourceFromBytes } from '../../../../testing/score-builder';
import { DRUM_ROLES } from './samples/roles';
import { smfWeek } from '../../../../demo/week';
import { eelMarket } from '../../../../demo/modules/eel-market';
import type { TuneCell } from '../../../../demo/modules/tune';
import { writeXm } from '../../../../demo/modules/write-xm';
import { moduleOf, moduleWriters, patternOf, sine } from '../../../../testing/modules';
import { noveltyOf, onsetsOf } from '../../sound/onsets';
import { scoreFromFile } from '../../score/from-file';
import { mapsOf } from '../../score/inventory';
import type { Part } from '../../score/score';
import { Cancelled } from '../../diagnostic/checkpoint';
import { sayDamage } from '../../diagnostic/damage';
import { openSource } from '../source';
import type { ModuleChoices } from './choices';
import { readModule } from './index';
import { mix } from './mix';
import type { Module } from './module';
import { knowModule, knownOf } from './open';
import type { Strike } from './strikes';
import { readAsScore } from './to-file';

const scoreOf = (module: Module, choices: ModuleChoices = {}) => {
  const known = knownOf(module);
  const { played } = known;
  const reading = readAsScore(known, choices);
  const score = scoreFromFile(reading.file, { sourceKey: 'main' });
  const { clock } = mapsOf(score);
  const starts = ({ notes }: Part) =>
    Array.from(notes.start.subarray(0, notes.count), (t) => clock.msAt(t) / 1000);
  return { played, reading, score, clock, starts };
};

const market = readModule(writeXm(eelMarket()))!.module;
const fx = (letter: string, param: number, more: TuneCell = {}): TuneCell => ({
  ...more,
  fx: [letter, param],
});

it('a part has the name of its sample, without what is drawn around it', () => {
  const names = ['>>>  Tide by   <<<', '----------', 'reed #2 (soft)', '.o.O.', ' eel! '];
  const cells = Object.fromEntries(names.map((_, n) => [n * 4, [{ note: 60, sample: n + 1 }]]));
  const samples = names.map((name, n) => ({ name, frames: sine(3200, 20 + n) }));
  const { score } = scoreOf(moduleOf('xm', [cells], { samples }));
  const named = score.parts.filter((p) => p.notes.count > 0).map((p) => p.name);
  expect(named).toEqual(['Tide by', 'Sample 2', 'reed #2 (soft)', 'o.O.', 'eel!']);
});

it('of the names of a sample and its instrument it has the one that says what it is', () => {
  const plain = moduleOf('xm', [{ 0: [{ note: 60, sample: 1 }], 4: [{ note: 60, sample: 2 }] }]);
  const letters = ['written by the reeve', 'low reed'];
  const own = ['high-strings:eel', 'quay'];
  const module: Module = {
    ...plain,
    samples: plain.samples.map((s, i) => s && { ...s, name: letters[i - 1]! }),
    instruments: plain.instruments!.map((ins, i) => ins && { ...ins, name: own[i - 1]! }),
  };
  const named = scoreOf(module).score.parts.filter((p) => p.notes.count > 0);
  expect(named.map((p) => p.name)).toEqual(['high-strings:eel', 'low reed']);
});

describe('time', () => {
  it('every strike is a note at its time, whatever tempos, speeds, breaks and loops do', () => {
    const cell = fc.record({
      note: fc.integer({ min: 40, max: 80 }),
      sample: fc.constant(1),
      fx: fc.option(
        fc.constantFrom(
          ['F', 3], ['F', 7], ['F', 5], ['F', 90], ['F', 201], ['D', 0x16], ['E', 0xd3], ['E', 0xe1], ['E', 0x61],
        ) as fc.Arbitrary<[string, number]>,
        { nil: undefined },
      ),
    }); // prettier-ignore
    fc.assert(
      fc.property(
        fc.array(
          fc.dictionary(
            fc.integer({ min: 0, max: 63 }).map(String),
            fc.tuple(cell as fc.Arbitrary<TuneCell>),
            { maxKeys: 14 },
          ),
          { minLength: 1, maxLength: 4 },
        ),
        fc.constantFrom('mod', 'xm') as fc.Arbitrary<'mod' | 'xm'>,
        fc.option(fc.constantFrom(3, 4, 6, 8), { nil: undefined }),
        (patterns, as, rowsPerBeat) => {
          const module = moduleOf(as, patterns as never, {
            samples: [{ name: 'lead', frames: sine(3200, 32), loop: [0, 3200] }],
          });
          const { played, score, starts, clock } = scoreOf(module, {
            ...(rowsPerBeat ? { rowsPerBeat } : {}),
            pitch: 'out',
            samples: { 1: { role: 'lead' } },
          });
          const wanted = played.strikes.map((s: Strike) => s.at).sort((a, b) => a - b);
          const had = score.parts.flatMap(starts).sort((a, b) => a - b);
          expect(had.length).toBe(wanted.length);
          // Half a tick of the slowest beat, where that is more than the map leans.
          const slowest = Math.max(...score.conductor.tempos.map((t) => t.microsecondsPerQuarter));
          const apart = Math.max(0.001, slowest / 1e6 / 960 / 2 + 0.0004);
          for (const [i, at] of had.entries())
            expect(Math.abs(at - wanted[i]!)).toBeLessThan(apart);
          const end = Math.max(...score.tracks.map((t) => t.endTick));
          expect(Math.abs(clock.msAt(end) / 1000 - played.seconds)).toBeLessThan(0.001);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('a tempo that is no whole number of µs does not drift in ten minutes', () => {
    const orders = Array.from({ length: 140 }, () => 0);
    const module = moduleOf('mod', [{ 0: [fx('F', 131, { note: 60, sample: 1 })] }], { orders });
    const { played, starts, score } = scoreOf(module, { samples: { 1: { role: 'lead' } } });
    const last = starts(score.parts[0]!).at(-1)!;
    expect(last).toBeGreaterThan(600);
    expect(Math.abs(last - played.strikes.at(-1)!.at)).toBeLessThan(0.001);
  });

  it('bars are bars: a short pattern is a short bar, and the next begins one', () => {
    const module = moduleOf('it', [], {
      orders: [0, 1, 0],
      patterns: [patternOf({ 0: [{ note: 60, sample: 1 }] }, 24), patternOf({}, 64)],
    });
    const { score } = scoreOf(module, { rowsPerBeat: 4, beatsPerBar: 4 });
    expect(score.conductor.meters.map((m) => `${m.numerator}/${m.denominator}`)).toEqual([
      '4/4', '2/4', '4/4', '2/4',
    ]); // prettier-ignore
    const { bars } = mapsOf(score);
    expect(score.conductor.markers.map((m) => [m.text, bars.placeAt(m.tick).bar])).toEqual([
      ['Pattern 0', 1],
      ['Pattern 1', 3],
      ['Pattern 0', 7],
    ]);
  });

  it('rows a beat are found: fours, threes, and eights at a quick speed', () => {
    const beats = (every: number, speed: number, rows: number) => {
      const cells: Record<number, TuneCell[]> = {};
      for (let r = 0; r < rows; r++)
        if (r % every === 0) cells[r] = [{ note: 48, sample: 1 }];
        else if (r % (every / (every % 3 === 0 ? 3 : 2)) === 0)
          cells[r] = [{ note: 60, sample: 2, volume: 0x10 + 12 }];
      const module = moduleOf('xm', [], {
        speed,
        orders: [0, 0, 0, 0],
        patterns: [patternOf(cells, rows)],
      });
      return scoreOf(module).reading.beats.rowsPerBeat;
    };
    expect(beats(4, 6, 64)).toBe(4);
    expect(beats(8, 3, 64)).toBe(8);
    expect(beats(6, 4, 96)).toBe(6);
  });
});

describe('songs that were entered by rows, in all four formats', () => {
  const FORMATS = ['xm', 'it', 's3m', 'mod'] as const;
  it.each(bandSongs().filter((_, n) => n % 5 === 0))('$name: every note, at its time', (song) => {
    const { score } = sourceFromBytes(song.bytes, song.name);
    for (const as of FORMATS) {
      const made = moduleFromScore(score, as, 31, { rowsPerBeat: 4, speed: 6 });
      if (!made) continue;
      const known = knowModule(made.bytes)!;
      const { file, lost } = readAsScore(known, {});
      const read = scoreFromFile(file, { sourceKey: 'main' });
      const { clock } = mapsOf(read);
      const had = read.parts
        .flatMap((p) => Array.from(p.notes.start.subarray(0, p.notes.count), (t) => clock.msAt(t)))
        .sort((a, b) => a - b);
      const doubled = lost.find((l) => l.what.startsWith('doubled'))?.count ?? 0;
      expect(had.length + doubled, as).toBe(made.ms.length);
      let at = 0;
      for (const ms of made.ms) {
        while (at + 1 < had.length && Math.abs(had[at + 1]! - ms) <= Math.abs(had[at]! - ms)) at++;
        expect(Math.abs(had[at]! - ms)).toBeLessThan(1);
      }
      const drums = known.samples.filter((s) => DRUM_ROLES.has(s.role) === made.isDrum[s.number]);
      expect(drums.length / known.samples.length).toBeGreaterThan(0.9);
    }
  });
});

describe('score against sound', () => {
  it('what is struck is heard where it is written, within 10 ms', () => {
    const { score, starts } = scoreOf(market, {
      samples: { 3: { beat: 'strikes', role: 'beat' } },
    });
    const { rate, channels } = mix(knownOf(market), {
      rate: 22_050,
      between: 'linear',
      softened: 0,
    });
    const heard = onsetsOf({ rate, channels }, noveltyOf({ rate, channels }));
    const written = [...new Set(score.parts.flatMap(starts).map((t) => Math.round(t * 1000)))];
    const strong = [...heard.ms].filter((_, i) => heard.strength[i]! > 0.15);
    const near = strong.filter((ms) => written.some((w) => Math.abs(w - ms) <= 10));
    // The loop has hits of its own between the strikes.
    expect(near.length / strong.length).toBeGreaterThan(0.8);
    const bass = starts(score.parts.find((p) => p.name.startsWith('Bollard'))!);
    const any = [...heard.ms].filter((_, i) => heard.strength[i]! > 0.05);
    const found = bass.filter((t) => any.some((ms) => Math.abs(ms - t * 1000) <= 10));
    expect(found.length / bass.length).toBeGreaterThan(0.95);
  });
});

describe('choices', () => {
  const names = (choices: ModuleChoices) => scoreOf(market, choices).score.parts.map((p) => p.name);
  const part = (name: string, choices: ModuleChoices = {}) =>
    scoreOf(market, choices).score.parts.find((p) => p.name === name)!;

  it('a part for each sample; its quiet echo is one of its own', () => {
    expect(names({})).toEqual([
      'Bollard bass in G',
      'Jetty minor chord',
      'Market loop 125 · hits',
      'Gull lead',
      'Gull lead · channel 7',
      'Barrel tom',
      'Deck thump bd',
      'Rigging hat',
    ]);
    expect(names({ samples: { 4: { split: false } } })).not.toContain('Gull lead · channel 7');
    expect(names({ parts: 'channel' }).filter((n) => !n.startsWith('Channel'))).toEqual([
      'Market loop 125 · hits',
    ]);
  });
  it('drums go to channel 10 on their keys, a tom down over those that exist', () => {
    expect(part('Deck thump bd').channel).toBe(10);
    expect(new Set(part('Deck thump bd').notes.noteNumber)).toEqual(new Set([36]));
    expect([...part('Barrel tom').notes.noteNumber].slice(0, 6)).toEqual([50, 48, 47, 45, 43, 41]);
  });
  it('a sampled beat is its hits in time, its strikes, or nothing', () => {
    const hits = part('Market loop 125 · hits');
    expect(hits.notes.count).toBeGreaterThan(16 * 6);
    expect([...new Set(hits.notes.noteNumber)].sort((a, b) => a - b)).toEqual([36, 38, 42]);
    const { reading } = scoreOf(market, { samples: { 3: { beat: 'out' } } });
    expect(reading.lost).toContainEqual({ what: 'strikes of sampled beats', count: 16 });
  });
  it('slides of pitch are bends whose range is written, notes, or are left and told', () => {
    const bent = part('Gull lead');
    const kinds = new Set(bent.events.kind);
    expect(kinds.has(0xe0)).toBe(true);
    const lead = (choices: ModuleChoices) => part('Gull lead', choices);
    expect(lead({ pitch: 'notes' }).notes.count).toBeGreaterThan(
      lead({ pitch: 'out' }).notes.count,
    );
    expect(scoreOf(market, { pitch: 'out' }).reading.lost.map((l) => l.what)).toContain(
      'slides of pitch',
    );
  });
  it('programs by what a sample is, or chosen; none else', () => {
    const programs = (choices: ModuleChoices) => {
      const { events } = part('Bollard bass in G', choices);
      return [...events.kind].flatMap((k, i) => (k === 0xc0 ? [events.data1[i]] : []));
    };
    expect(programs({})).toEqual([]);
    expect(programs({ programs: 'role' })).toEqual([33]);
    expect(programs({ programs: 'role', samples: { 1: { program: 38 } } })).toEqual([38]);
    expect([...part('Deck thump bd', { programs: 'role' }).events.kind]).not.toContain(0xc0);
  });
  it('what sounds off its key by cents is told, or written as fine tuning', () => {
    const hz = 261.63 * 2 ** (30 / 1200);
    const frames = Float32Array.from({ length: 8363 }, (_, n) =>
      Math.sin((2 * Math.PI * hz * n) / 8363),
    );
    const module = moduleOf('xm', [{ 0: [{ note: 60, sample: 1 }] }], {
      samples: [{ name: 'lead', frames }],
    });
    expect(scoreOf(module).reading.lost).toContainEqual({
      what: 'parts that sound off their keys by cents',
      count: 1,
    });
    const { events } = scoreOf(module, { tuning: 'written' }).score.parts[0]!;
    const coarse = [...events.data1].findIndex((d, i) => d === 6 && events.kind[i] === 0xb0);
    expect(events.data2[coarse]! * 128).toBeCloseTo(8192 + 0.3 * 8192, -2.5);
  });
  it('transposed where it sounds', () => {
    const by = (transpose: number) =>
      part('Bollard bass in G', { samples: { 1: { transpose } } }).notes.noteNumber[0]!;
    expect(by(-17) - by(0)).toBe(-17);
  });
  it('arpeggios are chords, quick notes, or their root with the rest told', () => {
    const module = moduleOf('mod', [{ 0: [fx('0', 0x47, { note: 60, sample: 1 })] }]);
    const notes = (arpeggio: ModuleChoices['arpeggio']) =>
      scoreOf(module, { arpeggio, samples: { 1: { role: 'lead' } } }).score.parts[0]!.notes;
    expect([...notes('chord').noteNumber].slice(0, 3)).toEqual([60, 64, 67]);
    // Six ticks, and its root for the rest.
    expect(notes('quick').count).toBe(7);
    expect(notes('root').count).toBe(1);
  });
  it('a held note under one arpeggio and then another has one chord and then the other', () => {
    const cells = (...params: number[]) => ({
      0: [fx('0', params[0]!, { note: 60, sample: 1 })],
      ...Object.fromEntries(params.slice(1).map((p, i) => [i + 1, [fx('0', p)]])),
      12: [{ note: 48, sample: 1 }],
    });
    const tones = (...params: number[]) => {
      const { notes } = scoreOf(moduleOf('mod', [cells(...params)]), {
        samples: { 1: { role: 'lead' } },
        rowsPerBeat: 4,
      }).score.parts[0]!;
      return Array.from({ length: notes.count }, (_, i) => [
        notes.noteNumber[i],
        notes.start[i]! / 240,
        (notes.end[i]! - notes.start[i]!) / 240,
      ]).slice(0, -1);
    };
    const minor = [0x37, 0x37, 0x37, 0x37];
    const fourth = [0x58, 0x58, 0x58, 0x58];
    expect(tones(...minor, ...fourth)).toEqual([
      [60, 0, 12],
      [63, 0, 4],
      [67, 0, 4],
      [65, 4, 4],
      [68, 4, 4],
    ]);
    // A row without one between rows that have it is no end, nor are the last two of the note.
    expect(tones(0x37, 0, 0x37, 0, 0x37, 0, 0x37, 0, 0x37, 0, 0x37)).toEqual([
      [60, 0, 12],
      [63, 0, 12],
      [67, 0, 12],
    ]);
    // The fifth is in both.
    expect(tones(0x37, 0x37, 0x47, 0x47).filter(([key]) => key === 67)).toEqual([[67, 0, 4]]);
  });
  it('slides of volume are controllers, strikes where it rises, or left and told', () => {
    const cells = {
      0: [{ note: 60, sample: 1 }],
      1: [fx('A', 0x0a)],
      4: [fx('A', 0xa0)],
    };
    const of = (volume: ModuleChoices['volume']) =>
      scoreOf(moduleOf('xm', [cells]), { volume, samples: { 1: { role: 'lead' } } });
    expect(of('expression').score.parts[0]!.events.data1).toContain(11);
    expect(of('steps').score.parts[0]!.notes.count).toBe(2);
    expect(of('out').reading.lost).toContainEqual({ what: 'slides of volume', count: 1 });
  });
});

describe('more parts than a cable has channels', () => {
  const LINES = 20;
  /** One strike of each sample after the other, twice round; the last two sound all through. */
  const many = () => {
    const reed = { frames: sine(3200, 32), loop: [0, 3200] as const };
    const samples = Array.from({ length: LINES }, (_, i) => ({ ...reed, name: `reed ${i + 1}` }));
    const cells: Record<number, TuneCell[]> = {};
    for (let i = 0; i < LINES; i++)
      for (const row of [i, i + 32])
        cells[row] = [i % 2 === 0 ? fx('A', 0x04, { note: 60, sample: i + 1 }) : { note: 62, sample: i + 1 }]; // prettier-ignore
    return moduleOf('xm', [cells], { samples });
  };
  const lead = Object.fromEntries(
    Array.from({ length: LINES }, (_, i) => [i + 1, { role: 'lead' as const }]),
  );
  it('each part has a channel, and who shares one does not sound at once', () => {
    const { score } = scoreOf(many(), { samples: lead });
    const parts = score.parts.filter((p) => p.notes.count > 0);
    expect(parts.length).toBe(LINES);
    expect(new Set(parts.map((p) => p.channel)).size).toBe(15);
    expect(parts.map((p) => p.channel)).not.toContain(10);
    for (const a of parts)
      for (const b of parts) {
        if (a === b || a.channel !== b.channel) continue;
        for (let i = 0; i < a.notes.count; i++)
          for (let k = 0; k < b.notes.count; k++)
            expect(
              a.notes.end[i]! <= b.notes.start[k]! || b.notes.end[k]! <= a.notes.start[i]!,
            ).toBe(true);
      }
  });
  it('a level that one of them left behind is taken back by the next on its channel', () => {
    const { score } = scoreOf(many(), { samples: lead });
    const parts = score.parts.filter((p) => p.notes.count > 0);
    const shared = parts.filter((p) => parts.some((o) => o !== p && o.channel === p.channel));
    expect(shared.length).toBeGreaterThan(5);
    for (const p of shared) {
      const before = (tick: number) =>
        shared
          .filter((o) => o.channel === p.channel)
          .flatMap((o) =>
            Array.from(o.events.tick, (t, i) => ({ t, i, o })).filter(
              ({ t, i }) => t <= tick && o.events.kind[i] === 0xb0 && o.events.data1[i] === 11,
            ),
          )
          .sort((a, b) => a.t - b.t)
          .at(-1);
      for (const start of p.notes.start) {
        const last = before(start);
        if (last) expect(last.o.events.data2[last.i], p.name).toBe(127);
      }
    }
  });
  it('drums leave their channels to those behind', () => {
    const drums = Object.fromEntries(
      [1, 2, 3, 4, 5, 6].map((n) => [n, { role: 'snare' as const }]),
    );
    const { score } = scoreOf(many(), { samples: { ...lead, ...drums } });
    const pitched = score.parts.filter((p) => p.notes.count > 0 && p.channel !== 10);
    expect(pitched.length).toBe(LINES - 6);
    expect(new Set(pitched.map((p) => p.channel)).size).toBe(LINES - 6);
  });
});

describe('as a source', () => {
  it.each(Object.entries(moduleWriters))(
    '%s opens as a job’s source, with its losses',
    (_, write) => {
      const { source } = openSource(write({ ...eelMarket(), channels: 8 }), {
        key: 'main',
        name: 'eel-market',
        sha256: '',
      });
      expect(source!.score.parts.length).toBeGreaterThan(6);
      expect(source!.extras!.metadata!.title).toBe('Eel market');
      expect(source!.extras!.left).toContainEqual({ what: 'samples (their sound)', count: 7 });
    },
  );
  it('what is called one and is none is said so; a MIDI file with such a name is read', () => {
    const open = (bytes: Uint8Array, name: string) =>
      openSource(bytes, { key: 'main', name, sha256: '' });
    const none = open(
      Uint8Array.from({ length: 3000 }, (_, i) => (i * 7) & 255),
      'tide.mod',
    );
    expect(none.source).toBeUndefined();
    expect(none.damage.map(sayDamage).join()).toContain('of none of the four formats');
    expect(open(new Uint8Array(0), 'tide.xm').damage).toHaveLength(1);
    const midi = smfWeek[0]!;
    expect(open(midi.bytes(), 'tide.it').source!.score.parts.length).toBeGreaterThan(0);
  });
  it('reading tells how far it is, and can be given up', () => {
    const told: number[] = [];
    const bytes = writeXm(eelMarket());
    knowModule(bytes, { checkpoint: (done, total) => told.push(done / total) });
    expect(told.length).toBeGreaterThan(3);
    expect(Math.max(...told)).toBeLessThanOrEqual(1);
    const givesUp = () =>
      knowModule(bytes, {
        checkpoint: () => {
          throw new Cancelled();
        },
      });
    expect(givesUp).toThrow(Cancelled);
  });
});
