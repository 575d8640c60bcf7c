import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { builtInTargets } from './index';
import { parseTarget, parseTargetText } from './parse';

const range = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);

describe('built-in targets hold the binding numbers', () => {
  it('bell loft', () => {
    expect(builtIn('bell-loft')).toMatchObject({
      file: { formats: [0], ppq: { multipleOf: 24, highest: 960 } },
      seats: [{ channel: 1 }],
      notes: { lowest: 60, highest: 84, without: [61, 63] },
      polyphony: { together: 4 },
      spacing: { sameKeyApartMs: 180 },
      start: { leadInMs: 500 },
      tempo: { lowestBpm: 30, highestBpm: 160, mostEvents: 64 },
      events: { controllers: 'none', programs: 'none', bends: 'none', sysex: 'none' },
      text: { mostTrackNames: 1 },
      naming: { letters: 'A-Z0-9', longest: 8, ending: '.mid' },
    });
    const { notes } = builtIn('bell-loft');
    expect(notes!.highest! - notes!.lowest! + 1 - notes!.without!.length).toBe(23);
  });
  it('lantern rail', () => {
    expect(builtIn('lantern-rail')).toMatchObject({
      file: { formats: [1], mostNoteTracks: 1 },
      seats: [{ channel: 16 }],
      notes: { lowest: 24, highest: 59 },
      polyphony: { together: 1 },
      spacing: { apartMs: 250 },
      length: { shortestMs: 50 },
      tempo: { constant: true, lowestBpm: 60, highestBpm: 180 },
      meter: { constant: true },
      start: { leadInBars: 3 },
      clock: { withinMs: 5, shift: 'common' },
      text: { longestMarker: 16, markerLetters: 'printable-ascii' },
    });
    expect(builtIn('lantern-rail').outputs.map((o) => o.writer)).toEqual(['smf', 'time-list']);
  });
  it('tempo carrier', () => {
    expect(builtIn('tempo-carrier')).toMatchObject({
      seats: [],
      file: { formats: [1] },
      carrier: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
    });
  });
  it('marsh duel', () => {
    expect(builtIn('marsh-duel')).toMatchObject({
      seats: [
        { id: 'ebb', channel: 5, laneNotes: [41, 44, 46, 49, 51, 60] },
        { id: 'flood', channel: 9, laneNotes: [70, 73, 75, 78, 80, 60] },
      ],
      polyphony: { together: 2, over: 'seat' },
      spacing: { sameKeyApartMs: 90 },
      chart: { holdMs: 240 },
      start: { leadInMs: 1500 },
      tempo: { declaredWithinBpm: 0.01 },
      metadata: { required: [{ key: 'title' }, { key: 'maker' }, { key: 'bpm' }] },
      outputs: [{ writer: 'chart' }],
    });
  });
  it('reed ladder', () => {
    const ladder = builtIn('reed-ladder');
    // A part is a track, a rung a channel of it; lanes go up in whole tones from 48 on every rung.
    expect(ladder.seats).toHaveLength(15);
    for (const [p, track] of ['Chanter', 'Drone', 'Bellows'].entries())
      for (const [r, lanes] of [2, 3, 5, 7, 7].entries())
        expect(ladder.seats[p * 5 + r]).toMatchObject({
          track,
          rung: r + 1,
          channel: 11 + r,
          laneNotes: Array.from({ length: lanes }, (_, i) => 48 + 2 * i),
        });
    const rungs = ladder.chart!.rungs!;
    expect(rungs.every((r) => r.laneNotes === undefined)).toBe(true);
    expect(rungs.map((r) => r.strikesASecond)).toEqual([2, 3, 5, 8, 12]);
    expect(rungs.map((r) => r.together)).toEqual([1, 2, 2, 3, 3]);
    expect(rungs.map((r) => r.releaseGapMs)).toEqual([70, 70, 60, 60, 50]);
    expect(rungs.map((r) => r.holdsOverlap === true)).toEqual([false, false, false, false, true]);
    expect(ladder.chart).toMatchObject({
      holdMs: 320,
      phraseBreakBeats: 3,
      flags: ['feather', 'rooted'],
    });
    expect(ladder.start).toMatchObject({ leadInBars: 1, leadInMs: 2700, soundToo: true });
  });
  it('stomp crate', () => {
    const crate = builtIn('stomp-crate');
    const files = crate.seats.flatMap((s) => (s.kind === 'file' ? [s] : []));
    const named = (id: string) => files.find((f) => f.id === id)!;
    expect(named('count')).toMatchObject({ fileName: 'count.mid', onlyBars: [1] });
    for (const n of [1, 2, 3, 4, 5, 6])
      expect(named(`b${n}`)).toMatchObject({ fileName: `b${n}.mid`, leastBars: 1, mostBars: 16 });
    for (const n of [1, 2, 3, 4, 5])
      expect(named(`k${n}`)).toMatchObject({ fileName: `k${n}.mid`, onlyBars: [0.5, 1] });
    expect(named('x12')).toMatchObject({ fileName: 'x12.mid', leastBars: 1, mostBars: 2 });
    expect(files.filter((f) => f.id.startsWith('x')).length).toBe(30);
    expect(named('hit')).toMatchObject({ fileName: 'hit.mid', mostBars: 1 });
    expect(files.filter((f) => !f.optional).map((f) => f.id)).toEqual(['b1']);
    expect(crate).toMatchObject({
      file: { formats: [0], ppq: { only: [480] } },
      channels: { only: [10] },
      tempo: { constant: true, lowestBpm: 40, highestBpm: 240 },
      meter: { constant: true },
      metadata: { required: [{ key: 'displayName', longest: 16, letters: "A-Za-z0-9 '-" }] },
    });
    expect(crate.kits!.map((k) => k.keys.map((key) => key.noteNumber))).toEqual([
      [35, 36, 37, 38, 39, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 53, 56],
      [36, 38, 40, 42, 45, 46, 48, 49, 51, 54, 70, 75],
    ]);
  });
  it('pattern pads', () => {
    expect(builtIn('pattern-pads')).toMatchObject({
      file: { formats: [0, 1] },
      seats: [{ channel: 6 }],
      start: { inBar1: true },
      end: { onlyBars: [2, 3, 4, 6], filled: true },
      tempo: { constant: true },
      meter: { constant: true },
      notes: { only: [...range(24, 31), ...range(48, 76)], barsAlike: 'caution' },
      grid: {
        chordWithinMs: 5,
        triggerLowest: 24,
        triggerHighest: 31,
        chordLowest: 48,
        chordHighest: 76,
      },
      events: { bends: 'none', controllersWithout: [1, 2, 11] },
      naming: { prefixes: ['1_', '2_', '3_', '4_', '5_', '6_', '7_', '8_'] },
      velocity: { allAlike: 'caution' },
    });
  });
  it('strip organ', () => {
    expect(builtIn('strip-organ')).toMatchObject({
      notes: {
        only: [
          48, 50, 52, 53, 55, 57, 59, 60, 62, 64, 65, 66, 67, 69, 70, 71, 72, 74, 76, 77, 78, 79,
          81, 83, 84, 86,
        ],
      },
      grid: {
        rowsPerSecond: [4, 6, 8, 12],
        mostInRow: 5,
        sameKeyNextRow: 'none',
        mostRows: 6000,
        rowMm: 8,
      },
      velocity: { deliveredAs: 64 },
      outputs: [{ writer: 'smf' }, { writer: 'hole-list' }, { writer: 'strip-sheet' }],
    });
    expect(builtIn('strip-organ').seats.length).toBe(2);
  });
  it('ferry barrel', () => {
    const barrel = builtIn('ferry-barrel');
    expect(barrel).toMatchObject({
      file: { formats: [1], ppq: { only: [60] }, mostBytes: 20_000 },
      tempo: { wholeBpm: true, lowestBpm: 40, highestBpm: 240 },
      events: {
        controllers: [7, 10, 93],
        controllersOnceAtStart: [7, 10, 93],
        programs: 'of-seat',
      },
      end: { loopMarker: 'ROUND', loopWholeBars: true, tracksEqual: true },
      polyphony: { together: 8, over: 'all' },
      text: { mostTrackNames: 0, others: 'none', markers: 'loop-marker' },
    });
    expect(barrel.seats.map((s) => ('channel' in s ? s.channel : 0))).toEqual(range(1, 10));
    for (const seat of barrel.seats) expect(seat.sounds!.length).toBeGreaterThan(1);
  });
  it('tide voices', () => {
    const tide = builtIn('tide-voices');
    expect(tide).toMatchObject({
      file: { ppq: { multipleOf: 24 } },
      notes: { lowest: 24, highest: 84, most: 2200 },
      polyphony: { together: 1, over: 'seat' },
      tempo: { constant: true, lowestBpm: 30, highestBpm: 250 },
      meter: { constant: true },
      end: { tracksEqual: true, wholeBars: true, leastBars: 1, mostBars: 64 },
      chains: { mostLinks: 24, mostRepeats: 8, shiftLowest: -18, shiftHighest: 18 },
    });
    expect(tide.chains!.patterns.join('')).toBe('ABCDEFGHIJKLMNOPQR');
    expect(tide.seats.map((s) => ('channel' in s ? s.channel : 0))).toEqual(range(1, 6));
  });
  it('fog pier', () => {
    const pier = builtIn('fog-pier');
    expect(pier).toMatchObject({
      notes: { lowest: 36, highest: 72 },
      polyphony: { together: 1, over: 'seat' },
      length: { longestMs: 900 },
      spacing: { mostOpenMs: 1200, openInMs: 2000 },
      clock: { withinMs: 2, shift: 'none', of: 'first-note' },
      end: { soundWithinMs: 20 },
    });
    expect(pier.seats.map((s) => ('channel' in s ? s.channel : 0))).toEqual([1, 2, 3]);
  });
  it('sing-along board', () => {
    expect(builtIn('song-board')).toMatchObject({
      seats: [{ channel: 12 }],
      notes: { only: [48] },
      spacing: { apartMs: 400 },
      tempo: { constant: true },
      captions: { noteNumber: 48, mostLines: 2, longestLine: 42, leadLeastMs: 0, leadMostMs: 2000 },
      outputs: [{ writer: 'smf' }, { writer: 'captions' }, { writer: 'time-list' }],
    });
  });
  it('two-hand scroll', () => {
    const scroll = builtIn('two-hand-scroll');
    expect(scroll).toMatchObject({
      file: { formats: [1], layout: 'conductor-first', mostNoteTracks: 4 },
      polyphony: { together: 5, spanSemitones: 16, sharedNotes: 'none', seats: ['left', 'right'] },
    });
    expect(scroll.seats.map((s) => s.name)).toEqual(['Left', 'Right', 'Voice', 'Others']);
  });
  it('frame deck', () => {
    expect(builtIn('frame-deck')).toMatchObject({
      frames: {
        perSecond: [24, 25, 30, 60],
        shiftLowest: -600,
        shiftHighest: 600,
        endings: ['round-again', 'rest-at-end'],
      },
      events: { silentChannels: 'none' },
      end: { soundWithinFrames: 1 },
    });
  });
  it('cue ledger', () => {
    expect(builtIn('cue-ledger')).toMatchObject({
      spacing: { strikesASecond: 30, severity: 'caution' },
      strands: {
        values: ['note-name', 'note-number', 'velocity', 'length', 'none'],
        severity: 'caution',
      },
    });
  });
  it('parlour keyboard', () => {
    const parlour = builtIn('parlour-keyboard');
    expect(parlour).toMatchObject({
      file: { formats: [0, 1] },
      polyphony: { together: 64, over: 'all' },
      events: { programs: 'one-at-start' },
    });
    expect(parlour.events!.controllers ?? 'any').toBe('any');
    expect(parlour.seats.map((s) => ('channel' in s ? s.channel : 0))).toEqual(range(1, 16));
    expect(parlour.seats[9]).toMatchObject({ accepts: { lowest: 35, highest: 81 } });
  });
  it('brine box', () => {
    const box = builtIn('brine-box');
    expect(box).toMatchObject({
      seats: [{ channel: 9 }],
      notes: { none: true },
      file: { formats: [0], ppq: { highest: 480 }, mostBytes: 32_000 },
      tempo: { lowestBpm: 40, highestBpm: 240, apartMs: 1000 },
      start: { quietMs: 500 },
      end: { tailMs: 2500 },
      presets: {
        bankWithinMs: 20,
        firstAtStart: true,
        apartMs: 150,
        loadMs: 35,
        leadLeastMs: 35,
        leadMostMs: 120,
        again: 'caution',
      },
      curves: {
        list: [
          { controllers: range(80, 83), values: [0, 127], apartMs: 25, whileLoading: 'missed' },
          { controllers: [11], perSecond: 50, mostJump: 24 },
          { controllers: [93], lowest: 0, highest: 5 },
        ],
      },
      naming: { letters: 'A-Za-z0-9', longest: 8 },
      outputs: [{ writer: 'smf' }, { writer: 'patch-list' }],
    });
    expect(new Set(box.presets!.list.map((p) => p.bank))).toEqual(new Set(range(0, 3)));
    for (const { bank, program, name } of box.presets!.list)
      expect(name.slice(0, 2)).toBe(`${'ABCD'[bank]}${program + 1}`);
  });
  it('lamp gallery', () => {
    const lamps = [...range(20, 31), ...range(52, 63)];
    expect(builtIn('lamp-gallery')).toMatchObject({
      seats: [{ channel: 14 }],
      notes: { none: true },
      events: { controllers: lamps },
      curves: {
        perSecond: 300,
        list: [{ controllers: lamps, perSecond: 40, slewMs: 80, rest: 0 }],
      },
      text: { longestMarker: 12 },
      outputs: [{ writer: 'smf' }, { writer: 'level-table' }],
    });
  });
  it('are eighteen', () => {
    expect(builtInTargets.length).toBe(18);
  });
});

describe('a target of a user', () => {
  const copy = () => JSON.parse(JSON.stringify(builtIn('lantern-rail'))) as Record<string, never>;
  it('every built-in one comes back from its own text', () => {
    for (const target of builtInTargets)
      expect(parseTargetText(JSON.stringify(target)).target).toEqual(target);
  });
  it('an unknown key is named with its path and the nearest known one', () => {
    const data = { ...copy(), tempo: { constnat: true } };
    expect(parseTarget(data).problems).toEqual([
      {
        path: 'tempo.constnat',
        says: '"constnat" is not a known key. The nearest known key is "constant".',
      },
    ]);
  });
  it('contradictions are said', () => {
    const data = { ...copy(), notes: { lowest: 70, highest: 60 } };
    expect(parseTarget(data).problems[0]).toMatchObject({ path: 'notes.lowest' });
  });
  it('what is not JSON is said', () => {
    expect(parseTargetText('{').problems[0]!.says).toMatch(/^This is not JSON/);
  });
});
