import { describe, expect, it } from 'vitest';
import {
  builtIn,
  conductor,
  renditionOf,
  song,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import type { Piece } from '../score/piece';
import { findWriter } from './index';
import { baseOf } from '../plan/base';
import { ledgerOf } from '../handover/ledger';
import { written } from '../../../testing/written';
import type { Chain } from '../formats/chain';
import type { Chart } from '../formats/chart';
import type { Crate } from '../formats/crate';
import type { Frames } from '../formats/frames';
import type { Strands } from '../formats/strands';

const metadata = (params: Record<string, string>) => ({ step: 'metadata', params });

describe('a frame table', () => {
  const deck = builtIn('frame-deck');
  const roll = () =>
    song(
      [
        conductor(),
        new Track('Roll').note(3, 0, 480, 60, 90).note(3, 480, 6, 62, 40).note(3, 960, 480, 62, 1),
        new Track('Wash').note(1, 0, 1920, 40, 9),
      ],
      { endTick: 1920 },
    );

  it('says what changes in which frame, the offs of a frame before its ons', () => {
    // 480 ticks are 500 ms: 12.5 frames at 25 a second.
    const { json, rows, losses } = written(deck, roll(), [
      metadata({ frameRate: '25', ending: 'round-again' }),
    ]);
    const table = json<Frames>('.frames.json');
    expect(table).toMatchObject({ rate: 25, length: 50, shift: 0, ending: 'round-again' });
    expect(table.channels.map((c) => [c.channel, c.name])).toEqual([
      [1, 'Wash'],
      [3, 'Roll'],
    ]);
    expect(table.channels[1]!.changes.map((c) => [c.frame, c.event, c.key, c.velocity])).toEqual([
      [0, 'on', 60, 90],
      [13, 'off', 60, null],
      [13, 'on', 62, 40],
      [14, 'off', 62, null],
      [25, 'on', 62, 1],
      [38, 'off', 62, null],
    ]);
    expect(rows('-frames.csv')).toHaveLength(8);
    expect(rows('-frames.csv')[0]).toEqual(['0', '0.000000', '1', 'on', '40', '9']);
    expect(losses).toEqual(['1 notes shorter than a frame, held for one', expect.anything()]);
  });

  it('is shifted, and lists what falls before its first frame', () => {
    const shifted = written(deck, roll(), [
      metadata({ frameRate: '30', frameShift: '-2', ending: 'rest-at-end' }),
    ]);
    const table = shifted.json<Frames>('.frames.json');
    expect(table).toMatchObject({ rate: 30, shift: -2, length: 58 });
    expect(shifted.losses).toContain('2 notes before the first frame');
  });

  it('runs at the first rate of the deck where none was chosen', () => {
    expect(written(deck, roll()).json<Frames>('.frames.json')).toMatchObject({
      rate: 24,
      ending: null,
      sound: null,
    });
  });
});

describe('strands of a ledger', () => {
  const ledger = builtIn('cue-ledger');
  const source = () =>
    song(
      [
        conductor().marker(0, ' Ebb ').marker(960, 'Flood'),
        new Track('Gulls').note(1, 0, 240, 60, 90).note(1, 960, 480, 61, 40),
      ],
      { endTick: 1920 },
    );
  const strand = (params: Record<string, unknown>) => ({ step: 'strands', params });

  it.each([
    ['note-name', ['C4', 'C♯4']],
    ['note-number', [60, 61]],
    ['velocity', [90, 40]],
    ['length', [250_000, 500_000]],
    ['none', [null, null]],
  ])('a cue may tell its %s', (value, values) => {
    const { json } = written(ledger, source(), [strand({ kind: 'span', value })]);
    const [made] = json<Strands>('.strands.json').strands;
    expect(made).toMatchObject({ name: 'Gulls', kind: 'span', value });
    expect(made!.cues.map((c) => c.value)).toEqual(values);
    expect(made!.cues.map((c) => [c.tick, c.atUs, c.lengthTicks, c.lengthUs])).toEqual([
      [0, 0, 240, 250_000],
      [960, 1_000_000, 480, 500_000],
    ]);
  });

  it.each([
    ['span', 'note-name', ['velocities']],
    ['instant', 'velocity', ['note numbers', 'lengths']],
    ['instant', 'length', ['note numbers', 'velocities']],
    ['instant', 'none', ['note numbers', 'velocities', 'lengths']],
  ])('what %s and %s do not tell is in no file', (kind, value, dropped) => {
    const { files } = written(ledger, source(), [strand({ kind, value })]);
    const base = baseOf(source());
    const { rows } = ledgerOf(base, base.rendition.pieces, files, ledger, false);
    const ofNotes = ['notes', 'note numbers', 'velocities', 'lengths'];
    const lost = rows.filter((r) => ofNotes.includes(r.kind) && r.dropped > 0);
    expect(lost.map((r) => [r.kind, r.dropped])).toEqual(dropped.map((k) => [k, 2]));
  });

  it('passages come from markers; a strand is called as it was said', () => {
    const { json } = written(ledger, source(), [
      strand({ kind: 'instant', value: 'none', name: 'gull-cry' }),
      metadata({ sound: 'quay.wav', soundMs: '1999.5' }),
    ]);
    const made = json<Strands>('.strands.json');
    expect(made.passages).toEqual([
      { atUs: 0, name: 'Ebb', tick: 0 },
      { atUs: 1_000_000, name: 'Flood', tick: 960 },
    ]);
    expect(made.strands[0]!.name).toBe('gull-cry');
    // It does not come along: only its name is told.
    expect(made.sound).toEqual({ file: 'quay.wav', lengthUs: null });
    expect([made.endTick, made.endUs]).toEqual([1920, 2_000_000]);
  });
});

describe('a chart', () => {
  const duel = builtIn('marsh-duel');
  const facts = metadata({ title: 'Two “banks”', maker: 'Reed\\Oar', bpm: '120' });
  const ebb = (...list: readonly (readonly [number, number, number, number?])[]) => {
    const track = new Track('Ebb');
    for (const [tick, length, key, velocity = 90] of list)
      track.note(5, tick, length, key, velocity);
    return song([conductor(), track], { endTick: 7680 });
  };

  it('puts what is struck together into one entry, by length, velocity and flags', () => {
    const { json } = written(
      duel,
      ebb([1920, 120, 41], [1920, 120, 44], [1920, 480, 60], [2400, 240, 46, 10]),
      [facts],
    );
    const chart = json<Chart>('.chart.json');
    expect(chart).toMatchObject({ title: 'Two “banks”', maker: 'Reed\\Oar', bpm: 120 });
    const [line] = chart.lines;
    expect(line).toMatchObject({ seat: 'ebb', rung: null, track: null, phrases: [] });
    expect(line!.strikes.map((s) => [s.tick, s.lanes, s.lengthTicks, s.holdUs])).toEqual([
      [1920, [1, 2], 120, 0],
      [1920, [6], 480, 500_000],
      [2400, [3], 240, 250_000],
    ]);
  });

  it('a hold is 240 ms and longer: 230 ticks are, 231 at another tempo are not', () => {
    // At 120 BPM 230 ticks are 239.58 ms, 231 are 240.6.
    const holds = (length: number) =>
      written(duel, ebb([1920, length, 41]), [facts]).json<Chart>('.chart.json').lines[0]!
        .strikes[0]!.holdUs;
    expect(holds(230)).toBe(0);
    expect(holds(231)).toBe(240_625);
  });

  it('a note on no lane is a listed loss; a line of nothing else is not written', () => {
    const one = written(duel, ebb([1920, 120, 41], [1920, 120, 42]), [facts]);
    expect(one.losses).toContain('1 notes on no lane of Ebb');
    expect(one.json<Chart>('.chart.json').lines).toHaveLength(1);
    expect(written(duel, ebb([1920, 120, 42]), [facts]).json<Chart>('.chart.json').lines).toEqual(
      [],
    );
  });

  it('one lane struck twice at one tick stands twice', () => {
    const { json } = written(duel, ebb([1920, 120, 41], [1920, 120, 41]), [facts]);
    expect(json<Chart>('.chart.json').lines[0]!.strikes.map((s) => s.lanes)).toEqual([[1], [1]]);
  });

  it('flags stand at the notes that have them, and part them from the others', () => {
    const ladder = builtIn('reed-ladder');
    const track = new Track('Chanter').note(13, 3840, 240, 48, 90).note(13, 3840, 240, 50, 90);
    const source = song([conductor(), track], { endTick: 7680 });
    const notes = [
      { part: source.score.parts[0]!.ref, startTick: 3840, noteNumber: 50, occurrence: 0 },
    ];
    const { json } = written(ladder, source, [
      { step: 'flags', params: { flag: 'feather' }, scope: { notes } },
    ]);
    expect(json<Chart>('.chart.json').lines[0]!.strikes.map((s) => [s.lanes, s.flags])).toEqual([
      [[1], []],
      [[2], ['feather']],
    ]);
  });
});

describe('a crate', () => {
  const pedal = builtIn('stomp-crate');
  const drums = () => {
    const track = new Track('Drums');
    for (let i = 0; i < 32; i++) track.note(10, i * 480, 120, 36, 90);
    return song([conductor(), track], { endTick: 8 * 1920 });
  };
  const carved = (places: readonly [string, number, number][]) => [
    {
      step: 'carve',
      params: {
        places: places.map(([place, fromBar, bars]) => ({
          place,
          fileName: `${place}.mid`,
          fromBar,
          bars,
        })),
      },
    },
    metadata({ displayName: 'Quay stomp', kit: 'quay' }),
  ];

  it('is a folder with a file for each place, and a page that says what follows what', () => {
    const { paths, json } = written(
      pedal,
      drums(),
      carved([
        ['count', 1, 1],
        ['b1', 2, 4],
        ['k1', 6, 0.5],
        ['hit', 7, 1],
      ]),
    );
    expect(paths).toEqual([
      'Quay stomp/count.mid',
      'Quay stomp/b1.mid',
      'Quay stomp/k1.mid',
      'Quay stomp/hit.mid',
      'Quay stomp/crate.json',
    ]);
    const crate = json<Crate>('crate.json');
    expect(crate).toMatchObject({
      name: 'Quay stomp',
      kit: 'quay',
      microsecondsPerQuarter: 500_000,
      meter: { numerator: 4, denominator: 4 },
      ppq: 480,
    });
    expect(crate.places.map((p) => [p.place, p.halfBars, p.lengthTicks, p.next])).toEqual([
      ['count', 2, 1920, ['b1']],
      ['b1', 8, 7680, ['k1', 'hit']],
      ['k1', 1, 960, ['b1', 'hit']],
      ['hit', 2, 1920, []],
    ]);
  });

  it('rounds follow each other, and the first the last; one that is alone follows none', () => {
    const next = (places: readonly [string, number, number][]) =>
      written(pedal, drums(), carved(places))
        .json<Crate>('crate.json')
        .places.map((p) => p.next);
    const rounds = pedal.seats.filter((s) => s.kind === 'file' && s.plays === 'round');
    const [a, b, c] = rounds.map((s) => s.id);
    expect(
      next([
        [a!, 1, 2],
        [b!, 3, 2],
        [c!, 5, 2],
      ]),
    ).toEqual([[b], [c], [a]]);
    expect(next([[b!, 1, 2]])).toEqual([[]]);
  });

  it('a file that takes no place beside others that do is listed', () => {
    const { pieces } = renditionOf(drums(), pedal);
    const [piece] = pieces;
    const at = (place: string, fileName: string) => ({
      ...piece!,
      delivery: { ...piece!.delivery, place, fileName },
    });
    const write = (all: Piece[]) =>
      findWriter('crate')!.write({ ...renditionOf(drums(), pedal), pieces: all }, {}, pedal, null);
    expect(write([at('b1', 'b1.mid')]).losses).toEqual([]);
    expect(write([at('b1', 'b1.mid'), at('nowhere', 'x.mid')]).losses).toEqual([
      { what: 'files that take no place, not in the crate', count: 1 },
    ]);
  });

  it('what takes no place is beside it, and listed', () => {
    const { paths, losses } = written(pedal, drums());
    expect(paths).toEqual(['song/test.mid']);
    expect(losses).toContain('1 crate: no file takes a place');
  });

  it('a name that is no folder becomes one', () => {
    const steps = [...carved([['b1', 1, 4]]).slice(0, 1), metadata({ displayName: '../Quay/1' })];
    expect(written(pedal, drums(), steps).paths[0]).toBe('_Quay_1/b1.mid');
  });
});

describe('a chain', () => {
  const tide = builtIn('tide-voices');
  const source = () => {
    const track = new Track('V').note(1, 0, 1920, 60, 90).note(1, 1920, 3840, 62, 90);
    return song([conductor(), track], { endTick: 3 * 1920 });
  };
  const carve = {
    step: 'carve',
    params: {
      places: [
        { place: 'x', fileName: 'x.mid', fromBar: 1, bars: 1 },
        { place: 'y', fileName: 'y.mid', fromBar: 2, bars: 2 },
      ],
    },
  };

  it('names its patterns by letters, and its links as they were made', () => {
    const links = [
      { pattern: 'B', repeats: 2, shift: -3, voices: [3, 1, 3] },
      { pattern: 'A', repeats: 1, shift: 0, voices: [] },
    ];
    const { json, paths } = written(tide, source(), [carve, { step: 'chain', params: { links } }]);
    expect(paths).toEqual(['x.mid', 'y.mid', 'x.chain.json', 'x-link.wav']);
    const chain = json<Chain>('.chain.json');
    expect(chain.patterns).toEqual([
      {
        bars: 1,
        file: 'x.mid',
        lengthUs: 2_000_000,
        microsecondsPerQuarter: 500_000,
        pattern: 'A',
        ppq: 480,
      },
      {
        bars: 2,
        file: 'y.mid',
        lengthUs: 4_000_000,
        microsecondsPerQuarter: 500_000,
        pattern: 'B',
        ppq: 480,
      },
    ]);
    expect(chain.links).toEqual([
      { pattern: 'B', repeats: 2, shift: -3, voices: [1, 3] },
      { pattern: 'A', repeats: 1, shift: 0, voices: [] },
    ]);
  });

  it('without a chain of its own every pattern is played once, with all of its voices', () => {
    const { json } = written(tide, source(), [carve]);
    expect(json<Chain>('.chain.json').links.map((l) => [l.pattern, l.repeats, l.shift])).toEqual([
      ['A', 1, 0],
      ['B', 1, 0],
    ]);
  });

  it('patterns beyond its letters are listed', () => {
    const one = targetWith({
      seats: tide.seats,
      chains: { ...tide.chains!, patterns: ['A'] },
      outputs: [{ writer: 'smf' }, { writer: 'chain' }],
    });
    const { losses, json } = written(one, source(), [carve]);
    expect(losses).toContain('1 patterns that there is no letter for');
    expect(json<Chain>('.chain.json').patterns).toHaveLength(1);
  });
});

describe('a tempo map', () => {
  it('has a row for each place, and several where several of a kind stand at one', () => {
    const target = targetWith({ outputs: [{ writer: 'tempo-map' }] });
    const first = new Track()
      .tempoUs(0, 618_557)
      .meter(0, 3, 4)
      .key(0, -3, true)
      .marker(0, 'Ebb')
      .marker(0, 'Slack')
      .tempo(1440, 120)
      .marker(1500, 'Flood, “late”');
    const rows = written(target, song([first, new Track('T').note(1, 0, 9, 60, 9)])).text('.csv');
    expect(rows.split('\r\n').slice(1, -1)).toEqual([
      '0,1,1,0.000000,96.999953,3/4,C minor,Ebb',
      '0,1,1,0.000000,,,,Slack',
      '1440,2,1,1.855671,120,,,',
      '1500,2,1,1.918171,,,,"Flood, “late”"',
    ]);
  });
});

describe('holes of a strip', () => {
  const organ = builtIn('strip-organ');
  it('stand by rank in the order of their pipes; what has no pipe is listed', () => {
    const track = new Track('Front')
      .note(1, 480, 60, 64, 64)
      .note(1, 480, 60, 60, 64)
      .note(1, 960, 60, 61, 64);
    const rear = new Track('Rear').note(2, 480, 60, 48, 64).note(2, 480, 30, 48, 64);
    const { rows, losses } = written(organ, song([conductor(), track, rear]), [
      metadata({ rowsPerSecond: '8' }),
    ]);
    expect(rows('-holes.csv')).toEqual([['4', '0.500000', 'C4 60 | E4 64', 'C3 48']]);
    expect(losses).toContain('1 notes without a pipe, not in the hole list');
    expect(losses).toContain('1 notes on the hole of another');
  });

  it('the sheet has a page for sixty rows, a mark to join them, and what to build', () => {
    const track = new Track('Front');
    for (let row = 0; row < 130; row += 10) track.note(1, row * 120, 60, 48, 64);
    const { text } = written(organ, song([conductor(), track], { endTick: 130 * 120 }), [
      metadata({ rowsPerSecond: '8', title: 'Causeway <&> "slow"' }),
    ]);
    const sheet = text('-strip.svg');
    expect(sheet).toContain('<title>Causeway &lt;&amp;&gt; &quot;slow&quot;</title>');
    for (const page of ['rows 0 to 59, page 1 of 3', 'rows 60 to 119, page 2 of 3'])
      expect(sheet).toContain(page);
    const holes = [...sheet.matchAll(/data-row="(\d+)" data-rank="front" data-key="48"/g)];
    expect(holes.map((m) => Number(m[1]))).toEqual(Array.from({ length: 13 }, (_, i) => i * 10));
    // Two marks where two pages meet, each on both pages.
    expect(sheet.match(/<path d="M/g)).toHaveLength(8);
    expect(sheet).toMatch(/To build: 0\.97 m of strip, 121 rows at 8 a second, 13 holes/);
    expect(sheet).toContain('page 1: 6 holes');
    expect(sheet).toContain('page 3: 1 hole<');
    // A bar of 4/4 is 16 rows.
    expect([...sheet.matchAll(/bar (\d+)</g)].map((m) => Number(m[1]))).toEqual(
      Array.from({ length: 9 }, (_, i) => i + 1).filter((b) => (b - 1) * 16 < 121),
    );
  });

  it('a letter that XML has not is not in it', () => {
    const track = new Track('Front').note(1, 480, 60, 64, 64);
    const { text } = written(organ, song([conductor(), track]), [
      metadata({ title: 'Tide\u0001\u0000\ufffe\ud800 end' }),
    ]);
    expect(text('-strip.svg')).toMatch(/<title>Tide[ \ufffd]* end<\/title>/);

    expect(text('-strip.svg')).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/);
  });
});

describe('captions', () => {
  const board = builtIn('song-board');
  const lines = (...texts: string[]) => {
    const track = new Track('Board');
    texts.forEach((_, i) => track.note(12, 960 + i * 1920, 240, 48, 90));
    return written(board, song([conductor(), track], { endTick: texts.length * 1920 + 1920 }), [
      { step: 'captions', params: { from: 'list', lines: texts } },
    ]).text('.vtt');
  };
  it('are cues with numbers and times, each until the next', () => {
    expect(lines('Low <water> & more', 'the lamps')).toBe(
      'WEBVTT\n\n1\n00:00:01.000 --> 00:00:03.000\nLow &lt;water&gt; &amp; more\n' +
        '\n2\n00:00:03.000 --> 00:00:06.000\nthe lamps\n',
    );
  });
  it('of one moment are shown in turn, and listed', () => {
    const track = new Track('Board').note(12, 960, 240, 48, 90);
    const { text, losses } = written(
      board,
      song([conductor().marker(960, 'one').marker(960, 'two'), track], { endTick: 1920 }),
      // Both do not fit in one.
      [{ step: 'captions', params: { from: 'markers', longestLine: 3, mostLines: 1 } }],
    );
    expect(losses).toContain('1 captions of one moment, shown in turn');
    expect(text('.vtt')).toBe(
      'WEBVTT\n\n1\n00:00:01.000 --> 00:00:01.001\none\n\n2\n00:00:01.001 --> 00:00:02.001\ntwo\n',
    );
  });
});

it('two files of one name: the later one is numbered', () => {
  const target = targetWith({
    outputs: [{ writer: 'smf' }, { writer: 'time-list' }, { writer: 'smf' }],
  });
  const source = song([conductor(), new Track('T').note(1, 0, 480, 60, 90)]);
  expect(written(target, source).paths).toEqual(['test.mid', 'test-times.csv', 'test-2.mid']);
});
