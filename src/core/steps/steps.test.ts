import { expect, it } from 'vitest';
import { META_LYRIC } from '../../../demo/song';
import { conductor, rows, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import type { Rendition } from '../score/piece';
import { mapsOf } from '../score/inventory';
import { OFF_MISSING } from '../score/score';
import { shortenLabel } from './delivery';
import { steps } from './index';

const a = new Track('A')
  .note(1, 0, 480, 60, 90)
  .note(1, 480, 480, 64, 80)
  .note(1, 960, 480, 67, 70);
const b = new Track('B').note(2, 240, 240, 40, 50).control(0, 2, 7, 99).program(0, 2, 5);
const two = song([conductor(100).marker(960, 'Éveil du long phare'), a, b]);
const refA = { source: 'main', track: 'A', channel: 1, occurrence: 0 };
const refB = { source: 'main', track: 'B', channel: 2, occurrence: 0 };
const parts = (r: Rendition) => r.pieces[0]!.score.parts;
const notes = (r: Rendition, i: number) => rows(parts(r)[i]!.notes);
const score = (r: Rendition) => r.pieces[0]!.score;

it('every step has its own id and words', () => {
  expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length);
  for (const step of steps) expect(step.summary).toMatch(/\.$/);
});

testStep('route', [
  {
    name: 'gives channel and track',
    source: two,
    params: { seat: 'line', channel: 16, track: 'Cue line' },
    scope: { parts: [refB] },
    effect: { notesChanged: 1 },
    expect(after, before) {
      const [first, second] = parts(after);
      expect(first).toBe(parts(before)[0]);
      expect(second).toMatchObject({ channel: 16, seat: 'line', seatChosen: true });
      expect(score(after).tracks[second!.track]!.name).toBe('Cue line');
    },
  },
]);
testStep('leave-out', [
  {
    name: 'whole parts stay to be seen',
    source: two,
    params: {},
    scope: { parts: [refA] },
    effect: { notesDropped: 3 },
    expect(after) {
      expect(parts(after)[0]).toMatchObject({ leftOut: true });
      expect(parts(after)[0]!.notes.count).toBe(3);
      expect(parts(after)[1]!.leftOut).toBe(false);
    },
  },
  {
    name: 'single keys',
    source: two,
    params: { keys: [64] },
    effect: { notesDropped: 1 },
    expect: (after) => expect(notes(after, 0).map((n) => n[2])).toEqual([60, 67]),
  },
  {
    name: 'chosen notes by address',
    source: two,
    params: {},
    scope: { notes: [{ part: refA, startTick: 960, noteNumber: 67, occurrence: 0 }] },
    effect: { notesDropped: 1 },
    expect: (after) => expect(notes(after, 0)).toHaveLength(2),
  },
  {
    name: 'a stretch',
    source: two,
    params: { above: 0 },
    scope: { fromTick: 480, toTick: 960 },
    effect: { notesDropped: 1 },
  },
  {
    name: 'a part that is not there',
    source: two,
    params: {},
    scope: { parts: [{ ...refA, track: 'Z' }] },
    refused: /not in this source/,
  },
]);
testStep('join', [
  {
    name: 'two become one',
    source: two,
    params: {},
    expect(after) {
      expect(parts(after)).toHaveLength(1);
      expect(notes(after, 0).map((n) => n[0])).toEqual([0, 240, 480, 960]);
    },
  },
  { name: 'one alone', source: two, params: {}, scope: { parts: [refA] }, refused: /Two parts/ },
]);
testStep('set-channel', [
  {
    name: 'moves a part',
    source: two,
    params: { channel: 9 },
    scope: { parts: [refA] },
    effect: { notesChanged: 3 },
    expect: (after) => expect(parts(after).map((p) => p.channel)).toEqual([9, 2]),
  },
]);
testStep('transpose', [
  {
    name: 'only what is chosen',
    source: two,
    params: { semitones: 12 },
    scope: { parts: [refA], fromTick: 480 },
    effect: { notesChanged: 2 },
    expect(after, before) {
      expect(notes(after, 0).map((n) => n[2])).toEqual([60, 76, 79]);
      expect(parts(after)[1]!.notes).toBe(parts(before)[1]!.notes);
    },
  },
  { name: 'out of 127', source: two, params: { semitones: 100 }, refused: /0 to 127/ },
]);
testStep('fold-octaves', [
  {
    name: 'each to the nearest octave that is allowed',
    source: two,
    params: { lowest: 60, highest: 76 },
    effect: { notesChanged: 1 },
    expect: (after) => expect(notes(after, 1)[0]![2]).toBe(64),
  },
  {
    name: 'where none has an octave in reach',
    source: two,
    params: { only: [61] },
    refused: /has an octave/,
  },
]);
testStep('rest-at-start', [
  {
    name: 'whole bars; the set-up stays',
    source: two,
    params: { bars: 2 },
    effect: { notesChanged: 4 },
    expect(after) {
      expect(notes(after, 0)[0]![0]).toBe(3840);
      expect(score(after).conductor.tempos[0]!.tick).toBe(0);
      expect(score(after).conductor.markers[0]!.tick).toBe(960 + 3840);
      expect(parts(after)[1]!.events.tick[0]).toBe(0);
    },
  },
]);
testStep('shift', [
  {
    name: 'by ms, rounded up',
    source: two,
    params: { ms: 100.1 },
    expect: (after) =>
      expect(mapsOf(score(after)).clock.msAt(notes(after, 0)[0]![0]!)).toBeGreaterThanOrEqual(
        100.1,
      ),
  },
  { name: 'by nothing', source: two, params: {}, refused: /above 0/ },
]);
const rested = song([conductor(), new Track('A').note(1, 3840, 100, 60, 90)]);
testStep('trim-start', [
  {
    name: 'takes bars away',
    source: rested,
    params: { bars: 2 },
    expect: (after) => expect(notes(after, 0)[0]![0]).toBe(0),
  },
  {
    name: 'not where notes stand',
    source: two,
    params: { bars: 1 },
    refused: /notes in the first/,
  },
]);
const moving = song([
  conductor(96).tempo(960, 120).tempo(1920, 77),
  new Track('A').note(1, 0, 480, 60, 9).note(1, 1000, 1111, 61, 9).note(1, 2500, 300, 62, 9),
]);
testStep('one-tempo-holding-clock', [
  {
    name: 'keeps clock times within 1 ms, raising the PPQ',
    source: moving,
    params: { microsecondsPerQuarter: 625000 },
    effect: { notesChanged: 3 },
    expect(after, before) {
      const old = mapsOf(score(before)).clock;
      const { clock } = mapsOf(score(after));
      expect(clock.tempos).toHaveLength(1);
      notes(after, 0).forEach(([start, end], i) => {
        expect(Math.abs(clock.msAt(start!) - old.msAt(notes(before, 0)[i]![0]!))).toBeLessThan(1);
        expect(Math.abs(clock.msAt(end!) - old.msAt(notes(before, 0)[i]![1]!))).toBeLessThan(1);
      });
    },
  },
]);
testStep('one-tempo-holding-bars', [
  {
    name: 'keeps ticks',
    source: moving,
    params: { microsecondsPerQuarter: 500000 },
    expect(after, before) {
      expect(notes(after, 0)).toEqual(notes(before, 0));
      expect(score(after).conductor.tempos.map((t) => t.microsecondsPerQuarter)).toEqual([500000]);
    },
  },
]);
const bare = song([new Track('A').note(1, 0, 480, 60, 9)]);
testStep('state-tempo', [
  {
    name: 'writes the default',
    source: bare,
    params: {},
    expect: (after) =>
      expect(score(after).conductor.tempos).toMatchObject([
        { tick: 0, microsecondsPerQuarter: 500000 },
      ]),
  },
  { name: 'is there already', source: two, params: {}, refused: /is written/ },
]);
testStep('clamp-tempo', [
  {
    name: 'to the limits',
    source: moving,
    params: { lowestBpm: 100, highestBpm: 110 },
    effect: { events: 3 },
    expect: (after) =>
      expect(score(after).conductor.tempos.map((t) => t.microsecondsPerQuarter)).toEqual([
        600000, 545455, 600000,
      ]),
  },
]);
const wavy = conductor(100);
for (let i = 1; i < 40; i++) wavy.tempo(i * 480, 100 + (i % 5));
testStep('thin-tempo', [
  {
    name: 'to ten, the end within a second',
    source: song([wavy, new Track('A').note(1, 0, 19200, 60, 9)]),
    params: { most: 10 },
    expect(after, before) {
      const ends = [after, before].map((r) => mapsOf(score(r)).clock.msAt(19200));
      expect(score(after).conductor.tempos.length).toBeLessThanOrEqual(10);
      expect(Math.abs(ends[0]! - ends[1]!)).toBeLessThan(50);
    },
  },
]);
testStep('set-meter', [
  {
    name: 'one for all',
    source: song([conductor(90, 3, 4).meter(1440, 7, 8), a]),
    params: { numerator: 4, denominator: 4 },
    expect: (after) => expect(score(after).conductor.meters).toHaveLength(1),
  },
  {
    name: 'bars of one beat',
    source: song([conductor(90, 3, 4), a]),
    params: { numerator: 1, denominator: 4 },
    expect: (after) =>
      expect(score(after).conductor.meters).toMatchObject([{ tick: 0, numerator: 1 }]),
  },
  {
    name: 'only the start',
    source: song([new Track().meter(1920, 7, 8), a]),
    params: { numerator: 4, denominator: 4, keepLater: true },
    expect: (after) =>
      expect(score(after).conductor.meters.map((m) => m.numerator)).toEqual([4, 7]),
  },
]);
testStep('set-ppq', [
  {
    name: 'doubles every tick',
    source: two,
    params: { ticksPerQuarter: 960 },
    expect: (after) => expect(notes(after, 0)[2]).toEqual([1920, 2880, 67, 70]),
  },
]);
const thick = song([
  conductor(),
  new Track('A').note(1, 0, 960, 60, 40).note(1, 0, 960, 64, 90).note(1, 480, 960, 67, 60),
]);
testStep('keep-voices', [
  {
    name: 'the highest',
    source: thick,
    params: { voices: 1, keep: 'highest', over: 'seat' },
    // What sounded before ends where the higher one begins; of two struck together one goes.
    effect: { notesDropped: 1, notesChanged: 1 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n.slice(0, 3))).toEqual([
        [0, 480, 64],
        [480, 1440, 67],
      ]),
  },
  {
    name: 'a higher note cuts a held one and does not take its place in time',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 120, 60, 50, 90).note(1, 900, 100, 70, 90),
    ]),
    params: { voices: 1, keep: 'highest', over: 'seat' },
    effect: { notesDropped: 1, notesChanged: 1 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n.slice(0, 3))).toEqual([
        [0, 900, 60],
        [900, 1000, 70],
      ]),
  },
  {
    name: 'the newest cuts what sounds',
    source: thick,
    params: { voices: 1, keep: 'newest', over: 'all' },
    expect: (after) =>
      expect(notes(after, 0)).toEqual([
        [0, 480, 64, 90],
        [480, 1440, 67, 60],
      ]),
  },
]);
const fast = song([
  conductor(125),
  new Track('A').note(1, 0, 50, 60, 40).note(1, 100, 50, 60, 90).note(1, 200, 50, 62, 60),
]);
testStep('thin', [
  {
    name: 'per key',
    source: fast,
    params: { apartMs: 180, per: 'key', keep: 'first' },
    effect: { notesDropped: 1 },
  },
  {
    name: 'over the seat, the loudest',
    source: fast,
    params: { apartMs: 250, per: 'seat', keep: 'loudest' },
    expect: (after) => expect(notes(after, 0).map((n) => n[3])).toEqual([90]),
  },
]);
// Sixteenths of a bar at 120 BPM, 125 ms apart, the first played a little early.
const roll = new Track('Roll');
for (let i = 0; i < 16; i++) roll.note(1, Math.max(0, i * 120 - (i === 4 ? 12 : 0)), 60, 60, 80);
const rolled = song([conductor(), roll]);
const starts = (after: Rendition) => notes(after, 0).map((n) => n[0]);
testStep('thin', [
  {
    name: 'the beats stay where the first of each crowd would be beside them',
    // From the second sixteenth on: keeping the first would leave every note off the beat.
    source: song([conductor(), new Track('A').note(1, 360, 60, 60, 99).note(1, 480, 60, 60, 40)]),
    params: { apartMs: 200, per: 'key', keep: 'beats' },
    effect: { notesDropped: 1 },
    expect: (after) => expect(starts(after)).toEqual([480]),
  },
  {
    name: 'as many stay as can, on eighths rather than between them',
    source: rolled,
    params: { apartMs: 200, per: 'seat', keep: 'beats' },
    effect: { notesDropped: 8 },
    expect: (after) => expect(starts(after)).toEqual([0, 240, 468, 720, 960, 1200, 1440, 1680]),
  },
  {
    name: 'five a second, beats among them',
    source: rolled,
    params: { mostInASecond: 5, per: 'seat', keep: 'beats' },
    expect(after) {
      const kept = starts(after);
      for (const t of kept)
        expect(kept.filter((k) => k <= t && t - k < 960).length).toBeLessThanOrEqual(5);
      expect(kept).toEqual(expect.arrayContaining([0, 468, 960, 1440]));
      expect(kept).toHaveLength(10);
    },
  },
]);
testStep('keep-strongest', [
  {
    name: 'doublings go first, then the inside of chords, then what stands between the beats',
    source: song([
      conductor(),
      // A chord on the beat with its octave doubled inside, and a soft note off the beat.
      new Track('A')
        .note(1, 0, 400, 48, 90)
        .note(1, 0, 400, 55, 90)
        .note(1, 0, 400, 60, 90)
        .note(1, 0, 400, 67, 90)
        .note(1, 130, 100, 62, 30)
        .note(1, 480, 400, 64, 90),
    ]),
    params: { most: 4 },
    effect: { notesDropped: 2 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => [n[0], n[2]])).toEqual([
        [0, 48],
        [0, 60],
        [0, 67],
        [480, 64],
      ]),
  },
  {
    name: 'where there are no more than may stay nothing changes',
    source: rolled,
    params: { most: 16 },
    expect: (after, before) => expect(after.pieces[0]).toBe(before.pieces[0]),
  },
]);
testStep('repeats-elsewhere', [
  {
    name: 'each second one an octave higher, and back where it is free again',
    source: rolled,
    params: { apartMs: 200, by: 'octave', keys: [60, 62, 72] },
    effect: { notesChanged: 8 },
    expect: (after) =>
      expect(notes(after, 0).map((n) => n[2])).toEqual(
        Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? 60 : 72)),
      ),
  },
  {
    name: 'not where that key is struck or held',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 60, 60, 80)
        .note(1, 120, 60, 60, 80)
        .note(1, 200, 60, 72, 80)
        .note(1, 1900, 300, 72, 80)
        .note(1, 1920, 60, 60, 80)
        .note(1, 2040, 60, 60, 80),
    ]),
    params: { apartMs: 200, by: 'octave', keys: [60, 72] },
    refused: /No other key is free/,
  },
  {
    name: 'to the nearest lane, by rows',
    source: rolled,
    params: { rowsPerSecond: 8, apartRows: 2, by: 'nearest', keys: [55, 60, 64] },
    effect: { notesChanged: 8 },
    expect: (after) => expect(new Set(notes(after, 0).map((n) => n[2]))).toEqual(new Set([60, 64])),
  },
  {
    name: 'without a distance',
    source: rolled,
    params: { by: 'octave', keys: [60] },
    refused: /needed/,
  },
]);
testStep('one-long-note', [
  {
    name: 'a roll becomes one note as long as it lasts',
    source: rolled,
    params: { apartMs: 200 },
    effect: { notesChanged: 1, notesDropped: 15 },
    expect: (after) => expect(notes(after, 0)).toEqual([[0, 1860, 60, 80]]),
  },
  {
    name: 'what is far enough stays by itself',
    source: fast,
    params: { apartMs: 80 },
    effect: { notesChanged: 0, notesDropped: 0 },
  },
  { name: 'without a distance', source: rolled, params: {}, refused: /needed/ },
]);
testStep('shorten', [
  {
    name: 'until the next note',
    source: thick,
    params: { until: 'next-note' },
    expect: (after) => expect(notes(after, 0)[0]![1]).toBe(480),
  },
  {
    name: 'to a length',
    source: thick,
    params: { until: 'longest', longestMs: 100 },
    effect: { notesChanged: 3 },
  },
  { name: 'without a length', source: thick, params: { until: 'longest' }, refused: /needed/ },
]);
testStep('lengthen', [
  {
    name: 'to a length',
    source: fast,
    params: { shortestMs: 80 },
    effect: { notesChanged: 3 },
    expect: (after) => expect(notes(after, 0)[2]![1]! - 200).toBe(80),
  },
]);
const hung = song(
  [
    conductor(),
    new Track('A').note(1, 0, 480, 60, 9).hang(1, 480, 60, 9).note(1, 2400, 480, 60, 9),
  ],
  { endTick: 9600 },
);
testStep('pair-stuck', [
  {
    name: 'at the usual length',
    source: hung,
    params: { until: 'median' },
    effect: { notesChanged: 1 },
    expect(after) {
      expect([...parts(after)[0]!.notes.offKind]).not.toContain(OFF_MISSING);
      expect(Math.max(...notes(after, 0).map((n) => n[1]!))).toBeLessThan(9600);
    },
  },
]);
const texts = song([
  conductor().marker(0, 'Go'),
  new Track('A')
    .note(1, 0, 480, 60, 9)
    .text(0, META_LYRIC, 'la')
    .sysex(0, [1, 0xf7])
    .control(0, 1, 7, 9)
    .control(0, 1, 10, 9),
  new Track('B').note(1, 0, 9, 62, 9),
]);
testStep('strip', [
  {
    name: 'text and markers',
    source: texts,
    params: { kinds: ['text', 'markers'] },
    effect: { events: 2 },
    expect: (after) => expect(score(after).conductor.markers).toEqual([]),
  },
  {
    name: 'one controller',
    source: texts,
    params: { kinds: ['controllers'], controllers: [10] },
    effect: { events: 1 },
    expect: (after) => expect([...parts(after)[0]!.events.data1]).toEqual([7]),
  },
  {
    name: 'names beyond the first',
    source: texts,
    params: { kinds: ['track names'], keepNames: 1 },
    effect: { events: 1 },
  },
]);
testStep('drop-duplicates', [
  {
    name: 'keeps the first of equal values',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 480, 60, 9)
        .note(1, 0, 240, 60, 9)
        .control(0, 1, 7, 9)
        .control(5, 1, 7, 9)
        .control(6, 1, 7, 10)
        .control(7, 1, 7, 9),
    ]),
    params: { notes: true, events: true },
    effect: { notesDropped: 1, events: 1 },
  },
]);
testStep('set-format', [
  {
    name: 'format 0',
    source: two,
    params: { format: 0, layout: 'as-is' },
    expect: (after) =>
      expect(after.pieces[0]!.delivery).toMatchObject({ format: 0, layout: 'single' }),
  },
  {
    name: 'one track',
    source: two,
    params: { format: 1, layout: 'conductor-first', oneTrack: 'All' },
    expect: (after) => expect(new Set(parts(after).map((p) => p.track)).size).toBe(1),
  },
]);
it('labels are cut where a word ends', () => {
  expect(shortenLabel('Turn of the tide, again', 16)).toBe('Turn of the tide');
  expect(shortenLabel('Turn of the tides', 16)).toBe('Turn of the');
  expect(shortenLabel('Unbreakablelongword', 8)).toBe('Unbreaka');
});

testStep('markers', [
  {
    name: 'short and plain',
    source: two,
    params: { longest: 12, transliterate: true },
    effect: { events: 1 },
    expect: (after) => expect(score(after).conductor.markers[0]!.text).toBe('Eveil du'),
  },
]);
testStep('carrier-note', [
  {
    name: 'through the whole length',
    source: song([conductor().marker(9600, 'End')]),
    params: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
    effect: { notesAdded: 1 },
    expect: (after) => expect(notes(after, 0)).toEqual([[0, 9600, 60, 1]]),
  },
]);
testStep('name-file', [
  {
    name: 'a name',
    source: two,
    params: { name: 'A.mid' },
    expect: (after) => expect(after.pieces[0]!.delivery.fileName).toBe('A.mid'),
  },
  { name: 'a path', source: two, params: { name: '../A.mid' }, refused: /no folder/ },
]);
