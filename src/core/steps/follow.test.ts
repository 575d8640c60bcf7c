import { expect } from 'vitest';
import { conductor, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import type { Rendition } from '../score/piece';

const BAR = 1920;

/** A tune that goes from one to another after four bars, over chords and a bass. */
const handedOn = () => {
  const [first, second] = [new Track('Reed'), new Track('Fiddle')];
  const chords = new Track('Squeezebox');
  const low = new Track('Bass');
  for (let bar = 0; bar < 8; bar++) {
    const by = bar < 4 ? first : second;
    const channel = bar < 4 ? 1 : 2;
    [72, 74, 76, 79].forEach((key, q) =>
      by.note(channel, bar * BAR + q * 480, 400, key + (bar % 3), 100),
    );
    for (const key of [60, 64, 67]) chords.note(3, bar * BAR, 1800, key, 60);
    low.note(4, bar * BAR, 900, 36, 90).note(4, bar * BAR + 960, 900, 43, 90);
  }
  return song([conductor(), first, second, chords, low]);
};
const drums = () => {
  const [kit, bells] = [new Track('Kit'), new Track('Beat of sticks')];
  for (let i = 0; i < 8; i++) kit.note(10, i * 480, 60, 36, 90);
  for (let i = 0; i < 4; i++) bells.note(9, i * 960 + 240, 60, 75, 70);
  return song([conductor(), kit, bells]);
};
const parts = (r: Rendition) =>
  Object.fromEntries(r.pieces[0]!.score.parts.map((p) => [p.name, p.notes.count]));
const keysOf = (r: Rendition, name: string) =>
  Array.from(r.pieces[0]!.score.parts.find((p) => p.name === name)!.notes.noteNumber);
const ref = (track: string, channel: number) => ({ source: 'main', track, channel, occurrence: 0 });

testStep('follow', [
  {
    name: 'the tune goes over to whoever has it; what is not taken stays where it was',
    source: handedOn(),
    params: { line: 'tune' },
    effect: { notesChanged: 32, notesDropped: 0, says: '32 notes taken from 2 parts' },
    expect(after) {
      expect(parts(after)).toMatchObject({ 'Reed, tune': 32, Squeezebox: 24, Bass: 16 });
      expect(Math.min(...keysOf(after, 'Reed, tune'))).toBeGreaterThanOrEqual(72);
    },
  },
  {
    name: 'a stretch is taken from a part of one’s choice: its highest notes',
    source: handedOn(),
    params: { line: 'tune', takes: [{ fromBar: 2, bars: 1, part: ref('Squeezebox', 3) }] },
    effect: { notesChanged: 29 },
    expect: (after) =>
      expect(keysOf(after, 'Fiddle, tune').filter((k) => k === 67)).toHaveLength(1),
  },
  {
    name: 'the bass',
    source: handedOn(),
    params: { line: 'bass' },
    effect: { notesChanged: 16 },
    expect: (after) => expect(new Set(keysOf(after, 'Bass, bass'))).toEqual(new Set([36, 43])),
  },
  {
    name: 'the chords of all, each pitch class once, without the tune and the bass',
    source: handedOn(),
    params: { line: 'chords', voices: 2 },
    effect: { notesChanged: 16 },
    expect: (after) => expect(parts(after)).toMatchObject({ Reed: 16, Fiddle: 16, Bass: 16 }),
  },
  {
    name: 'all drums as one, whatever their channels',
    source: drums(),
    params: { line: 'beat' },
    effect: { notesChanged: 12, says: '12 notes taken from 2 parts' },
  },
  {
    name: 'where there are no drums it is refused',
    source: handedOn(),
    params: { line: 'beat' },
    refused: /Nobody plays all drums as one/,
  },
]);
