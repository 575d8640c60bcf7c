import { expect, it } from 'vitest';
import { conductor, song, targetWith, Track, builtIn } from '../../../testing/score-builder';
import { testRule } from '../../../testing/rule-tester';
import { META_COPYRIGHT, META_LYRIC } from '../../../demo/song';
import type { SourceScore } from '../sources/source';
import { flagKnown } from './chart/flags-known';
import { holds } from './chart/holds';
import { rungDensity } from './chart/rungs';
import { filled } from './end/filled-to-the-end';
import { loopMarker } from './end/loop-marker';
import { seam } from './end/seam';
import { soundLength } from './end/sound-length';
import { tracksEqual } from './end/tracks-equal';
import { wholeBars } from './end/length-in-bars';
import { wholeFrames } from './frames/whole-frames';
import { captionRule } from './facts/captions';
import { metadata } from './facts/metadata';
import { strandNames } from './facts/strand-names';
import { fileSize } from './file/file-size';
import { namesApart } from './file/names-apart';
import { chords } from './grid/chords-together';
import { offGrid } from './grid/off-grid';
import { rowLimits } from './grid/row-limits';
import { rows } from './grid/rows';
import { barsAlike } from './notes/bars-alike';
import { noteCount } from './notes/note-count';
import { channels } from './places/channels';
import { kitKeys } from './places/kit-keys';
import { placeLength } from './places/place-length';
import { places } from './places/places';
import { placesFilled } from './places/places-filled';
import { rules } from './index';
import { program } from './sound/program';
import { setUp } from './sound/set-up-once';
import { silentChannel } from './sound/silent-channel';
import { velocity } from './sound/velocity';
import { hands } from './spacing/hands';
import { longest } from './spacing/longest-note';
import { openShare } from './spacing/open-share';
import { strikes } from './spacing/strikes-a-second';
import { keysAt } from '../target/parse';
import { earlyEvents } from './start/early-events';
import { inBar1 } from './start/in-bar-1';
import { restSwallowed } from './start/rest-swallowed';
import { soundApart } from './start/sound-apart';
import { soundLeadIn } from './start/sound-lead-in';
import { declaredBpm } from './tempo/declared-bpm';
import { meterAllowed } from './tempo/meter-allowed';
import { sameInAll } from './tempo/same-in-all';
import { tempoAllowed } from './tempo/tempo-allowed';

/** At 120 BPM and PPQ 480 a bar of 4/4 is 1,920 ticks or two seconds, a tick 1.0417 ms. */
const BAR = 1920;
const text = (t: string) => new TextEncoder().encode(t);
const one = (name = 'Line', channel = 1) => new Track(name).note(channel, 0, 480, 60, 90);
const at = (...rows: [start: number, length: number, key: number, velocity?: number][]) => {
  const track = new Track('Line');
  for (const [start, length, key, velocity = 90] of rows)
    track.note(1, start, length, key, velocity);
  return track;
};
const piece = (track: Track, endTick?: number, name = 'test.mid'): SourceScore =>
  song([conductor(), track], { name, ...(endTick === undefined ? {} : { endTick }) });
/** A rhythm that lies on itself at one place alone; as a song, and as moments on the clock. */
const looseTicks = [0, 300, 480, 900, 1110, 1920, 2040, 2700, 3000, 3840, 4020, 4500, 5340, 5760];
const looseFrom = (from: number) =>
  at(...looseTicks.map((t): [number, number, number] => [from + t, 90, 60]));
const loose = [conductor(), looseFrom(0)];
const looseMs = looseTicks.map((t) => (t * 500) / 480);
const told = (params: Record<string, string>) => [{ step: 'metadata', params }];

it('every key that a rule reads is one that the schema knows', () => {
  for (const { id, block, reads } of rules)
    for (const key of reads ?? []) expect(keysAt([block!]), id).toContain(key);
});
it('every rule has a story for its page, and no story is of a rule that is gone', () => {
  for (const {
    story: { why, mends },
  } of rules) {
    expect(why).toMatch(/\.$/);
    expect(mends).toMatch(/\.$/);
  }
});

// End.
const bars = (block: object) => targetWith({ end: block });
const fiveEight = (endTick: number, ppq = 25) =>
  song([conductor(120, 5, 8), new Track('A').note(1, 0, 10, 60, 90)], { ppq, endTick });
