import { expect, it } from 'vitest';
import {
  builtIn,
  conductor,
  smf,
  song,
  sourceFromBytes,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { testRule } from '../../../testing/rule-tester';
import { META_LYRIC, META_TEXT } from '../../../demo/song';
import { rules } from './index';
import { channelEvents } from './events/channel-events';
import { repeatedEvents } from './events/repeated-events';
import { systemEvents } from './events/system-events';
import { text } from './events/text';
import { fileName } from './file/file-name';
import { format } from './file/format';
import { ppq } from './file/ppq';
import { damage } from './integrity/damage';
import { division } from './integrity/division';
import { overlap } from './integrity/overlap';
import { sequences } from './integrity/sequences';
import { stuck } from './integrity/stuck-note';
import { strayOff } from './integrity/note-off-alone';
import { zeroLength } from './integrity/zero-length';
import { noteRange } from './notes/note-range';
import { carrier } from './seats/carrier-note';
import { nothingDelivered } from './seats/nothing-delivered';
import { seating } from './seats/seating';
import { apart } from './spacing/distance';
import { atOnce } from './spacing/at-once';
import { sameKey } from './spacing/same-key';
import { shortest } from './spacing/shortest-note';
import { clock } from './start/clock-time';
import { firstNote } from './start/first-note';
import { startRest } from './start/start-rest';
import { meterAbsent } from './tempo/meter-absent';
import { meterConstant } from './tempo/meter-constant';
import { tempoAbsent } from './tempo/tempo-absent';
import { tempoConstant } from './tempo/tempo-constant';
import { tempoCount } from './tempo/tempo-count';
import { tempoRange } from './tempo/tempo-range';

const plain = targetWith({});
const rail = builtIn('lantern-rail');
const loft = builtIn('bell-loft');
const carrierTarget = builtIn('tempo-carrier');
/** A line of quarters on channel 1. */
const line = (...keys: number[]) => {
  const track = new Track('Line');
  keys.forEach((key, i) => track.note(1, i * 480, 400, key, 90));
  return track;
};
const simple = song([conductor(), line(60, 62, 64, 65)]);

it('every rule has its own id and reads a block that the schema knows', () => {
  expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length);
  for (const rule of rules) expect(rule.summary).toMatch(/\.$/);
});

testRule(format, {
  valid: [
    {
      name: 'conductor first',
      target: rail,
      source: song([conductor(), new Track('A').note(16, 0, 400, 40, 90)]),
    },
    {
      name: 'format 0 for the loft',
      target: loft,
      source: song([line(60, 62).tempo(0, 100)], { format: 0 }),
    },
  ],
  invalid: [
    {
      name: 'format 1 for the loft',
      code: 'format',
      target: loft,
      source: simple,
      measured: 1,
      lossless: [true],
    },
    {
      name: 'tempo on the track with notes',
      code: 'conductor-track',
      target: rail,
      source: song([new Track('A').tempo(0, 100).note(16, 0, 400, 40, 90)]),
      lossless: [true],
    },
    {
      name: 'two note tracks for the rail',
      code: 'note-tracks',
      target: rail,
      source: song([
        conductor(),
        new Track('A').note(16, 0, 400, 40, 90),
        new Track('B').note(16, 960, 400, 41, 90),
      ]),
      measured: 2,
      lossless: [true],
    },
  ],
});

testRule(ppq, {
  valid: [
    { name: '480 is a multiple of 24', target: loft, source: simple },
    { name: 'no limit', target: plain, source: song([conductor(), line(60)], { ppq: 97 }) },
  ],
  invalid: [
    {
      name: '250',
      code: 'ppq',
      target: loft,
      source: song([conductor(), line(60, 62)], { ppq: 250 }),
      measured: 250,
      lossless: [true],
    },
    {
      name: '1920 is too fine',
      code: 'ppq',
      target: loft,
      source: song([conductor(), line(60, 62)], { ppq: 1920 }),
    },
  ],
});

testRule(division, {
  valid: [{ name: 'PPQ', target: plain, source: simple }],
  invalid: [
    {
      name: 'frames, for a target that says nothing of PPQ',
      code: 'frames',
      target: plain,
      source: song([line(60)], { ppq: 0xe728 }),
      measured: 25,
      lossless: [true],
    },
  ],
});

