import type { Rendition } from '../src/core/score/piece';
import type { SourceScore } from '../src/core/sources/source';
import { builtIn, conductor, rows, song, targetWith, Track } from './score-builder';

// Small tunes that tests of rules and of steps share.

/** At 120 BPM and PPQ 480 a bar of 4/4 is 1,920 ticks or two seconds, a tick 1.0417 ms. */
export const BAR = 1920;
export const text = (t: string) => new TextEncoder().encode(t);
export const one = (name = 'Line', channel = 1) => new Track(name).note(channel, 0, 480, 60, 90);
export const at = (...rows: [start: number, length: number, key: number, velocity?: number][]) => {
  const track = new Track('Line');
  for (const [start, length, key, velocity = 90] of rows)
    track.note(1, start, length, key, velocity);
  return track;
};
export const piece = (track: Track, endTick?: number, name = 'test.mid'): SourceScore =>
  song([conductor(), track], { name, ...(endTick === undefined ? {} : { endTick }) });
/** A rhythm that lies on itself at one place alone; as a song, and as moments on the clock. */
export const looseTicks = [
  0, 300, 480, 900, 1110, 1920, 2040, 2700, 3000, 3840, 4020, 4500, 5340, 5760,
];
export const looseFrom = (from: number) =>
  at(...looseTicks.map((t): [number, number, number] => [from + t, 90, 60]));
export const loose = [conductor(), looseFrom(0)];
export const looseMs = looseTicks.map((t) => (t * 500) / 480);
export const told = (params: Record<string, string>) => [{ step: 'metadata', params }];
export const bars = (block: object) => targetWith({ end: block });
export const tempoOnly = (block: object) => targetWith({ tempo: block });
export const drums = (...hits: [number, number][]) => {
  const track = new Track('Drums');
  for (const [tick, key] of hits) track.note(10, tick, 60, key, 100);
  return track;
};
export const carved = (...cuts: [string, string, number, number][]) => [
  {
    step: 'carve',
    params: {
      places: cuts.map(([place, fileName, fromBar, bars]) => ({ place, fileName, fromBar, bars })),
    },
  },
];
export const bed = (endTick: number, name = 'b1.mid') =>
  song([conductor(), drums([0, 36])], { name, endTick });
// Sounds and set-up.
export const barrel = builtIn('ferry-barrel');
export const ladder = targetWith({
  seats: [
    { kind: 'laneGroup', id: 'one', name: 'One', channel: 1, laneNotes: [24, 26, 72, 74, 76] },
  ],
  chart: {
    holdMs: 320,
    flags: ['feather'],
    rungs: [
      { rung: 1, laneNotes: [24, 26], strikesASecond: 2, together: 1, releaseGapMs: 70 },
      {
        rung: 5,
        laneNotes: [72, 74, 76],
        strikesASecond: 12,
        together: 3,
        releaseGapMs: 50,
        holdsOverlap: true,
      },
    ],
  },
});
/** A line of quarters on channel 1. */
export const line = (...keys: number[]) => {
  const track = new Track('Line');
  keys.forEach((key, i) => track.note(1, i * 480, 400, key, 90));
  return track;
};
export const simple = song([conductor(), line(60, 62, 64, 65)]);
export const cues = (...ticks: number[]) => {
  const track = new Track('Cues');
  ticks.forEach((tick, i) => track.note(16, tick, 240, 40 + i, 90));
  return track;
};

export const notes = (r: Rendition, part = 0) => rows(r.pieces[0]!.score.parts[part]!.notes);
export const keys = (r: Rendition, part = 0) => notes(r, part).map((n) => n[2]);
export const keysOf = (after: Rendition) =>
  Array.from(after.pieces[0]!.score.parts.find((p) => p.notes.count > 0)!.notes.noteNumber);
export const a = new Track('A')
  .note(1, 0, 480, 60, 90)
  .note(1, 480, 480, 64, 80)
  .note(1, 960, 480, 67, 70);
export const b = new Track('B').note(2, 240, 240, 40, 50).control(0, 2, 7, 99).program(0, 2, 5);
export const two = song([conductor(100).marker(960, 'Éveil du long phare'), a, b]);
export const refA = { source: 'main', track: 'A', channel: 1, occurrence: 0 };
export const parts = (r: Rendition) => r.pieces[0]!.score.parts;
export const score = (r: Rendition) => r.pieces[0]!.score;
export const moving = song([
  conductor(96).tempo(960, 120).tempo(1920, 77),
  new Track('A').note(1, 0, 480, 60, 9).note(1, 1000, 1111, 61, 9).note(1, 2500, 300, 62, 9),
]);
export const thick = song([
  conductor(),
  new Track('A').note(1, 0, 960, 60, 40).note(1, 0, 960, 64, 90).note(1, 480, 960, 67, 60),
]);
export const fast = song([
  conductor(125),
  new Track('A').note(1, 0, 50, 60, 40).note(1, 100, 50, 60, 90).note(1, 200, 50, 62, 60),
]);
// Sixteenths of a bar at 120 BPM, 125 ms apart, the first played a little early.
export const roll = new Track('Roll');
for (let i = 0; i < 16; i++) roll.note(1, Math.max(0, i * 120 - (i === 4 ? 12 : 0)), 60, 60, 80);
export const rolled = song([conductor(), roll]);

/** A part for the brine box: what is turned on its channel, at 120 BPM a beat is 500 ms. */
export const foot = (put: (track: Track) => Track, options: { endTick?: number } = {}) =>
  song([conductor().marker(0, 'Verse').marker(3840, 'Refrain'), put(new Track('Foot'))], {
    name: 'foot.mid',
    endTick: 9600,
    ...options,
  });
/** A preset of bank A, whose bank stands before it. */
export const preset = (track: Track, tick: number, program: number, bank = 0): Track =>
  track.control(tick, 9, 0, bank).program(tick, 9, program);