testRule(wholeBars, {
  valid: [
    {
      name: 'three bars of 5/8 at a PPQ that divides them',
      target: bars({ wholeBars: true }),
      source: fiveEight(375, 50),
    },
    {
      name: 'two bars of 5/8 that end on a tick',
      target: bars({ wholeBars: true }),
      source: fiveEight(125),
    },
    {
      name: 'two bars to the tick',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 2 * BAR),
    },
    {
      name: 'the longest',
      target: bars({ wholeBars: true, leastBars: 1, mostBars: 3 }),
      source: piece(one(), 3 * BAR),
    },
    {
      name: '7/8 at PPQ 25, a bar of 87.5 ticks',
      target: bars({ onlyBars: [2] }),
      source: song([conductor(120, 7, 8), new Track('A').note(1, 0, 9, 60, 9)], {
        ppq: 25,
        endTick: 175,
      }),
    },
  ],
  invalid: [
    {
      name: 'three bars of 5/8 whose line stands between two ticks',
      code: 'not-whole-bars',
      target: bars({ wholeBars: true }),
      source: fiveEight(188),
      measured: 3.008,
    },
    {
      name: 'the same where no finer PPQ is taken',
      code: 'not-whole-bars',
      target: targetWith({ end: { wholeBars: true }, file: { ppq: { only: [25] } } }),
      source: fiveEight(188),
    },
    {
      name: 'one tick short',
      code: 'not-whole-bars',
      target: bars({ wholeBars: true }),
      source: piece(one(), 2 * BAR - 1),
      measured: 1.999,
      lossless: [true, true],
    },
    {
      name: 'one tick long',
      code: 'not-whole-bars',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 2 * BAR + 1),
    },
    {
      name: 'three bars where two or four are taken',
      code: 'bars-not-allowed',
      target: bars({ onlyBars: [2, 4] }),
      source: piece(one(), 3 * BAR),
      measured: 3,
      lossless: [true, true],
    },
    {
      name: 'four where three are the most, with a note in the fourth',
      code: 'bars-not-allowed',
      target: bars({ leastBars: 1, mostBars: 3 }),
      source: piece(at([0, 9, 60], [3 * BAR, 9, 62]), 4 * BAR),
      // Stretches that go round first, then what comes first.
      lossless: [false, false, false, false],
    },
    {
      name: 'the same with a sound that goes along: each stretch with its own of the sound, too',
      code: 'bars-not-allowed',
      target: targetWith({ end: { leastBars: 1, mostBars: 3 }, outputs: [{ writer: 'sound' }] }),
      source: piece(at([0, 9, 60], [3 * BAR, 9, 62]), 4 * BAR),
      sound: { ms: 8000 },
      lossless: [false, false, false, false, false, false, false],
    },
  ],
});
testRule(filled, {
  valid: [
    {
      name: 'a note in the last bar',
      target: bars({ filled: true }),
      source: piece(at([BAR, 1, 60]), 2 * BAR),
    },
  ],
  invalid: [
    {
      name: 'an empty second bar',
      code: 'empty-end',
      target: bars({ filled: true }),
      source: piece(at([BAR - 1, 1, 60]), 2 * BAR),
      measured: 1,
      at: [BAR],
      lossless: [true],
    },
  ],
});
const twoTracks = (first: number, second: number) => {
  const b = new Track('B').note(1, 0, second, 62, 90);
  return song([conductor(), new Track('A').note(1, 0, first, 60, 90), b]);
};
testRule(tracksEqual, {
  valid: [
    {
      name: 'both at one tick',
      target: bars({ tracksEqual: true }),
      source: song([conductor(), one('A'), one('B')], { endTick: BAR }),
    },
  ],
  invalid: [
    {
      name: 'one tick apart',
      code: 'tracks-unequal',
      target: bars({ tracksEqual: true }),
      source: twoTracks(480, 481),
      lossless: [true],
    },
    {
      name: 'a note lengthened past the end',
      code: 'past-end',
      target: bars({ nothingPast: true }),
      source: piece(one(), 480),
      steps: [{ step: 'move-notes', params: { lengthTicks: 481 } }],
      measured: 1,
    },
  ],
});
const round = (...marks: [number, string][]) => {
  const track = conductor();
  for (const [tick, label] of marks) track.marker(tick, label);
  return song([track, one()], { endTick: 4 * BAR });
};
const loops = bars({ loopMarker: 'ROUND', loopWholeBars: true });
testRule(loopMarker, {
  valid: [{ name: 'on the second bar', target: loops, source: round([BAR, 'ROUND']) }],
  invalid: [
    { name: 'none', code: 'loop-missing', target: loops, source: round(), lossless: [true] },
    {
      name: 'in other letters',
      code: 'loop-missing',
      target: loops,
      source: round([BAR, 'round']),
    },
    {
      name: 'two',
      code: 'loop-twice',
      target: loops,
      source: round([0, 'ROUND'], [BAR, 'ROUND']),
      measured: 2,
    },
    {
      name: 'one tick behind the bar line',
      code: 'loop-not-bars',
      target: loops,
      source: round([BAR + 1, 'ROUND']),
      lossless: [true],
    },
  ],
});
const seamTarget = bars({ loops: true });
const withLevel = (...levels: [number, number][]) => {
  const track = one();
  for (const [tick, value] of levels) track.event(tick, 0xb0, 1, 7, value);
  return piece(track, 2 * BAR);
};
testRule(seam, {
  valid: [
    {
      name: 'the level comes back',
      target: seamTarget,
      source: withLevel([0, 90], [480, 20], [960, 90]),
    },
    {
      name: 'the level is set where the loop begins',
      target: seamTarget,
      source: withLevel([0, 90], [960, 20]),
    },
  ],
  invalid: [
    {
      name: 'a hanging note',
      code: 'seam-hangs',
      target: seamTarget,
      source: piece(new Track('Line').note(1, 0, 480, 60, 90).hang(1, 960, 62, 90), 2 * BAR),
      measured: 1,
      notes: 1,
    },
    {
      name: 'a level that stays down',
      code: 'seam-jumps',
      target: seamTarget,
      source: withLevel([480, 20]),
      measured: 1,
      at: [0, 2 * BAR - 1],
    },
  ],
});
const fog = builtIn('fog-pier');
testRule(soundLength, {
  valid: [
    {
      name: '20 ms longer',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '1980' }),
    },
    {
      name: '20 ms shorter',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '2020' }),
    },
  ],
  invalid: [
    {
      name: '21 ms longer',
      code: 'sound-length',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '1979' }),
      measured: 21,
      lossless: [true],
    },
    {
      name: '21 ms shorter',
      code: 'sound-length',
      target: fog,
      source: piece(one(), BAR),
      steps: told({ soundMs: '2021' }),
      measured: -21,
      lossless: [true],
    },
    {
      name: 'with the sound at hand either can end with the other',
      code: 'sound-length',
      target: targetWith({ end: { soundWithinMs: 20 }, outputs: [{ writer: 'sound' }] }),
      source: piece(one(), BAR),
      sound: { ms: 2500 },
      measured: -500,
      lossless: [true, true],
    },
  ],
});
const frames = targetWith({
  frames: { perSecond: [24, 25], shiftLowest: -600, shiftHighest: 600, endings: ['round-again'] },
});
testRule(wholeFrames, {
  valid: [
    {
      name: 'fifty frames of 25',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameRate: '25', ending: 'round-again', frameShift: '600' }),
    },
    { name: 'no choice yet', target: frames, source: piece(one(), BAR + 7) },
  ],
  invalid: [
    {
      name: '30 a second',
      code: 'frame-rate',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameRate: '30' }),
      measured: 30,
    },
    {
      name: '601 frames',
      code: 'frame-shift',
      target: frames,
      source: piece(one(), BAR),
      steps: told({ frameShift: '-601' }),
      measured: -601,
    },
    {
      name: 'another ending',
      code: 'ending-unknown',
      target: targetWith({ ...frames, frames: { ...frames.frames, endings: ['rest-at-end'] } }),
      source: piece(one(), BAR),
      steps: told({ ending: 'round-again' }),
    },
    {
      name: '50.026 frames',
      code: 'frames-drift',
      target: frames,
      source: piece(one(), BAR + 1),
      steps: told({ frameRate: '25', ending: 'round-again' }),
      measured: 50.026,
      lossless: [true],
    },
  ],
});