const manySequences = (...notes: readonly number[]) =>
  song(
    notes.map((n, i) => {
      const track = new Track(`Verse ${i + 1}`).tempo(0, 120).meter(0, 4, 4);
      for (let k = 0; k < n; k++) track.note(1, k * 480, 240, 60, 90);
      return track;
    }),
    { format: 2 },
  );
testRule(sequences, {
  valid: [
    { name: 'one file, one sequence', target: plain, source: simple },
    { name: 'format 2 with one', target: plain, source: manySequences(3) },
  ],
  invalid: [
    {
      name: 'the first that holds notes is taken, and said',
      code: 'other-sequences',
      severity: 'caution',
      target: plain,
      source: manySequences(0, 4, 7),
      measured: 7,
    },
    {
      name: 'the others are empty',
      code: 'other-sequences',
      severity: 'remark',
      target: plain,
      source: manySequences(0, 4),
      measured: 0,
    },
  ],
});

testRule(fileName, {
  valid: [
    { name: 'eight capitals', target: loft, source: song([conductor()], { name: 'BELLS12.mid' }) },
  ],
  invalid: [
    {
      name: 'long and spaced',
      code: 'file-name',
      target: loft,
      source: song([conductor()], { name: 'my bells (2).midi' }),
      lossless: [true],
    },
    {
      name: 'nothing usable',
      code: 'file-name',
      target: loft,
      source: song([conductor()], { name: '…….mid' }),
    },
  ],
});

const bells = new Track('Bells').note(1, 0, 400, 60, 90);
testRule(seating, {
  valid: [
    { name: 'on the seat', target: plain, source: song([conductor(), bells]) },
    {
      name: 'the only part, by name',
      target: plain,
      source: song([conductor(), new Track('one').note(1, 0, 9, 60, 9)]),
    },
  ],
  invalid: [
    {
      name: 'two parts, one elsewhere',
      code: 'unseated',
      target: plain,
      source: song([conductor(), bells, new Track('Other').note(4, 480, 100, 61, 90)]),
      at: [480],
      notes: 1,
      lossless: [false, true],
    },
    {
      name: 'the only part is on another channel',
      code: 'wrong-channel',
      target: plain,
      source: song([conductor(), new Track('Solo').note(7, 0, 100, 61, 90)]),
      measured: 7,
      lossless: [true],
    },
    {
      name: 'on a track of another name',
      code: 'wrong-track',
      target: targetWith({ seats: [{ kind: 'track', id: 'left', name: 'Left', track: 'Left' }] }),
      source: song([conductor(), new Track('left').note(1, 0, 100, 61, 90)]),
      lossless: [true],
    },
    {
      name: 'a seat that nobody takes',
      code: 'empty-seat',
      severity: 'caution',
      target: targetWith({
        seats: [
          { kind: 'channel', id: 'one', name: 'One', channel: 1 },
          { kind: 'channel', id: 'two', name: 'Two', channel: 2 },
        ],
      }),
      source: song([conductor(), bells]),
    },
    {
      name: 'every part of a tempo carrier',
      code: 'left-out',
      severity: 'remark',
      target: carrierTarget,
      source: simple,
    },
  ],
});

testRule(nothingDelivered, {
  valid: [
    { name: 'something plays', target: plain, source: simple },
    { name: 'a target without seats', target: carrierTarget, source: song([conductor()]) },
  ],
  invalid: [
    {
      name: 'a source without a note',
      code: 'no-notes',
      target: plain,
      source: song([conductor()]),
      measured: 0,
    },
    {
      name: 'everything left out',
      code: 'no-notes',
      target: plain,
      source: simple,
      steps: [{ step: 'leave-out', params: {} }],
      measured: 0,
    },
    {
      name: 'one of two files',
      code: 'file-empty',
      severity: 'caution',
      target: plain,
      source: song([conductor(), line(60, 62)], { endTick: 8 * 1920 }),
      steps: [
        {
          step: 'carve',
          params: {
            places: [
              { place: 'a', fileName: 'a.mid', fromBar: 1, bars: 1 },
              { place: 'b', fileName: 'b.mid', fromBar: 4, bars: 1 },
            ],
          },
        },
      ],
    },
  ],
});

