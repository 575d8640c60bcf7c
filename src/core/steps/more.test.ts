import { expect, it } from 'vitest';
import { builtIn, conductor, rows, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { META_LYRIC, META_TEXT } from '../../../demo/song';
import type { Rendition } from '../score/piece';
import { runPlan } from '../plan/run';
import { isWholeBpm } from '../time/tempos';
import { wrap } from './facts';
import { steps } from './index';
import { baseOf } from '../plan/base';

const BAR = 1920;
const at = (...list: [start: number, length: number, key: number, velocity?: number][]) => {
  const track = new Track('Line');
  for (const [start, length, key, velocity = 90] of list)
    track.note(1, start, length, key, velocity);
  return track;
};
const piece = (track: Track, endTick?: number) =>
  song([conductor(), track], endTick === undefined ? {} : { endTick });
const notes = (r: Rendition, part = 0) => rows(r.pieces[0]!.score.parts[part]!.notes);
const keys = (r: Rendition, part = 0) => notes(r, part).map((n) => n[2]);

testStep('split', [
  {
    name: 'by key',
    source: piece(at([0, 9, 59], [0, 9, 60], [480, 9, 40])),
    params: { by: 'key', at: 60, channels: [1, 2] },
    effect: { notesChanged: 3 },
    expect: (r) => {
      expect(r.pieces[0]!.score.parts.map((p) => [p.name, p.channel, p.notes.count])).toEqual([
        ['Line, below C4', 1, 2],
        ['Line, from C4', 2, 1],
      ]);
    },
  },
  {
    name: 'by hand: chords are parted where the hands are',
    source: piece(at([0, 9, 40], [0, 9, 47], [0, 9, 64], [0, 9, 67], [480, 9, 43], [480, 9, 72])),
    params: { by: 'hand' },
    expect: (r) => {
      expect(keys(r, 0)).toEqual([40, 47, 43]);
      expect(keys(r, 1)).toEqual([64, 67, 72]);
    },
  },
  {
    name: 'by voice: each line stays its own',
    source: piece(at([0, 480, 60], [0, 480, 72], [480, 480, 74], [480, 480, 59])),
    params: { by: 'voice', voices: 2 },
    expect: (r) => {
      expect(keys(r, 0)).toEqual([72, 74]);
      expect(keys(r, 1)).toEqual([60, 59]);
    },
  },
  {
    name: 'by column of the chord, from the top',
    source: piece(at([0, 9, 60], [0, 9, 64], [0, 9, 67], [480, 9, 62])),
    params: { by: 'column', voices: 2 },
    expect: (r) => {
      expect(keys(r, 0)).toEqual([67, 62]);
      expect(keys(r, 1).sort()).toEqual([60, 64]);
    },
  },
  {
    name: 'by velocity',
    source: piece(at([0, 9, 60, 63], [9, 9, 60, 64])),
    params: { by: 'velocity', at: 64 },
    expect: (r) => expect(r.pieces[0]!.score.parts.length).toBe(2),
  },
  {
    name: 'a stretch',
    source: piece(at([0, 9, 60], [BAR, 9, 61], [2 * BAR, 9, 62])),
    params: { by: 'stretch' },
    scope: { fromTick: BAR, toTick: 2 * BAR },
    expect: (r) => expect(keys(r, 1)).toEqual([61]),
  },
  {
    name: 'nothing on the other side',
    source: piece(at([0, 9, 60])),
    params: { by: 'key', at: 20 },
    refused: /one side/,
  },
]);

testStep('carve', [
  {
    name: 'cuts what rings on, and begins with what is in force',
    source: song(
      [
        conductor().tempo(BAR, 90),
        new Track('Drums')
          .event(0, 0xb0, 10, 7, 80)
          .note(10, BAR - 10, 60, 36, 90)
          .note(10, BAR, 9, 38, 90),
      ],
      { endTick: 2 * BAR },
    ),
    params: {
      places: [
        { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 },
        { place: 'k1', fileName: 'k1.mid', fromBar: 2, bars: 0.5 },
      ],
    },
    effect: { notesChanged: 2 },
    expect: ({ pieces }) => {
      expect(pieces.map((p) => [p.delivery.place, p.delivery.fileName])).toEqual([
        ['b1', 'b1.mid'],
        ['k1', 'k1.mid'],
      ]);
      expect(rows(pieces[0]!.score.parts[0]!.notes)).toEqual([[BAR - 10, BAR, 36, 90]]);
      expect(rows(pieces[1]!.score.parts[0]!.notes)).toEqual([[0, 9, 38, 90]]);
      expect(pieces[1]!.score.tracks[0]!.endTick).toBe(BAR / 2);
      expect(pieces[1]!.score.conductor.tempos[0]).toMatchObject({
        tick: 0,
        microsecondsPerQuarter: 666_667,
      });
      expect(pieces[1]!.score.parts[0]!.events.data2[0]).toBe(80);
    },
  },
  {
    name: 'a bar that is not there',
    source: piece(at([0, 9, 60])),
    params: { places: [{ place: 'b1', fileName: 'b1.mid', fromBar: 9, bars: 1 }] },
    refused: /no bar 9/,
  },
  {
    name: 'one name twice',
    source: piece(at([0, 9, 60])),
    params: {
      places: [1, 1].map(() => ({ place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 })),
    },
    refused: /share a name/,
  },
]);
testStep('take-place', [
  {
    name: 'names the file',
    source: piece(at([0, 9, 60])),
    params: { place: 'b2', fileName: 'b2.mid' },
    expect: (r) => expect(r.pieces[0]!.delivery).toMatchObject({ place: 'b2', fileName: 'b2.mid' }),
  },
]);

testStep('map-keys', [
  {
    name: 'only those named',
    source: piece(at([0, 9, 35], [9, 9, 36], [18, 9, 38])),
    params: {
      keys: [
        { from: 35, to: 36 },
        { from: 36, to: 40 },
      ],
    },
    effect: { notesChanged: 2 },
    expect: (r) => expect(keys(r)).toEqual([36, 40, 38]),
  },
]);
testStep('replace-by-pattern', [
  {
    name: 'again and again while the note sounds, cut at its end',
    source: piece(at([0, 1200, 90], [1920, 100, 60])),
    params: {
      noteNumber: 90,
      everyBeats: 1,
      pattern: [
        { beat: 0, lengthBeats: 0.25, noteNumber: 36, velocity: 100 },
        { beat: 0.5, lengthBeats: 1, noteNumber: 38, velocity: 70 },
      ],
    },
    effect: { notesDropped: 1, notesAdded: 5 },
    expect: (r) =>
      expect(notes(r)).toEqual([
        [0, 120, 36, 100],
        [240, 720, 38, 70],
        [480, 600, 36, 100],
        [720, 1200, 38, 70],
        [960, 1080, 36, 100],
        [1920, 2020, 60, 90],
      ]),
  },
]);
testStep('lanes', [
  {
    name: 'by keys, evenly',
    source: piece(at([0, 9, 50], [9, 9, 60], [18, 9, 70])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'keys' },
    expect: (r) => expect(keys(r)).toEqual([1, 3, 5]),
  },
  {
    name: 'by contour: a step is one lane, a leap two, the edge turns it round',
    source: piece(at([0, 9, 60], [9, 9, 62], [18, 9, 72], [27, 9, 71])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'contour' },
    expect: (r) => expect(keys(r)).toEqual([3, 4, 2, 1]),
  },
  {
    name: 'a shuffle of a seed is the same everywhere',
    source: piece(at([0, 9, 60], [9, 9, 62], [18, 9, 72], [27, 9, 71])),
    params: { lanes: [1, 2, 3, 4, 5], by: 'shuffle', seed: 7 },
    expect: (r) => expect(keys(r)).toEqual([4, 1, 3, 1]),
  },
  {
    name: 'a chord takes lanes of its own',
    source: piece(at([0, 9, 60], [0, 9, 60])),
    params: { lanes: [1, 2], by: 'keys' },
    expect: (r) => expect(keys(r)).toEqual([1, 2]),
  },
]);

testStep('set-program', [
  {
    name: 'one at the start, in the place of all',
    source: song([
      conductor(),
      new Track('A').program(5, 1, 3).event(0, 0xb0, 1, 0, 1).program(9, 1, 4).note(1, 0, 9, 60, 9),
    ]),
    params: { program: 14 },
    effect: { events: 3 },
    expect: (r) => {
      const { events } = r.pieces[0]!.score.parts[0]!;
      expect([events.count, events.tick[0], events.data1[0]]).toEqual([1, 0, 14]);
    },
  },
]);
testStep('set-controller', [
  {
    name: 'keeps the first value',
    source: song([
      conductor(),
      new Track('A').event(5, 0xb0, 1, 7, 33).event(9, 0xb0, 1, 7, 99).note(1, 0, 9, 60, 9),
    ]),
    params: { controller: 7 },
    expect: (r) => {
      const { events } = r.pieces[0]!.score.parts[0]!;
      expect([events.count, events.tick[0], events.data2[0]]).toEqual([1, 0, 33]);
    },
  },
]);
testStep('velocity', [
  {
    name: 'scaled and bounded',
    source: piece(at([0, 9, 60, 100], [9, 9, 60, 10])),
    params: { scalePercent: 150, highest: 120, lowest: 20 },
    expect: (r) => expect(notes(r).map((n) => n[3])).toEqual([120, 20]),
  },
  {
    name: 'all alike',
    source: piece(at([0, 9, 60, 100], [9, 9, 60, 64])),
    params: { all: 64 },
    effect: { notesChanged: 1 },
  },
]);
testStep('move-notes', [
  {
    name: 'later and higher',
    source: piece(at([0, 9, 60])),
    params: { ticks: 100, semitones: 2, velocity: 5 },
    expect: (r) => expect(notes(r)).toEqual([[100, 109, 62, 5]]),
  },
  {
    name: 'before the start',
    source: piece(at([0, 9, 60])),
    params: { ticks: -1 },
    refused: /before its start/,
  },
  {
    name: 'above 127',
    source: piece(at([0, 9, 127])),
    params: { semitones: 1 },
    refused: /0 to 127/,
  },
]);
testStep('add-note', [
  {
    name: 'in its place',
    source: piece(at([480, 9, 60])),
    params: { tick: 0, lengthTicks: 10, noteNumber: 61, velocity: 70 },
    effect: { notesAdded: 1 },
    expect: (r) => {
      expect(notes(r)[0]).toEqual([0, 10, 61, 70]);
      const { id, origin } = r.pieces[0]!.score.parts[0]!.notes;
      expect([new Set(id).size, origin[0]]).toEqual([2, 0]);
    },
  },
]);
testStep('delete-notes', [
  {
    name: 'those of a stretch',
    source: piece(at([0, 9, 60], [480, 9, 61])),
    params: {},
    scope: { fromTick: 480 },
    effect: { notesDropped: 1 },
  },
]);

testStep('set-length', [
  {
    name: 'fills up',
    source: piece(at([0, 480, 60]), 480),
    params: { bars: 2 },
    effect: { notesChanged: 0, notesDropped: 0 },
    expect: (r) =>
      expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([2 * BAR, 2 * BAR]),
  },
  {
    name: 'cuts what rings on and drops what begins later',
    source: piece(at([0, 3000, 60], [BAR, 9, 61])),
    params: { bars: 1 },
    effect: { notesChanged: 1, notesDropped: 1 },
    expect: (r) => expect(notes(r)).toEqual([[0, BAR, 60, 90]]),
  },
  {
    name: 'the common end',
    source: song([conductor(), at([0, 480, 60]), new Track('B').note(2, 0, 960, 60, 9)]),
    params: {},
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([960, 960, 960]),
  },
  {
    name: 'at a moment, by the clock',
    source: piece(at([0, 480, 60], [960, 9, 61]), 4 * BAR),
    params: { toMs: 2500 },
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([2400, 2400]),
  },
  {
    name: 'where the last track that plays ends, whatever rings past it',
    source: song([
      conductor(),
      at([0, 480, 60]).meta(700, META_TEXT, new Uint8Array(1)),
      new Track('B').hang(2, 0, 60, 9),
    ]),
    params: { tracksEnd: true },
    expect: (r) => expect(r.pieces[0]!.score.tracks.map((t) => t.endTick)).toEqual([700, 700, 700]),
  },
  {
    name: 'tracks without a length',
    source: song([new Track('Dot').note(1, 0, 0, 60, 90)]),
    params: { tracksEnd: true },
    refused: /have no length/,
  },
]);
testStep('loop', [
  {
    name: 'moves the marker',
    source: song([conductor().marker(5, 'ROUND'), at([0, 9, 60])], { endTick: 4 * BAR }),
    params: { label: 'ROUND', bar: 2 },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.markers.map((m) => [m.tick, m.text])).toEqual([
        [BAR, 'ROUND'],
      ]),
  },
  {
    name: 'behind the end',
    source: piece(at([0, 9, 60])),
    params: { label: 'ROUND', bar: 9 },
    refused: /no bar 9/,
  },
]);
testStep('repeat', [
  {
    name: 'a bar twice more; what follows moves',
    source: song([conductor(), at([0, 480, 60], [BAR - 10, 50, 61], [BAR, 480, 62])], {
      endTick: 2 * BAR,
    }),
    params: { fromBar: 1, bars: 1, times: 2 },
    effect: { notesAdded: 4 },
    expect: (r) => {
      expect(notes(r).map((n) => [n[0], n[2]])).toEqual([
        [0, 60],
        [BAR - 10, 61],
        [BAR, 60],
        [2 * BAR - 10, 61],
        [2 * BAR, 60],
        [3 * BAR - 10, 61],
        [3 * BAR, 62],
      ]);
      const part = r.pieces[0]!.score.parts[0]!;
      expect(new Set(part.notes.id).size).toBe(7);
      expect(new Set(part.notes.origin).size).toBe(3);
      expect(r.pieces[0]!.score.tracks[1]!.endTick).toBe(4 * BAR);
    },
  },
]);
testStep('state-seam', [
  {
    name: 'says the level again',
    source: piece(at([0, 9, 60]).event(480, 0xb0, 1, 7, 20), BAR),
    params: {},
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.data2]).toEqual([100, 20]),
  },
  {
    name: 'at the marker where the loop begins, wherever that has gone',
    source: song(
      [
        conductor().marker(BAR, 'ROUND'),
        at([0, 9, 60])
          .event(0, 0xb0, 1, 7, 50)
          .event(BAR + 480, 0xb0, 1, 7, 20),
      ],
      { endTick: 2 * BAR },
    ),
    params: { marker: 'ROUND' },
    effect: { events: 1 },
    expect: (r) => {
      const { tick, data2 } = r.pieces[0]!.score.parts[0]!.events;
      expect([...tick].map((t, i) => [t, data2[i]])).toEqual([
        [0, 50],
        [BAR, 50],
        [BAR + 480, 20],
      ]);
    },
  },
  {
    name: 'a marker that is not there',
    source: piece(at([0, 9, 60]).event(480, 0xb0, 1, 7, 20), BAR),
    params: { marker: 'ROUND' },
    refused: /no marker ROUND/,
  },
]);