// Start.
testRule(inBar1, {
  valid: [
    {
      name: 'on the last tick of bar 1',
      target: targetWith({ start: { inBar1: true } }),
      source: piece(at([BAR - 1, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'on bar 2',
      code: 'empty-start',
      target: targetWith({ start: { inBar1: true } }),
      source: piece(at([BAR, 9, 60])),
      measured: 1,
      lossless: [true],
    },
  ],
});
const setUpAt = (tick: number) => piece(at([BAR, 480, 60]).event(tick, 0xb0, 1, 7, 90));
testRule(earlyEvents, {
  valid: [
    { name: 'at tick 0', target: targetWith({ start: { leadInBars: 1 } }), source: setUpAt(0) },
    {
      name: 'with the first note',
      target: targetWith({ start: { leadInBars: 1 } }),
      source: setUpAt(BAR),
    },
    {
      name: 'the rest itself is owed',
      target: targetWith({ start: { leadInBars: 2 } }),
      source: setUpAt(9),
    },
  ],
  invalid: [
    {
      name: 'a tick behind the start',
      code: 'event-early',
      severity: 'caution',
      target: targetWith({ start: { leadInBars: 1 } }),
      source: setUpAt(1),
      at: [1],
      lossless: [true],
    },
    {
      name: 'a tick before it is ready',
      code: 'event-early',
      target: targetWith({ start: { leadInMs: 1000 } }),
      source: setUpAt(959),
      at: [959],
      lossless: [true],
    },
  ],
});
testRule(soundLeadIn, {
  valid: [
    {
      name: 'the sound rings on',
      target: targetWith({ start: { soundToo: true } }),
      source: piece(at([BAR, 480, 60])),
      steps: told({ soundMs: '9000' }),
    },
  ],
  invalid: [
    {
      name: 'the sound ends before the last note: its rest is missing',
      code: 'sound-lead-in',
      target: targetWith({ start: { soundToo: true } }),
      source: piece(at([BAR, 480, 60])),
      steps: told({ soundMs: '500' }),
      measured: 2000,
    },
    {
      name: 'with the sound at hand its rest is put before it',
      code: 'sound-lead-in',
      target: targetWith({ start: { soundToo: true }, outputs: [{ writer: 'sound' }] }),
      source: piece(at([BAR, 480, 60])),
      sound: { ms: 700 },
      measured: 1800,
      lossless: [true],
    },
  ],
});
testRule(restSwallowed, {
  valid: [
    {
      name: 'as long as the sound',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '2000' }),
    },
    {
      name: 'the rest is there',
      target: targetWith({}),
      source: piece(at([BAR, 480, 60]), 2 * BAR),
      steps: told({ soundMs: '6000' }),
    },
    {
      name: 'a difference that is no bar',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '3000' }),
    },
  ],
  invalid: [
    {
      name: 'two bars shorter than the sound',
      code: 'rest-swallowed',
      severity: 'caution',
      target: targetWith({}),
      source: piece(one(), BAR),
      steps: told({ soundMs: '6000' }),
      measured: 4000,
      lossless: [true],
    },
    {
      name: 'two bars that the recording has',
      code: 'rest-swallowed-heard',
      severity: 'caution',
      target: targetWith({}),
      source: song(loose),
      sound: { ms: 12_000, onsets: looseMs.map((ms) => ms + 4003) },
      measured: 4003,
      lossless: [true],
    },
  ],
});
const withSoundOut = targetWith({ outputs: [{ writer: 'smf' }, { writer: 'sound' }] });
testRule(soundApart, {
  valid: [
    {
      name: 'together but for the hand',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms, i) => ms + (i % 3) * 6) },
    },
    {
      name: 'whole bars apart at the start: a finding of its own',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 2000) },
    },
    { name: 'nothing was heard', target: withSoundOut, source: song(loose), sound: { ms: 9000 } },
    {
      name: 'another song',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: [300, 950, 2120, 3870, 5555, 7321] },
    },
  ],
  invalid: [
    {
      name: 'the recording begins later',
      code: 'sound-apart',
      severity: 'caution',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 310) },
      measured: 310,
      lossless: [true, true],
    },
    {
      name: 'the recording begins earlier than the score, and only the score can move',
      code: 'sound-apart',
      target: targetWith({}),
      source: song([conductor(), looseFrom(BAR)]),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 1555) },
      measured: -445,
    },
    {
      name: 'the score begins at once and the sound comes first',
      code: 'sound-apart',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.filter((ms) => ms >= 200).map((ms) => ms - 180) },
      measured: -180,
    },
  ],
});

