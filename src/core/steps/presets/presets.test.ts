import { expect } from 'vitest';
import { delivered, presetsIn } from '../../reading/curves';
import type { Rendition } from '../../score/piece';
import { testStep } from '../../../../testing/step-tester';
import { conductor, song, Track } from '../../../../testing/score-builder';

type At = readonly [tick: number, bank: number | null, program: number];
const chosen = (...list: At[]) => {
  const track = new Track('Foot');
  for (const [tick, bank, program] of list) {
    if (bank !== null) track.control(tick, 1, 0, bank);
    track.program(tick, 1, program);
  }
  const head = conductor().marker(0, 'Verse').marker(3840, 'Refrain').marker(7680, 'Break');
  return song([head, track.note(1, 0, 240, 60, 80)], { endTick: 9600 });
};
const become =
  (...want: string[]) =>
  ({ pieces }: Rendition) =>
    expect(presetsIn(delivered(pieces[0]!)).map((p) => `${p.tick} ${p.bank}.${p.program}`)).toEqual(
      want,
    );

testStep('lead-presets', [
  {
    name: 'each before its marker, with its bank; the first stays',
    source: chosen([0, 0, 1], [4000, 1, 2], [7600, null, 3]),
    params: { leadMs: 100, to: 'markers' },
    effect: { events: 2 },
    expect: become('0 0.1', '3744 1.2', '7584 1.3'),
  },
  {
    name: 'before bar lines',
    source: chosen([100, 0, 1], [2000, 0, 2]),
    params: { leadMs: 50, to: 'bars' },
    expect: become('1872 0.1', '1872 0.2'),
  },
]);
testStep('space-presets', [
  {
    name: 'the last stays, and what began the piece',
    source: chosen([0, 0, 1], [48, 1, 2], [960, 0, 3], [1008, null, 4], [1056, 2, 5]),
    params: { apartMs: 150 },
    effect: { events: 3 },
    expect: become('0 0.1', '1056 2.5'),
  },
]);
testStep('gather-banks', [
  {
    name: 'a bank that stands far before goes to its program',
    source: song([
      conductor(),
      new Track('Foot').control(0, 1, 0, 2).program(480, 1, 3).program(960, 1, 4),
    ]),
    params: {},
    effect: { events: 1 },
    expect: (after) => {
      become('480 2.3', '960 2.4')(after);
      const [first] = presetsIn(delivered(after.pieces[0]!));
      expect(first!.sent!.tick).toBe(480);
    },
  },
]);
testStep('first-preset', [
  {
    name: 'the first moves to the start',
    source: chosen([480, 1, 2], [960, 0, 3]),
    params: {},
    effect: { events: 1 },
    expect: become('0 1.2', '960 0.3'),
  },
  {
    name: 'another begins',
    source: chosen([480, 1, 2]),
    params: { bank: 3, program: 1 },
    effect: { events: 1 },
    expect: become('0 3.1', '480 1.2'),
  },
]);
testStep('change-preset', [
  {
    name: 'another instead, wherever it is chosen; those behind keep their bank',
    source: chosen([0, 1, 2], [480, null, 3], [960, null, 2]),
    params: { bank: 1, program: 2, toBank: 0, toProgram: 7 },
    effect: { events: 2 },
    expect: become('0 0.7', '480 1.3', '960 0.7'),
  },
  {
    name: 'out: its bank is written for the next',
    source: chosen([0, 1, 2], [480, null, 3]),
    params: { bank: 1, program: 2 },
    effect: { events: 1 },
    expect: become('480 1.3'),
  },
]);
testStep('drop-preset-repeats', [
  {
    name: 'what is there already goes',
    source: chosen([0, 1, 2], [480, 1, 2], [960, 0, 2], [1440, null, 2]),
    params: {},
    effect: { events: 2 },
    expect: become('0 1.2', '960 0.2'),
  },
]);
testStep('presets-from-markers', [
  {
    name: 'one for each marker of the table, whatever its letters; those that stood there go',
    source: chosen([1000, 0, 9]),
    params: {
      leadMs: 100,
      table: [
        { marker: 'verse', bank: 0, program: 1 },
        { marker: 'Refrain ', bank: 1, program: 2 },
        { marker: 'Coda', bank: 1, program: 3 },
      ],
    },
    effect: { events: 2 },
    expect: become('0 0.1', '3744 1.2'),
  },
  {
    name: 'none of them there',
    source: chosen([0, 0, 1]),
    params: { leadMs: 0, table: [{ marker: 'Coda', bank: 0, program: 1 }] },
    refused: /None of the markers/,
  },
]);