testRule(carrier, {
  valid: [
    {
      name: 'after its own step',
      target: carrierTarget,
      source: simple,
      steps: [
        {
          step: 'carrier-note',
          params: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
        },
      ],
    },
  ],
  invalid: [
    {
      name: 'no notes at all',
      code: 'carrier-missing',
      target: carrierTarget,
      source: simple,
      lossless: [false],
    },
    {
      name: 'other notes were seated',
      code: 'carrier-differs',
      target: carrierTarget,
      source: simple,
      steps: [{ step: 'route', params: { seat: 'anywhere' } }],
    },
  ],
});

testRule(tempoAbsent, {
  valid: [{ name: 'written', target: plain, source: simple }],
  invalid: [
    {
      name: 'none',
      code: 'tempo-absent',
      severity: 'caution',
      target: plain,
      source: song([line(60)]),
      lossless: [true],
    },
    {
      name: 'late',
      code: 'tempo-absent',
      target: plain,
      source: song([new Track().tempo(1920, 90), line(60)]),
      lossless: [true],
    },
  ],
});

testRule(meterAbsent, {
  valid: [{ name: 'written', target: plain, source: simple }],
  invalid: [
    {
      name: 'none',
      code: 'meter-absent',
      severity: 'caution',
      target: plain,
      source: song([line(60)]),
      lossless: [true],
    },
    {
      name: 'late',
      code: 'meter-absent',
      target: plain,
      source: song([new Track().meter(1920, 3, 4), line(60)]),
      lossless: [true],
    },
  ],
});

const cues = (...ticks: number[]) => {
  const track = new Track('Cues');
  ticks.forEach((tick, i) => track.note(16, tick, 240, 40 + i, 90));
  return track;
};
testRule(tempoConstant, {
  valid: [{ name: 'one', target: rail, source: song([conductor(), cues(0, 480)]) }],
  invalid: [
    {
      name: 'two changes',
      code: 'tempo-changes',
      target: rail,
      source: song([conductor(96).tempo(1440, 112).tempo(2880, 120), cues(0, 960, 1700, 3333)]),
      at: [1440, 2880],
      measured: 3,
      // Holding the bars moves every note on the clock, by whichever tempo.
      lossless: [true, false, false],
    },
    {
      name: 'the same tempo again',
      code: 'tempo-changes',
      severity: 'caution',
      target: rail,
      source: song([conductor(96).tempo(1440, 96), cues(0, 960)]),
      lossless: [true],
    },
  ],
});

testRule(tempoRange, {
  valid: [
    { name: 'at the limits', target: rail, source: song([conductor(60).tempo(960, 180), cues(0)]) },
  ],
  invalid: [
    {
      name: 'too slow',
      code: 'tempo-range',
      target: rail,
      source: song([conductor(40), cues(0, 960)]),
      measured: 40,
      lossless: [true, false],
    },
    {
      name: 'too fast further on',
      code: 'tempo-range',
      target: loft,
      source: song([conductor().tempo(960, 200), line(60, 62, 64)]),
      at: [960],
    },
  ],
});

const many = conductor(100);
for (let i = 1; i < 90; i++) many.tempo(i * 480, 100 + (i % 7));
testRule(tempoCount, {
  valid: [{ name: 'few', target: loft, source: simple }],
  invalid: [
    {
      name: 'ninety',
      code: 'tempo-count',
      target: loft,
      source: song([many, line(...Array.from({ length: 90 }, () => 60))]),
      measured: 90,
    },
  ],
});

testRule(meterConstant, {
  valid: [{ name: 'one', target: rail, source: song([conductor(), cues(0)]) }],
  invalid: [
    {
      name: 'changes inside a bar',
      code: 'meter-changes',
      target: rail,
      source: song([conductor().meter(1000, 6, 8), cues(0, 960, 4000)]),
      at: [1000],
      measured: 2,
      lossless: [true],
    },
    {
      name: 'said twice',
      code: 'meter-changes',
      severity: 'caution',
      target: rail,
      source: song([conductor().meter(1920, 4, 4), cues(0)]),
      lossless: [true],
    },
  ],
});