// Tempo.
const tempoOnly = (block: object) => targetWith({ tempo: block });
testRule(tempoAllowed, {
  valid: [
    { name: 'of the list', target: tempoOnly({ onlyBpm: [90, 120] }), source: piece(one()) },
    {
      name: 'floor of 60,000,000/97',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_556).meter(0, 4, 4), one()]),
    },
    {
      name: 'nearest to 60,000,000/97',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_557).meter(0, 4, 4), one()]),
    },
  ],
  invalid: [
    {
      name: '100 is not listed',
      code: 'tempo-not-listed',
      target: tempoOnly({ onlyBpm: [90, 120] }),
      source: song([conductor(100), one()]),
      measured: 100,
    },
    {
      name: 'one microsecond off 97',
      code: 'tempo-not-whole',
      target: tempoOnly({ wholeBpm: true }),
      source: song([new Track().tempoUs(0, 618_558).meter(0, 4, 4), one()]),
    },
  ],
});
testRule(declaredBpm, {
  valid: [
    {
      name: 'within a hundredth',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: piece(one()),
      steps: told({ bpm: '120.01' }),
    },
  ],
  invalid: [
    {
      name: 'just beyond',
      code: 'declared-differs',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: piece(one()),
      steps: told({ bpm: '120.011' }),
      measured: 120,
      lossless: [true, true],
    },
    {
      name: 'of two tempos at the start the one in force',
      code: 'declared-differs',
      target: tempoOnly({ declaredWithinBpm: 0.01 }),
      source: song([new Track().tempo(0, 120).tempo(0, 90).meter(0, 4, 4), one()]),
      steps: told({ bpm: '120' }),
      measured: 90,
    },
  ],
});
testRule(meterAllowed, {
  valid: [
    {
      name: '3/4',
      target: targetWith({ meter: { only: [{ numerator: 3, denominator: 4 }] } }),
      source: song([conductor(120, 3, 4), one()]),
    },
    {
      name: 'bars of one beat',
      target: targetWith({ meter: { only: [{ numerator: 1, denominator: 4 }] } }),
      source: song([conductor(120, 1, 4), one()]),
    },
  ],
  invalid: [
    {
      name: '6/8',
      code: 'meter-not-listed',
      target: targetWith({ meter: { only: [{ numerator: 3, denominator: 4 }] } }),
      source: song([conductor(120, 6, 8), one()]),
      lossless: [true],
    },
  ],
});
const crate = builtIn('stomp-crate');
const drums = (...hits: [number, number][]) => {
  const track = new Track('Drums');
  for (const [tick, key] of hits) track.note(10, tick, 60, key, 100);
  return track;
};
const carved = (...cuts: [string, string, number, number][]) => [
  {
    step: 'carve',
    params: {
      places: cuts.map(([place, fileName, fromBar, bars]) => ({ place, fileName, fromBar, bars })),
    },
  },
];
const twoBeds = carved(['b1', 'b1.mid', 1, 1], ['b2', 'b2.mid', 2, 1]);
testRule(sameInAll, {
  valid: [
    {
      name: 'one for all',
      target: crate,
      source: song([conductor(), drums([0, 36], [BAR, 36])], { endTick: 2 * BAR }),
      steps: twoBeds,
    },
  ],
  invalid: [
    {
      name: 'bed 2 is faster',
      code: 'tempos-differ',
      target: crate,
      source: song([conductor().tempo(BAR, 140), drums([0, 36], [BAR, 36])], { endTick: 2 * BAR }),
      steps: twoBeds,
      measured: 2,
    },
    {
      name: 'bed 2 is in 3/4',
      code: 'meters-differ',
      target: crate,
      source: song([conductor().meter(BAR, 3, 4), drums([0, 36], [BAR, 36])], {
        endTick: BAR + 1440,
      }),
      steps: twoBeds,
      measured: 2,
    },
  ],
});