testStep('quantise', [
  {
    name: 'to sixteenths, half the way',
    source: piece(at([10, 60, 60], [131, 60, 60])),
    params: { dividePer: 4, strengthPercent: 50 },
    expect: (r) =>
      expect(notes(r).map((n) => n.slice(0, 2))).toEqual([
        [5, 65],
        [126, 186],
      ]),
  },
  {
    name: 'to rows',
    source: piece(at([122, 60, 60])),
    params: { rowsPerSecond: 8 },
    expect: (r) => expect(notes(r)[0]!.slice(0, 2)).toEqual([120, 180]),
  },
  {
    name: 'chords over parts',
    source: song([conductor(), at([0, 60, 60]), new Track('B').note(2, 9, 60, 64, 9)]),
    params: { chordWithinMs: 30 },
    expect: (r) => expect(notes(r, 1)[0]![0]).toBe(0),
  },
  {
    name: 'the grid begins anew with a bar between quarters',
    source: song([conductor(120, 7, 8), at([1690, 60, 60])]),
    params: { dividePer: 1 },
    expect: (r) => expect(notes(r)[0]![0]).toBe(1680),
  },
  { name: 'no grid', source: piece(at([0, 9, 60])), params: {}, refused: /grid is needed/ },
]);
testStep('add-trigger-keys', [
  {
    name: 'where there is none',
    source: piece(at([0, 60, 60], [0, 60, 64], [480, 60, 60], [480, 60, 64], [480, 60, 24])),
    params: {
      key: 24,
      chordLowest: 48,
      chordHighest: 76,
      triggerLowest: 24,
      triggerHighest: 31,
      leastNotes: 2,
      withinMs: 5,
    },
    effect: { notesAdded: 1 },
  },
]);
testStep('close-gaps', [
  {
    name: 'short ones only',
    source: piece(at([0, 400, 60], [480, 100, 62], [1440, 9, 64])),
    params: { longestMs: 100 },
    effect: { notesChanged: 1 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(480),
  },
]);
testStep('limit-open', [
  {
    name: 'in any stretch',
    source: piece(at([0, 600, 60], [600, 600, 62], [1200, 600, 64])),
    params: { mostOpenMs: 1200, inMs: 2000 },
    expect: (r) => {
      const open = notes(r).reduce((n, [s, e]) => n + e! - s!, 0);
      expect(open).toBeLessThanOrEqual(1152);
    },
  },
]);
testStep('keep-reach', [
  {
    name: 'the lowest first',
    source: piece(at([0, 480, 40], [0, 480, 60], [240, 480, 58])),
    params: { semitones: 16, keep: 'lowest' },
    expect: (r) =>
      expect(notes(r)).toEqual([
        [0, 240, 40, 90],
        [240, 720, 58, 90],
      ]),
  },
]);
testStep('drop-shared', [
  {
    name: 'the later one goes',
    source: song([conductor(), at([0, 480, 60]), new Track('B').note(2, 240, 480, 60, 9)]),
    params: {},
    effect: { notesDropped: 1 },
  },
]);
testStep('reduce-chords', [
  {
    name: 'drop the bottom',
    source: piece(at([0, 9, 60], [0, 9, 64], [0, 9, 67])),
    params: { most: 2, drop: 'bottom' },
    expect: (r) => expect(keys(r)).toEqual([64, 67]),
  },
]);
testStep('hold-rules', [
  {
    name: 'a gap before the next of the lane',
    source: piece(at([0, 480, 60], [480, 60, 60])),
    params: { holdMs: 320, releaseGapMs: 100 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(384),
  },
  {
    name: 'short ones are strikes',
    source: piece(at([0, 100, 60])),
    params: { holdMs: 320, strikeMs: 50 },
    expect: (r) => expect(notes(r)[0]![1]).toBe(48),
  },
]);
testStep('flags', [
  {
    name: 'those of a stretch',
    source: piece(at([0, 9, 60], [480, 9, 61])),
    params: { flag: 'feather' },
    scope: { fromTick: 480 },
    effect: { notesChanged: 1 },
    expect: (r) => expect(r.pieces[0]!.flags![0]!.notes.size).toBe(1),
  },
]);
testStep('tempo-to-list', [
  {
    name: 'the nearest',
    source: song([conductor(101), at([0, 9, 60])]),
    params: { bpms: [90, 120] },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.tempos[0]!.microsecondsPerQuarter).toBe(666_667),
  },
  { name: 'no list', source: piece(at([0, 9, 60])), params: {}, refused: /list/ },
]);
testStep('metadata', [
  {
    name: 'sets and takes away',
    source: piece(at([0, 9, 60])),
    params: { title: 'Low tide', maker: '' },
    expect: (r) => expect(r.pieces[0]!.delivery.metadata).toEqual({ title: 'Low tide' }),
  },
  {
    name: 'a BPM that is no number',
    source: piece(at([0, 9, 60])),
    params: { bpm: 'quick' },
    refused: /not a number/,
  },
]);
const sung = (...words: [number, string][]) => {
  const lead = conductor();
  for (const [tick, w] of words) lead.meta(tick, META_LYRIC, new TextEncoder().encode(w));
  return song([lead, at([0, 9, 48], [BAR, 9, 48])]);
};
testStep('captions', [
  {
    name: 'syllables are joined to phrases',
    source: sung([0, '/Lan-'], [100, 'terns '], [200, 'low'], [BAR, '/over the quay']),
    params: { from: 'lyrics' },
    expect: (r) =>
      expect(r.pieces[0]!.captions).toEqual([
        { tick: 0, text: 'Lanterns low' },
        { tick: BAR, text: 'over the quay' },
      ]),
  },
  {
    name: 'a list is laid on the notes',
    source: sung(),
    params: { from: 'list', lines: ['Low tide', '', 'High tide'] },
    expect: (r) => expect(r.pieces[0]!.captions!.map((c) => c.tick)).toEqual([0, BAR]),
  },
  {
    name: 'more lines than notes',
    source: sung(),
    params: { from: 'list', lines: ['a', 'b', 'c'] },
    refused: /3 captions but only 2 notes/,
  },
  { name: 'no lyrics', source: sung(), params: { from: 'lyrics' }, refused: /no lyrics/ },
]);

testStep('gather-set-up', [
  {
    name: 'only what stands before the place',
    source: piece(at([BAR, 9, 60]).event(5, 0xb0, 1, 7, 20).event(BAR, 0xb0, 1, 7, 30)),
    params: { beforeTick: 960 },
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0, BAR]),
  },
  {
    name: 'before so many bars or milliseconds, whichever is later',
    source: piece(
      at([2 * BAR, 9, 60])
        .event(BAR + 5, 0xb0, 1, 7, 20)
        .event(9, 0xb0, 1, 10, 3),
    ),
    params: { beforeBars: 1, beforeMs: 3000 },
    effect: { events: 2 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0, 0]),
  },
  {
    name: 'before the first note, where nothing is said',
    source: piece(at([BAR, 9, 60]).event(BAR - 1, 0xb0, 1, 7, 20)),
    params: {},
    effect: { events: 1 },
    expect: (r) => expect([...r.pieces[0]!.score.parts[0]!.events.tick]).toEqual([0]),
  },
]);
testStep('place-marker', [
  {
    name: 'in tick order, in the place of one that stands there',
    source: song([conductor().marker(0, 'Old').marker(BAR, 'Later'), at([0, 9, 60])], {
      endTick: 4 * BAR,
    }),
    params: { label: 'New', bar: 1 },
    expect: (r) =>
      expect(r.pieces[0]!.score.conductor.markers.map((m) => [m.tick, m.text])).toEqual([
        [0, 'New'],
        [BAR, 'Later'],
      ]),
  },
  {
    name: 'on a beat',
    source: piece(at([0, 9, 60]), BAR),
    params: { label: 'Turn', bar: 1, beat: 3 },
    expect: (r) => expect(r.pieces[0]!.score.conductor.markers[0]!.tick).toBe(960),
  },
]);
testStep('shift', [
  {
    name: 'by beats of 6/8',
    source: song([conductor(120, 6, 8), at([0, 9, 60])]),
    params: { beats: 3 },
    expect: (r) => expect(notes(r)[0]![0]).toBe(720),
  },
]);