testRule(startRest, {
  valid: [
    { name: 'three bars', target: rail, source: song([conductor(), cues(5760)]) },
    { name: 'no notes', target: rail, source: song([conductor()]) },
  ],
  invalid: [
    {
      name: 'at once',
      code: 'rest-owed',
      target: rail,
      source: song([conductor(96, 3, 4), cues(0, 960)]),
      at: [0],
      measured: 0,
      notes: 2,
      lossless: [true],
    },
    {
      name: 'a tick short, 7/8 at PPQ 25',
      code: 'rest-owed',
      target: rail,
      source: song([conductor(90, 7, 8), cues(262)], { ppq: 25 }),
      measured: 2,
      lossless: [true],
    },
  ],
});

testRule(firstNote, {
  valid: [
    {
      name: 'exactly at 500 ms',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 480, 100, 60, 90)]),
    },
  ],
  invalid: [
    {
      name: 'at 250 ms',
      code: 'first-note',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 240, 100, 60, 90)]),
      measured: 250,
      lossless: [true, true],
    },
    {
      name: 'one tick early',
      code: 'first-note',
      target: loft,
      source: song([conductor(120), new Track('B').note(1, 479, 100, 60, 90)]),
      lossless: [true, true],
    },
  ],
});

const moving = song([conductor(96).tempo(960, 120), cues(0, 1440, 2880, 4320)]);
testRule(clock, {
  valid: [
    { name: 'as it came', target: rail, source: moving },
    {
      name: 'all later alike',
      target: rail,
      source: moving,
      steps: [{ step: 'rest-at-start', params: { bars: 3 } }],
    },
    {
      name: 'held',
      target: rail,
      source: moving,
      steps: [{ step: 'one-tempo-holding-clock', params: { microsecondsPerQuarter: 500000 } }],
    },
  ],
  invalid: [
    {
      name: 'bars were held instead',
      code: 'clock-moved',
      target: rail,
      source: moving,
      steps: [{ step: 'one-tempo-holding-bars', params: { microsecondsPerQuarter: 500000 } }],
    },
  ],
});

testRule(noteRange, {
  valid: [{ name: 'in reach', target: loft, source: simple }],
  invalid: [
    {
      name: 'an octave too low',
      code: 'out-of-range',
      target: loft,
      source: song([conductor(), line(52, 53, 55)]),
      notes: 3,
      measured: 52,
      lossless: [false, false, false, false, false, false],
    },
    {
      name: 'two keys that are not there',
      code: 'not-there',
      target: loft,
      source: song([conductor(), line(60, 61, 63)]),
      notes: 2,
      at: [480, 960],
    },
  ],
});

const pair = new Track('Cues').note(16, 0, 960, 40, 90).note(16, 480, 480, 45, 90);
const chord = new Track('Cues').note(16, 0, 480, 40, 90).note(16, 0, 480, 45, 90);
const cluster = new Track('Bells');
for (let i = 0; i < 6; i++) cluster.note(1, 0, 480, 64 + i, 90 + i);
testRule(atOnce, {
  valid: [
    { name: 'end meets start', target: rail, source: song([conductor(), cues(0, 240)]) },
    {
      name: 'four bells',
      target: loft,
      source: song([
        conductor(),
        new Track('B')
          .note(1, 0, 9, 64, 9)
          .note(1, 0, 9, 65, 9)
          .note(1, 0, 9, 66, 9)
          .note(1, 0, 9, 67, 9),
      ]),
    },
  ],
  invalid: [
    {
      name: 'one still sounds',
      code: 'at-once',
      target: rail,
      source: song([conductor(), pair]),
      measured: 2,
      notes: 2,
    },
    {
      name: 'struck together',
      code: 'at-once',
      target: rail,
      source: song([conductor(), chord]),
      measured: 2,
      at: [0],
    },
    {
      name: 'a chord on the second of three seats of one voice',
      code: 'at-once',
      target: targetWith({
        seats: [1, 2, 3].map((n) => ({
          kind: 'channel',
          id: `voice-${n}`,
          name: `Voice ${n}`,
          channel: n,
        })),
        polyphony: { together: 1, over: 'seat' },
      }),
      source: song([conductor(), new Track('Two').note(2, 0, 480, 40, 90).note(2, 0, 480, 45, 90)]),
      steps: [
        {
          step: 'route',
          params: { seat: 'voice-2', channel: 2, track: 'Voice 2' },
        },
      ],
      measured: 2,
      at: [0],
    },
    {
      name: 'six bells',
      code: 'at-once',
      target: loft,
      source: song([conductor(), cluster]),
      measured: 6,
      notes: 6,
    },
  ],
});