// Notes and velocity.
testRule(noteCount, {
  valid: [
    {
      name: 'two of two',
      target: targetWith({ notes: { most: 2 } }),
      source: piece(at([0, 9, 60], [9, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'three of two',
      code: 'too-many-notes',
      target: targetWith({ notes: { most: 2 } }),
      source: piece(at([0, 9, 60], [9, 9, 60], [18, 9, 60])),
      measured: 3,
    },
  ],
});
testRule(barsAlike, {
  valid: [
    {
      name: 'one velocity differs',
      target: targetWith({ notes: { barsAlike: 'caution' } }),
      source: piece(at([0, 9, 60, 90], [BAR, 9, 60, 91])),
    },
  ],
  invalid: [
    {
      name: 'two alike',
      code: 'bars-alike',
      severity: 'caution',
      target: targetWith({ notes: { barsAlike: 'caution' } }),
      source: piece(at([0, 9, 60], [BAR, 9, 60])),
      measured: 2,
    },
  ],
});
const alike = at(
  ...Array.from({ length: 8 }, (_, i): [number, number, number] => [i * 480, 9, 60]),
);
testRule(velocity, {
  valid: [
    {
      name: 'at both limits',
      target: targetWith({ velocity: { lowest: 20, highest: 100 } }),
      source: piece(at([0, 9, 60, 20], [9, 9, 60, 100])),
    },
    {
      name: 'seven alike are no pattern',
      target: targetWith({ velocity: { allAlike: 'caution' } }),
      source: piece(
        at(...Array.from({ length: 7 }, (_, i): [number, number, number] => [i * 480, 9, 60])),
      ),
    },
  ],
  invalid: [
    {
      name: 'one below',
      code: 'velocity-range',
      target: targetWith({ velocity: { lowest: 20, highest: 100 } }),
      source: piece(at([0, 9, 60, 19])),
      measured: 19,
      lossless: [false],
    },
    {
      name: 'not 64',
      code: 'velocity-ignored',
      severity: 'remark',
      target: builtIn('strip-organ'),
      source: piece(at([0, 480, 60, 65])),
      // One remark for all parts, without a mark at every note.
      notes: 0,
      measured: 1,
    },
    {
      name: 'eight alike',
      code: 'velocity-alike',
      severity: 'caution',
      target: targetWith({ velocity: { allAlike: 'caution' } }),
      source: piece(alike),
      notes: 8,
    },
  ],
});

// Places, channels, kits.
testRule(channels, {
  valid: [
    {
      name: 'on 10',
      target: crate,
      source: song([conductor(), drums([0, 36])], { name: 'b1.mid', endTick: BAR }),
    },
  ],
  invalid: [
    {
      name: 'on 9',
      code: 'other-channel',
      target: crate,
      source: song([conductor(), one('Drums', 9)]),
      measured: 9,
      lossless: [true, false],
    },
  ],
});
const bed = (endTick: number, name = 'b1.mid') =>
  song([conductor(), drums([0, 36])], { name, endTick });
testRule(places, {
  valid: [
    { name: 'by the name of its file', target: crate, source: bed(BAR, 'B1.mid') },
    {
      name: 'as a step said',
      target: crate,
      source: bed(BAR, 'song.mid'),
      steps: [{ step: 'take-place', params: { place: 'b2', fileName: 'b2.mid' } }],
    },
  ],
  invalid: [
    {
      name: 'a song',
      code: 'no-place',
      target: crate,
      source: bed(BAR, 'song.mid'),
      lossless: [true, true],
    },
    {
      name: 'a long song with markers is carved and not cut',
      code: 'no-place',
      target: crate,
      source: song(
        [
          conductor()
            .marker(0, 'A')
            .marker(12 * BAR, 'B'),
          drums([0, 36], [20 * BAR, 38]),
        ],
        {
          name: 'song.mid',
          endTick: 24 * BAR,
        },
      ),
      // Every note is in one of the files.
      lossless: [true],
    },
  ],
});
testRule(placeLength, {
  valid: [
    { name: 'sixteen bars of bed 1', target: crate, source: bed(16 * BAR) },
    { name: 'half a bar of break', target: crate, source: bed(BAR / 2, 'k1.mid') },
    { name: 'a hit of one beat', target: crate, source: bed(480, 'hit.mid') },
  ],
  invalid: [
    {
      name: 'seventeen bars',
      code: 'place-length',
      target: crate,
      source: bed(17 * BAR),
      measured: 17,
      lossless: [true],
    },
    {
      name: 'a bar and a tick',
      code: 'place-length',
      target: crate,
      source: bed(BAR + 1),
      lossless: [true, true],
    },
    {
      name: 'a hit of a bar and a tick',
      code: 'place-length',
      target: crate,
      source: bed(BAR + 1, 'hit.mid'),
    },
    {
      name: 'two beats more than a break',
      code: 'place-length',
      target: crate,
      source: bed(2 * BAR, 'k2.mid'),
      measured: 2,
    },
  ],
});
testRule(placesFilled, {
  valid: [{ name: 'bed 1 is there', target: crate, source: bed(BAR) }],
  invalid: [
    { name: 'only a hit', code: 'place-missing', target: crate, source: bed(BAR, 'hit.mid') },
    {
      name: 'bed 1 twice',
      code: 'place-twice',
      target: crate,
      source: bed(2 * BAR),
      steps: carved(['b1', 'b1.mid', 1, 1], ['b1', 'other.mid', 2, 1]),
      measured: 2,
    },
  ],
});
testRule(kitKeys, {
  valid: [
    {
      name: 'all in Loft',
      target: crate,
      source: song([conductor(), drums([0, 54], [9, 75])], { name: 'b1.mid' }),
      steps: told({ kit: 'loft' }),
    },
    {
      name: 'all in Quay',
      target: crate,
      source: song([conductor(), drums([0, 35], [9, 56])], { name: 'b1.mid' }),
      steps: told({ kit: 'quay' }),
    },
  ],
  invalid: [
    {
      name: 'a key that no kit has',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 36], [9, 60])], { name: 'b1.mid' }),
      measured: 60,
      notes: 1,
    },
    {
      name: 'a key of the other kit',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 54])], { name: 'b1.mid' }),
      steps: told({ kit: 'quay' }),
      measured: 54,
      lossless: [false, false, false, false],
    },
    {
      name: 'none chosen, and one has them all',
      code: 'kit-open',
      severity: 'caution',
      target: crate,
      source: song([conductor(), drums([0, 54], [9, 75])], { name: 'b1.mid' }),
      lossless: [true],
    },
    {
      name: 'none chosen, and each file fits another kit',
      code: 'off-kit',
      target: crate,
      source: song([conductor(), drums([0, 54], [1920, 54], [1921, 54], [3840, 35])]),
      steps: [
        {
          step: 'carve',
          params: {
            places: [
              { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 2 },
              { place: 'b2', fileName: 'b2.mid', fromBar: 3, bars: 1 },
            ],
          },
        },
      ],
      measured: 35,
      notes: 1,
    },
    {
      name: 'a kit that is not there',
      code: 'kit-unknown',
      target: crate,
      source: song([conductor(), drums([0, 36])]),
      steps: told({ kit: 'barn' }),
    },
  ],
});
// Sounds and set-up.
const barrel = builtIn('ferry-barrel');
const seat1 = (...programs: [number, number][]) => {
  const track = new Track('Brass').note(1, 480, 60, 60, 90);
  for (const [tick, n] of programs) track.program(tick, 1, n);
  return song([conductor(), track], { ppq: 60 });
};
testRule(program, {
  valid: [
    { name: 'one of the seat, at 0', target: barrel, source: seat1([0, 61]) },
    { name: 'none for the parlour', target: builtIn('parlour-keyboard'), source: piece(one()) },
    {
      name: 'one at its first note',
      target: builtIn('parlour-keyboard'),
      source: song([conductor(), new Track('A').program(480, 1, 3).note(1, 480, 9, 60, 9)]),
    },
  ],
  invalid: [
    { name: 'none', code: 'program-missing', target: barrel, source: seat1() },
    {
      name: 'none of the seat',
      code: 'program-not-there',
      target: barrel,
      source: seat1([0, 3]),
      measured: 3,
    },
    {
      name: 'counted from 1',
      code: 'program-off-by-one',
      target: barrel,
      source: seat1([0, 62]),
      measured: 62,
      lossless: [false],
    },
    {
      name: 'two',
      code: 'program-again',
      target: barrel,
      source: seat1([0, 61], [500, 58]),
      measured: 2,
    },
    {
      name: 'at tick 1',
      code: 'program-late',
      target: barrel,
      source: seat1([1, 61]),
      measured: 1,
      lossless: [true],
    },
    {
      name: 'behind the first note',
      code: 'program-late',
      target: builtIn('parlour-keyboard'),
      source: song([conductor(), new Track('A').program(481, 1, 3).note(1, 480, 9, 60, 9)]),
      measured: 481,
    },
  ],
});
const controlled = (...list: [number, number, number][]) => {
  const track = new Track('Brass').note(1, 480, 60, 60, 90);
  for (const [tick, n, value] of list) track.event(tick, 0xb0, 1, n, value);
  return song([conductor(), track], { ppq: 60 });
};
testRule(setUp, {
  valid: [
    { name: 'one of each', target: barrel, source: controlled([0, 7, 1], [0, 10, 2], [0, 93, 3]) },
  ],
  invalid: [
    {
      name: 'no 93',
      code: 'set-up-missing',
      target: barrel,
      source: controlled([0, 7, 100], [0, 10, 64]),
      measured: 1,
      lossless: [true],
    },
    {
      name: '7 twice',
      code: 'set-up-again',
      target: barrel,
      source: controlled([0, 7, 1], [9, 7, 1], [0, 10, 2], [0, 93, 3]),
      measured: 1,
      lossless: [true],
    },
    {
      name: '7 at tick 1',
      code: 'set-up-again',
      target: barrel,
      source: controlled([1, 7, 1], [0, 10, 2], [0, 93, 3]),
      lossless: [true],
    },
  ],
});
testRule(silentChannel, {
  valid: [{ name: 'with a note', target: builtIn('frame-deck'), source: piece(one()) }],
  invalid: [
    {
      name: 'only a controller',
      code: 'silent-channel',
      target: builtIn('frame-deck'),
      source: song([conductor(), one(), new Track('B').event(5, 0xb0, 2, 7, 1)]),
      at: [5],
    },
  ],
});

