import { expect } from 'vitest';
import { song, conductor, Track, rows } from '../../../testing/score-builder';
import { piece, at, keys, BAR } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';

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
    name: 'in turn: strike by strike, chords together',
    source: piece(at([0, 9, 60], [0, 9, 64], [480, 9, 62], [960, 9, 67], [1440, 9, 65])),
    params: { by: 'turn', voices: 3 },
    expect: (r) => {
      expect(keys(r, 0)).toEqual([60, 64, 65]);
      expect(keys(r, 1)).toEqual([62]);
      expect(keys(r, 2)).toEqual([67]);
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
    name: 'what is struck a little early for the first beat is on it, and in its own file',
    source: song(
      [conductor(), new Track('Drums').note(10, 0, 60, 42, 90).note(10, BAR - 15, 60, 36, 90)],
      { endTick: 2 * BAR },
    ),
    params: {
      places: [
        { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 },
        { place: 'b2', fileName: 'b2.mid', fromBar: 2, bars: 1 },
      ],
    },
    effect: { notesChanged: 2 },
    expect: ({ pieces }) => {
      expect(rows(pieces[0]!.score.parts[0]!.notes)).toEqual([[0, 60, 42, 90]]);
      expect(rows(pieces[1]!.score.parts[0]!.notes)).toEqual([[0, 45, 36, 90]]);
    },
  },
  {
    name: 'cuts what rings on, and begins with what is in force',
    source: song(
      [
        conductor().tempo(BAR, 90),
        new Track('Drums')
          .event(0, 0xb0, 10, 7, 80)
          .note(10, BAR - 100, 160, 36, 90)
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
      expect(rows(pieces[0]!.score.parts[0]!.notes)).toEqual([[BAR - 100, BAR, 36, 90]]);
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