testRule(sameKey, {
  valid: [
    {
      name: '180 ms apart',
      target: loft,
      source: song([
        conductor(125),
        new Track('B').note(1, 0, 60, 60, 90).note(1, 180, 60, 60, 90),
      ]),
    },
  ],
  invalid: [
    {
      name: 'hammered',
      code: 'same-key-soon',
      target: loft,
      source: song([
        conductor(125),
        new Track('B').note(1, 0, 60, 60, 90).note(1, 100, 60, 60, 99).note(1, 179, 60, 60, 90),
      ]),
      notes: 2,
      measured: 79,
    },
  ],
});

testRule(apart, {
  valid: [{ name: '250 ms apart', target: rail, source: song([conductor(), cues(0, 240)]) }],
  invalid: [
    {
      name: '200 ms apart',
      code: 'too-close',
      target: rail,
      source: song([conductor(), cues(0, 192, 960)]),
      at: [192],
      measured: 200,
      notes: 1,
    },
  ],
});

testRule(shortest, {
  valid: [
    {
      name: '50 ms',
      target: rail,
      source: song([conductor(), new Track('C').note(16, 0, 48, 40, 90)]),
    },
  ],
  invalid: [
    {
      name: '10 ms',
      code: 'too-short',
      target: rail,
      source: song([
        conductor(),
        new Track('C').note(16, 0, 10, 40, 90).note(16, 960, 240, 41, 90),
      ]),
      measured: 10.417,
      notes: 1,
    },
  ],
});