// Spacing.
testRule(strikes, {
  valid: [
    {
      name: 'three in a second, a fourth a second later',
      target: targetWith({ spacing: { strikesASecond: 3 } }),
      source: piece(at([0, 9, 60], [0, 9, 64], [320, 9, 60], [640, 9, 60], [960, 9, 60])),
    },
  ],
  invalid: [
    {
      name: 'a fourth one tick sooner',
      code: 'too-dense',
      target: targetWith({ spacing: { strikesASecond: 3 } }),
      source: piece(at([0, 9, 60], [320, 9, 60], [640, 9, 60], [959, 9, 60])),
      measured: 4,
      notes: 4,
    },
  ],
});
testRule(longest, {
  valid: [{ name: '900 ms', target: fog, source: piece(at([0, 864, 60])) }],
  invalid: [
    {
      name: '901 ms',
      code: 'too-long',
      target: fog,
      source: piece(at([0, 865, 60])),
      measured: 901.042,
      lossless: [false],
    },
  ],
});
testRule(openShare, {
  valid: [
    { name: '1,200 ms in 2 s', target: fog, source: piece(at([0, 576, 60], [960, 576, 60])) },
    {
      name: 'the window ends inside a note',
      target: fog,
      source: piece(at([0, 576, 60], [1344, 576, 60], [2688, 576, 60])),
    },
  ],
  invalid: [
    {
      name: 'one tick more',
      code: 'open-too-long',
      target: fog,
      source: piece(at([0, 577, 60], [960, 576, 60])),
      measured: 1201.042,
      notes: 2,
    },
    {
      name: 'blasts that touch',
      code: 'open-too-long',
      target: fog,
      source: piece(at([0, 600, 60], [600, 600, 62], [1200, 600, 64])),
      measured: 1875,
    },
  ],
});
const scroll = builtIn('two-hand-scroll');
const twoHands = (left: [number, number, number][], right: [number, number, number][]) => {
  const make = (name: string, channel: number, list: [number, number, number][]) => {
    const track = new Track(name);
    for (const [start, length, key] of list) track.note(channel, start, length, key, 90);
    return track;
  };
  return song([conductor(), make('Left', 1, left), make('Right', 2, right)]);
};
testRule(hands, {
  valid: [
    {
      name: 'sixteen semitones',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [0, 480, 56],
        ],
        [[0, 480, 60]],
      ),
    },
    {
      name: 'the same key, one behind the other',
      target: scroll,
      source: twoHands([[0, 480, 60]], [[480, 480, 60]]),
    },
  ],
  invalid: [
    {
      name: 'seventeen',
      code: 'too-wide',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [0, 480, 57],
        ],
        [[0, 480, 70]],
      ),
      measured: 17,
      notes: 2,
    },
    {
      name: 'reached while the first still sounds',
      code: 'too-wide',
      target: scroll,
      source: twoHands(
        [
          [0, 480, 40],
          [240, 480, 60],
        ],
        [[0, 480, 70]],
      ),
      measured: 20,
    },
    {
      name: 'the same key one tick too early',
      code: 'shared-key',
      target: scroll,
      source: twoHands([[0, 480, 60]], [[479, 480, 60]]),
      notes: 1,
    },
  ],
});