it('captions break at words', () => {
  expect(wrap('all the lanterns of the marsh', 12)).toBe('all the\nlanterns of\nthe marsh');
});
it('a whole tempo is 60,000,000/N rounded down or to the nearest', () => {
  for (let n = 40; n <= 240; n++) {
    expect(isWholeBpm(Math.floor(60_000_000 / n))).toBe(true);
    expect(isWholeBpm(Math.round(60_000_000 / n))).toBe(true);
    expect(isWholeBpm(Math.floor(60_000_000 / n) - 1)).toBe(false);
  }
});
it('every step is known by one id and has words for people', () => {
  expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length);
  for (const s of steps) expect(s.summary).toMatch(/\.$/);
});
it('a song is carved for the crate, and every file is held against its place', () => {
  const source = song(
    [conductor(), new Track('Drums').note(10, 0, 60, 36, 90).note(10, BAR, 60, 38, 90)],
    { endTick: 2 * BAR },
  );
  const places = [
    { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 },
    { place: 'hit', fileName: 'hit.mid', fromBar: 2, bars: 1 },
  ];
  const run = runPlan({
    base: baseOf(source),
    target: builtIn('stomp-crate'),
    plan: { steps: [{ key: 'a', step: 'carve', params: { places }, scope: {}, on: true }] },
  });
  expect(run.rendition.pieces.map((p) => p.delivery.fileName)).toEqual(['b1.mid', 'hit.mid']);
});