testRule(channelEvents, {
  valid: [{ name: 'none', target: loft, source: simple }],
  invalid: [
    {
      name: 'pan',
      code: 'controllers',
      target: loft,
      source: song([conductor(), line(60).control(0, 1, 10, 20)]),
      lossless: [true],
    },
    {
      name: 'a level',
      code: 'controllers',
      target: loft,
      source: song([conductor(), line(60).control(0, 1, 7, 20)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'program',
      code: 'programs',
      target: loft,
      source: song([conductor(), line(60).program(0, 1, 14)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'a level, where programs and bends are heard',
      code: 'controllers',
      target: targetWith({ events: { controllersWithout: [1] } }),
      source: song([conductor(), line(60).control(0, 1, 1, 20)]),
      lossless: [true],
    },
    {
      name: 'bend',
      code: 'bends',
      target: loft,
      source: song([conductor(), line(60).event(10, 0xe0, 1, 0, 80)]),
      // What the loft refuses by its data cannot be lost on it; it is listed.
      lossless: [true],
    },
    {
      name: 'aftertouch',
      code: 'aftertouch',
      target: targetWith({ events: { aftertouch: 'none' } }),
      source: song([conductor(), line(60).event(10, 0xd0, 1, 80).event(11, 0xa0, 1, 60, 3)]),
      measured: 2,
    },
  ],
});

testRule(systemEvents, {
  valid: [{ name: 'none', target: loft, source: simple }],
  invalid: [
    {
      name: 'sysex',
      code: 'sysex',
      target: loft,
      source: song([conductor(), line(60).sysex(0, [0x7d, 1, 0xf7])]),
      lossless: [true],
    },
    {
      name: 'a meta event nobody knows',
      code: 'unknown-meta',
      target: targetWith({ events: { unknownMeta: 'none' } }),
      source: song([conductor(), line(60).meta(0, 0x60, Uint8Array.of(1, 2))]),
      lossless: [true],
    },
  ],
});

testRule(repeatedEvents, {
  valid: [
    {
      name: 'each new',
      target: plain,
      source: song([conductor(), line(60).control(0, 1, 7, 20).control(1, 1, 7, 30)]),
    },
  ],
  invalid: [
    {
      name: 'volume twice',
      code: 'repeated',
      severity: 'remark',
      target: plain,
      source: song([conductor(), line(60).control(0, 1, 7, 20).control(0, 1, 7, 20)]),
      measured: 1,
      lossless: [true],
    },
  ],
});

testRule(text, {
  valid: [{ name: 'one name', target: loft, source: song([conductor(), line(60)]) }],
  invalid: [
    {
      name: 'two names',
      code: 'track-names',
      target: loft,
      source: song([new Track('Conductor').tempo(0, 120), line(60)]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'markers',
      code: 'markers',
      target: loft,
      source: song([conductor().marker(0, 'Go'), line(60)]),
      lossless: [true],
    },
    {
      name: 'lyrics',
      code: 'other-text',
      target: loft,
      source: song([conductor(), line(60).text(0, META_LYRIC, 'la').text(5, META_TEXT, 'x')]),
      measured: 2,
      lossless: [true],
    },
    {
      name: 'a long label',
      code: 'marker-long',
      target: rail,
      source: song([conductor().marker(0, 'Turn of the tide, again'), cues(0)]),
      measured: 23,
      lossless: [true],
    },
    {
      name: 'accents',
      code: 'marker-letters',
      target: rail,
      source: song([conductor().marker(0, 'Éveil'), cues(0)]),
      lossless: [true],
    },
  ],
});

testRule(stuck, {
  valid: [{ name: 'all end', target: plain, source: simple }],
  invalid: [
    {
      name: 'one hangs',
      code: 'stuck',
      target: plain,
      source: song([conductor(), line(60, 62).hang(1, 1920, 64, 90)], { endTick: 9600 }),
      notes: 1,
      at: [1920],
    },
  ],
});

testRule(strayOff, {
  valid: [{ name: 'none', target: plain, source: simple }],
  invalid: [
    {
      name: 'one too many',
      code: 'stray-off',
      severity: 'caution',
      target: plain,
      source: song([conductor(), line(60).off(1, 900, 72)]),
      at: [900],
      lossless: [true],
    },
  ],
});

testRule(overlap, {
  valid: [
    {
      name: 'end meets start',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 480, 480, 60, 90)]),
    },
    {
      name: 'two tracks keep apart',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90),
        new Track('B').note(1, 100, 480, 60, 90),
      ]),
    },
  ],
  invalid: [
    {
      name: 'within a part',
      code: 'overlap',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 240, 480, 60, 90)]),
      at: [240],
      notes: 1,
    },
    {
      name: 'made by a merge to format 0',
      code: 'overlap',
      target: plain,
      source: song([
        conductor(),
        new Track('A').note(1, 0, 480, 60, 90),
        new Track('B').note(1, 100, 480, 60, 90),
      ]),
      steps: [{ step: 'set-format', params: { format: 0, layout: 'single' } }],
      at: [100],
    },
    {
      name: 'struck twice at once',
      code: 'doubled',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 0, 240, 60, 80)]),
      notes: 1,
    },
  ],
});

testRule(zeroLength, {
  valid: [
    {
      name: 'a tick is a length',
      target: plain,
      source: song([conductor(), new Track('A').note(1, 0, 1, 60, 90)]),
    },
  ],
  invalid: [
    {
      name: 'none at all',
      code: 'zero-length',
      severity: 'caution',
      target: plain,
      source: zeroLengthSong(),
      notes: 1,
      at: [480],
    },
  ],
});

/** The builder puts ends first, so that this one is written by hand: on and off at tick 480. */
function zeroLengthSong() {
  const track = [0x83, 0x60, 0x90, 60, 90, 0x00, 0x80, 60, 64, 0x00, 0xff, 0x2f, 0x00];
  const head = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0x01, 0xe0];
  return sourceFromBytes(
    Uint8Array.from([...head, 0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, track.length, ...track]),
  );
}

const cut = smf(1, 480, [conductor(), line(60, 62)]).slice(0, -9);
testRule(damage, {
  valid: [{ name: 'whole', target: plain, source: simple }],
  invalid: [
    {
      name: 'cut off',
      code: 'damage',
      severity: 'caution',
      target: plain,
      source: sourceFromBytes(cut),
    },
  ],
});