// Grid.
const organ = builtIn('strip-organ');
testRule(rows, {
  valid: [
    {
      name: 'sixteenths at 120 are eight rows a second',
      target: organ,
      source: piece(at([0, 60, 60], [120, 60, 62], [360, 60, 64])),
    },
    {
      name: 'the last row',
      target: targetWith({ grid: { rowsPerSecond: [4], mostRows: 5 } }),
      source: piece(at([0, 60, 60], [960, 60, 62])),
    },
  ],
  invalid: [
    {
      name: 'two ticks off',
      code: 'off-row',
      target: organ,
      source: piece(at([0, 60, 60], [122, 60, 62], [240, 60, 64])),
      measured: 2.083,
      notes: 1,
    },
    {
      name: 'a sixth row',
      code: 'too-many-rows',
      target: targetWith({ grid: { rowsPerSecond: [4], mostRows: 5, rowMm: 8 } }),
      source: piece(at([0, 60, 60], [1200, 60, 62])),
      measured: 6,
    },
    {
      name: 'a rate that is not there',
      code: 'rows-unknown',
      target: organ,
      source: piece(at([0, 60, 60])),
      steps: told({ rowsPerSecond: '5' }),
    },
  ],
});
const rowsOf = (block: object) => targetWith({ grid: { rowsPerSecond: [4], ...block } });
const together = (n: number) =>
  at(...Array.from({ length: n }, (_, i): [number, number, number] => [0, 60, 60 + i]));
testRule(rowLimits, {
  valid: [
    { name: 'five in a row', target: rowsOf({ mostInRow: 5 }), source: piece(together(5)) },
    {
      name: 'a row between',
      target: rowsOf({ sameKeyNextRow: 'none' }),
      source: piece(at([0, 60, 60], [480, 60, 60])),
    },
  ],
  invalid: [
    {
      name: 'six in a row',
      code: 'row-crowded',
      target: rowsOf({ mostInRow: 5 }),
      source: piece(together(6)),
      measured: 6,
      notes: 6,
    },
    {
      name: 'in two rows running',
      code: 'row-again',
      target: rowsOf({ sameKeyNextRow: 'none' }),
      source: piece(at([0, 60, 60], [240, 60, 60])),
      notes: 1,
    },
    {
      name: 'twice in one row',
      code: 'row-shared',
      target: rowsOf({}),
      source: piece(at([0, 30, 60], [60, 30, 60])),
      notes: 1,
    },
  ],
});
const pads = builtIn('pattern-pads');
const padPiece = (...list: [number, number][]) => {
  const track = new Track('Pad');
  for (const [tick, key] of list) track.note(6, tick, 200, key, 90);
  return song([conductor(), track]);
};
testRule(chords, {
  valid: [
    {
      name: 'within 5 ms, with a pluck key',
      target: pads,
      source: padPiece([0, 24], [4, 60], [4, 64]),
    },
    {
      name: 'one note of the zone is no chord',
      target: pads,
      source: padPiece([0, 60], [480, 62]),
    },
  ],
  invalid: [
    {
      name: 'five ticks are 5.2 ms',
      code: 'chord-spread',
      target: pads,
      source: padPiece([0, 24], [0, 60], [5, 64]),
      measured: 5.208,
      notes: 2,
    },
    {
      name: 'no pluck key',
      code: 'trigger-missing',
      target: pads,
      source: padPiece([0, 60], [0, 64]),
      notes: 2,
    },
    {
      name: 'a pluck key 5.2 ms early',
      code: 'trigger-missing',
      target: pads,
      source: padPiece([0, 24], [5, 60], [5, 64]),
    },
  ],
});
const played = (by: (i: number) => number, n = 32) =>
  at(...Array.from({ length: n }, (_, i): [number, number, number] => [i * 120 + by(i), 60, 60]));
testRule(offGrid, {
  valid: [
    { name: 'on the grid', target: targetWith({}), source: piece(played(() => 0)) },
    { name: 'few notes', target: targetWith({}), source: piece(played((i) => 3 + (i % 5), 31)) },
  ],
  invalid: [
    {
      name: 'all a little late',
      code: 'off-grid',
      severity: 'caution',
      target: targetWith({}),
      source: piece(played((i) => 3 + (i % 5))),
      notes: 32,
    },
  ],
});