const phrases = song([
  conductor(),
  new Track('Line')
    .note(1, 0, 400, 60, 90)
    .note(1, 480, 400, 64, 90)
    // Behind a rest, a phrase that lies an octave higher and leaps out of reach.
    .note(1, 1920, 400, 72, 90)
    .note(1, 2400, 400, 80, 90),
]);
const keysOf = (after: Rendition) =>
  Array.from(after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!.notes.noteNumber);
testStep('bring-into-reach', [
  {
    name: 'a phrase goes as a whole, and keeps its contour',
    source: phrases,
    params: { lowest: 58, highest: 76 },
    effect: { notesChanged: 2 },
    expect: (after) => expect(keysOf(after)).toEqual([60, 64, 60, 68]),
  },
  {
    name: 'what has no octave there goes to the nearest key, where that is asked',
    source: phrases,
    params: { only: [59, 64], nearest: true },
    effect: { notesChanged: 3 },
    expect: (after) => expect(keysOf(after)).toEqual([59, 64, 64, 64]),
  },
  {
    name: 'nothing has an octave',
    source: phrases,
    params: { only: [61] },
    refused: /has an octave/,
  },
]);
testStep('fit-voices', [
  {
    name: 'what rings longest ends where the next begins; no note is lost',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 240, 960, 64, 90).note(1, 480, 960, 67, 90),
    ]),
    params: { voices: 2, over: 'seat' },
    effect: { notesDropped: 0, notesChanged: 1 },
    expect(after) {
      const { notes } = after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!;
      expect(Array.from(notes.end)).toEqual([480, 1200, 1440]);
    },
  },
  {
    name: 'what ends where the next begins takes no voice from what rings on',
    source: song([
      conductor(),
      new Track('A').note(1, 0, 960, 60, 90).note(1, 240, 240, 64, 90).note(1, 480, 480, 67, 90),
    ]),
    params: { voices: 2, over: 'seat' },
    effect: { notesDropped: 0, notesChanged: 0 },
    expect(after) {
      const { notes } = after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!;
      expect(Array.from(notes.end)).toEqual([960, 480, 960]);
    },
  },
  {
    name: 'of a chord that is too large the doubling goes first, top and bottom stay',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 480, 48, 90)
        .note(1, 0, 480, 55, 60)
        .note(1, 0, 480, 60, 99)
        .note(1, 0, 480, 64, 90),
    ]),
    params: { voices: 3, over: 'all' },
    effect: { notesDropped: 1 },
    expect: (after) => expect(keysOf(after).sort()).toEqual([48, 55, 64]),
  },
]);
