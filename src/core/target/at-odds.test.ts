import { expect, it } from 'vitest';
import { builtIn, targetWith } from '../../../testing/score-builder';
import { parseTarget } from './parse';

const channel = { kind: 'channel', id: 'one', name: 'One', channel: 1 };
const track = (name: string) => ({ kind: 'track', id: name.toLowerCase(), name, track: name });
const tracks = [track('Left'), track('Right')];
const carrier = { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' };
const bed = { kind: 'file', id: 'b1', name: 'Bed 1', fileName: 'b1.mid', plays: 'round' };
const naming = { letters: 'A-Z0-9', longest: 8, ending: '.mid' };
const once = {
  tempo: { constant: true },
  meter: { constant: true },
  file: { ppq: { only: [480] } },
};
const crate = { seats: [bed], outputs: [{ writer: 'crate' }] };

const problems = (over: Record<string, unknown>) => {
  const plain = targetWith({ seats: [channel] });
  return parseTarget({ ...plain, ...over }).problems.map((p) => `${p.path}: ${p.says}`);
};

it.each([
  [
    'names of tracks that it looks for and does not take',
    { seats: tracks, text: { mostTrackNames: 1 } },
    'text.mostTrackNames: It looks for 2 tracks by name (Left, Right), and takes 1 track name.',
  ],
  [
    'tracks in a file that has one',
    { seats: tracks, file: { formats: [0] } },
    'file.formats: Its seats are tracks, and the file that it takes has one for all.',
  ],
  [
    'a trigger that is no key of it',
    { notes: { lowest: 36 }, grid: { triggerLowest: 24, triggerHighest: 31 } },
    'grid.triggerLowest: None of its notes is on the trigger keys 24 to 31.',
  ],
  [
    'a seat none of whose keys is taken',
    { seats: [{ ...channel, accepts: { only: [36, 38] } }], notes: { lowest: 40 } },
    'seats[0]: None of the keys of “One” is taken (notes).',
  ],
  [
    'a marker that it looks for and does not take',
    { end: { loopMarker: 'ROUND' }, text: { markers: 'none' } },
    'text.markers: It looks for the marker “ROUND”, and takes no markers.',
  ],
  [
    'rows without a rate',
    { outputs: [{ writer: 'smf' }, { writer: 'hole-list' }] },
    'outputs[1].writer: “hole-list” counts rows: say how many there are in a second (grid.rowsPerSecond).',
  ],
  [
    'a crate of several tempos',
    { ...crate, ...once, tempo: {} },
    'outputs[0].writer: A crate needs one tempo in all its files (tempo.constant).',
  ],
  [
    'a file that is called as no file may be',
    { seats: [bed], naming },
    'seats[0].fileName: “b1.mid” is no name that its files may have.',
  ],
  [
    'a carrier behind a rest',
    { carrier, start: { leadInBars: 1 } },
    'carrier: Its note begins at tick 0, and the start asks for a rest.',
  ],
  [
    'a carrier that is too long',
    { carrier, length: { longestMs: 900 } },
    'carrier: Its note lasts to the end, longer than a note may.',
  ],
  [
    'a carrier that is too soft',
    { carrier, velocity: { lowest: 20 } },
    'carrier: Its velocity of 1 is not taken.',
  ],
  [
    'a carrier that is made louder',
    { carrier, velocity: { deliveredAs: 64 } },
    'carrier: Its velocity of 1 is not taken.',
  ],
  [
    'a carrier on a key that is not there',
    { carrier, notes: { without: [60] } },
    'carrier: Its key 60 is not taken.',
  ],
])('%s is said when a target is read', (_, over, expected) => {
  expect(problems(over)).toEqual([expected]);
});

it.each([
  ['as many names as tracks', { seats: [track('Left')], text: { mostTrackNames: 1 } }],
  ['tracks where format 1 is taken too', { seats: tracks, file: { formats: [0, 1] } }],
  ['one track alone in format 0', { seats: [track('Left')], file: { formats: [0] } }],
  [
    'one of the triggers',
    { notes: { lowest: 31 }, grid: { triggerLowest: 24, triggerHighest: 31 } },
  ],
  ['a crate of one tempo', { ...crate, ...once }],
  ['a name that is taken', { seats: [{ ...bed, fileName: 'B1.mid' }], naming }],
  ['a carrier as soft as it may be', { carrier, velocity: { lowest: 1 }, start: { inBar1: true } }],
  [
    'what is said mildly',
    {
      carrier,
      start: { leadInBars: 1, severity: 'caution' },
      velocity: { lowest: 9, severity: 'remark' },
    },
  ],
  [
    'names of tracks that one may have',
    { seats: tracks, text: { mostTrackNames: 0, severity: 'caution' } },
  ],
  ['a carrier by itself', { carrier: builtIn('tempo-carrier').carrier }],
])('%s can be kept', (_, over) => {
  expect(problems(over)).toEqual([]);
});