// Chart.
const ladder = targetWith({
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
testRule(rungDensity, {
  valid: [
    {
      name: 'two in a second',
      target: ladder,
      source: piece(at([0, 60, 24], [480, 60, 26], [960, 60, 24])),
    },
    {
      name: 'three together on rung 5',
      target: ladder,
      source: piece(at([0, 60, 72], [0, 60, 74], [0, 60, 76])),
    },
  ],
  invalid: [
    {
      name: 'three in a second',
      code: 'rung-dense',
      target: ladder,
      source: piece(at([0, 60, 24], [480, 60, 26], [959, 60, 24])),
      measured: 3,
    },
    {
      name: 'two together on rung 1',
      code: 'lanes-together',
      target: ladder,
      source: piece(at([0, 60, 24], [0, 60, 26])),
      measured: 2,
      notes: 2,
    },
    {
      name: 'one still held',
      code: 'lanes-together',
      target: ladder,
      source: piece(at([0, 600, 24], [599, 60, 26])),
      measured: 2,
    },
  ],
});
/** 70 ms are 67.2 ticks, 320 ms are 307.2. */
testRule(holds, {
  valid: [
    {
      name: '70.8 ms before the next',
      target: ladder,
      source: piece(at([0, 412, 24], [480, 60, 24])),
    },
    {
      name: 'a strike needs no gap',
      target: ladder,
      source: piece(at([0, 307, 24], [308, 60, 24])),
    },
    {
      name: 'holds overlap on rung 5',
      target: ladder,
      source: piece(at([0, 800, 72], [240, 800, 74])),
    },
  ],
  invalid: [
    {
      name: '69.8 ms before the next',
      code: 'release-gap',
      target: ladder,
      source: piece(at([0, 413, 24], [480, 60, 24])),
      measured: 69.792,
      notes: 1,
    },
    {
      name: 'holds overlap on rung 1',
      code: 'holds-overlap',
      target: ladder,
      source: piece(at([0, 800, 24], [240, 800, 26])),
      notes: 1,
    },
  ],
});
testRule(flagKnown, {
  valid: [
    {
      name: 'a known flag',
      target: ladder,
      source: piece(at([0, 60, 24])),
      steps: [{ step: 'flags', params: { flag: 'feather' } }],
    },
  ],
  invalid: [
    {
      name: 'another',
      code: 'flag-unknown',
      target: ladder,
      source: piece(at([0, 60, 24])),
      steps: [{ step: 'flags', params: { flag: 'gilded' } }],
      notes: 1,
      lossless: [true],
    },
  ],
});

// Facts.
testRule(metadata, {
  valid: [
    {
      name: 'sixteen letters',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: "Marsh Lane '26-a" }),
    },
  ],
  invalid: [
    {
      name: 'no title',
      code: 'metadata-missing',
      target: builtIn('marsh-duel'),
      source: song([conductor().meta(0, META_COPYRIGHT, text('2026 The Quay Crew')), one()]),
      lossless: [true],
    },
    {
      name: 'seventeen',
      code: 'metadata-long',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: 'Marsh Lane 2026 ab' }),
      measured: 18,
    },
    {
      name: 'an accent',
      code: 'metadata-letters',
      target: crate,
      source: bed(BAR),
      steps: told({ displayName: 'Überfahrt' }),
      measured: 1,
    },
  ],
});
const board = builtIn('song-board');
const sung = (advances: number[], words: [number, string][]) => {
  const lead = conductor();
  for (const [tick, w] of words) lead.meta(tick, META_LYRIC, text(w));
  const track = new Track('Advance');
  for (const tick of advances) track.note(12, tick, 60, 48, 90);
  return song([lead, track], { endTick: 8 * BAR });
};
const fromLyrics = [{ step: 'captions', params: { from: 'lyrics' } }];
testRule(captionRule, {
  valid: [
    {
      name: 'two seconds before the word',
      target: board,
      source: sung([0], [[BAR, '/Low tide']]),
      steps: fromLyrics,
    },
    {
      name: 'with the word',
      target: board,
      source: sung([BAR], [[BAR, '/Low tide']]),
      steps: fromLyrics,
    },
  ],
  invalid: [
    {
      name: 'none',
      code: 'captions-none',
      target: board,
      source: sung([0], [[BAR, '/Low tide']]),
      measured: 0,
    },
    {
      name: 'one advance too few',
      code: 'captions-count',
      target: board,
      source: sung(
        [0],
        [
          [BAR, '/Low tide'],
          [2 * BAR, '/high tide'],
        ],
      ),
      steps: fromLyrics,
      measured: 1,
    },
    {
      name: 'forty-three characters',
      code: 'caption-large',
      target: board,
      source: sung([0], [[BAR, `/${'lantern '.repeat(5)}abc`]]),
      steps: fromLyrics,
      measured: 1,
    },
    {
      name: 'one tick too early',
      code: 'caption-lead',
      target: board,
      source: sung([0], [[BAR + 1, '/Low tide']]),
      steps: fromLyrics,
      measured: 2001.042,
    },
    {
      name: 'one tick behind the word',
      code: 'caption-lead',
      target: board,
      source: sung([BAR + 1], [[BAR, '/Low tide']]),
      steps: fromLyrics,
      measured: -1.042,
    },
  ],
});
const ledger = targetWith({
  seats: [],
  seating: { unseated: 'taken' },
  strands: { values: ['none'], names: ['Line'] },
});
testRule(strandNames, {
  valid: [{ name: 'listened for', target: ledger, source: piece(one()) }],
  invalid: [
    { name: 'another name', code: 'strand-unknown', target: ledger, source: piece(one('Gulls')) },
    {
      name: 'twice',
      code: 'strand-twice',
      target: ledger,
      source: song([conductor(), one(), one()]),
      measured: 2,
    },
  ],
});

// File.
testRule(fileSize, {
  valid: [
    { name: 'room enough', target: targetWith({ file: { mostBytes: 200 } }), source: piece(one()) },
  ],
  invalid: [
    {
      name: 'too large',
      code: 'file-large',
      target: targetWith({ file: { mostBytes: 100 } }),
      source: piece(
        at(...Array.from({ length: 20 }, (_, i): [number, number, number] => [i * 480, 9, 60])),
      ),
    },
  ],
});
const named = targetWith({
  naming: { prefixes: ['1_', '2_'], letters: 'any', longest: 20, ending: '.mid' },
});
testRule(namesApart, {
  valid: [
    {
      name: 'two places',
      target: named,
      source: piece(one(), 2 * BAR),
      steps: carved(['a', '1_a.mid', 1, 1], ['b', '2_b.mid', 2, 1]),
    },
  ],
  invalid: [
    {
      name: 'one place twice',
      code: 'name-taken',
      target: named,
      source: piece(one(), 2 * BAR),
      steps: carved(['a', '1_a.mid', 1, 1], ['b', '1_b.mid', 2, 1]),
    },
  ],
});
