import { describe, expect, it } from 'vitest';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import { hear, jsonFile } from '../../../../testing/device-files';

const ledger = builtIn('cue-ledger');

interface Cue {
  readonly tick: number;
  readonly length?: number;
  readonly value: string | number | null;
}
/** At 120 BPM and PPQ 500 a tick is a millisecond. */
const strand = (
  name: string,
  value: string,
  cues: readonly Cue[],
  over: Record<string, unknown> = {},
) => ({
  cues: cues.map(({ tick, length = 0, value: v }) => ({
    atUs: tick * 1000,
    lengthTicks: length,
    lengthUs: length * 1000,
    tick,
    value: v,
  })),
  kind: cues.some((c) => c.length) ? 'span' : 'instant',
  name,
  source: 'tide.mid',
  value,
  ...over,
});
const file = (strands: readonly unknown[], over: Record<string, unknown> = {}) =>
  jsonFile('tide.strands.json', {
    endTick: 9000,
    endUs: 9_000_000,
    format: 'strands',
    passages: [],
    ppq: 500,
    sound: { file: 'tide.wav', lengthUs: null },
    strands,
    tempos: [{ atUs: 0, microsecondsPerQuarter: 500_000, tick: 0 }],
    version: 1,
    ...over,
  });
const lamps = strand('lamps', 'note-name', [
  { tick: 0, value: 'C4' },
  { tick: 750, value: 'B♭-1' },
]);

describe('the cue ledger', () => {
  it('calls each strand by its name, with its value', () => {
    const { played, says, lost } = hear(ledger, [
      file([lamps, strand('swell', 'length', [{ tick: 100, length: 250, value: 250_000 }])]),
    ]);
    expect([says, lost]).toEqual([[], []]);
    expect(played.events.map((e) => [e.atUs, e.lengthUs, e.kind, e.seat, e.key, e.value])).toEqual([
      [0, 0, 'cue-value', 'lamps', 1, 'C4'],
      [100_000, 250_000, 'cue-value', 'swell', 1, 250_000],
      [750_000, 0, 'cue-value', 'lamps', 2, 'B♭-1'],
    ]);
    expect(played.lengthUs).toBe(9_000_000);
  });

  it.each([
    ['note-name', 'H4'],
    ['note-name', 60],
    ['note-name', 'C10'],
    ['note-number', 128],
    ['note-number', 'C4'],
    ['velocity', 0],
    ['velocity', 128],
    ['none', 1],
    ['length', 'long'],
  ])('a value of the kind %s is not %s', (value, wrong) => {
    const { says, notes } = hear(ledger, [file([strand('x', value, [{ tick: 0, value: wrong }])])]);
    expect(says.join('\n')).toContain(`It is no value of the kind ${value}.`);
    expect(notes).toEqual([]);
  });

  it('the length of a span is its value where it is asked for', () => {
    const of = (v: number) =>
      hear(ledger, [file([strand('x', 'length', [{ tick: 0, length: 250, value: v }])])]).says;
    expect(of(250_000)).toEqual([]);
    expect(of(250_001)).toHaveLength(1);
  });

  it.each([
    [
      'an instant that lasts',
      [strand('x', 'none', [{ tick: 0, length: 9, value: null }], { kind: 'instant' })],
      {},
      'lengthUs: It does not agree with its ticks.',
    ],
    [
      'cues that go back',
      [
        strand('x', 'none', [
          { tick: 9, value: null },
          { tick: 8, value: null },
        ]),
      ],
      {},
      'cues[1].tick: It stands before the last.',
    ],
    [
      'an end at another time',
      [lamps],
      { endUs: 9_000_009 },
      'endUs: Its tick is at another time.',
    ],
    [
      'a first tempo behind tick 0',
      [lamps],
      { tempos: [{ atUs: 1000, microsecondsPerQuarter: 500_000, tick: 1 }] },
      'The first tempo stands at tick 0.',
    ],
    [
      'a passage at another time',
      [lamps],
      { passages: [{ atUs: 5, name: 'Flood', tick: 9 }] },
      'passages[0].atUs: Its tick is at another time.',
    ],
    [
      'a path that leaves the folder',
      [lamps],
      { sound: { file: '../tide.wav', lengthUs: null } },
      'a path inside the delivery is needed',
    ],
  ])('%s is refused', (_, strands, over, says) => {
    expect(hear(ledger, [file(strands, over)]).says.join('\n')).toContain(says);
  });

  it('names that nobody listens for, and a name that comes again, where a game is strict', () => {
    const strict = targetWith({
      seats: [],
      seating: { unseated: 'taken' },
      outputs: [{ writer: 'strands' }],
      strands: { values: ['none', 'note-name'], names: ['lamps', 'gulls'] },
    });
    const none = (name: string, tick: number) => strand(name, 'none', [{ tick, value: null }]);
    const { lost, notes } = hear(strict, [
      file([none('lamps', 0), none('gulls', 10), none('foghorn', 20), none('lamps', 30)]),
    ]);
    expect(notes).toEqual(['10 gulls 1', '30 lamps 1']);
    expect(lost).toEqual([
      '0 lamps 1: a later strand has its name',
      '20 foghorn 1: nobody listens for it',
    ]);
    expect(
      hear(strict, [file([strand('lamps', 'velocity', [{ tick: 0, value: 3 }])])]).says.join(),
    ).toContain('It takes none, note-name.');
  });

  it('says what is missing', () => {
    expect(hear(ledger, []).says).toEqual([' folder: There are no strands.']);
    const asks = targetWith({
      seats: [],
      outputs: [{ writer: 'strands' }],
      metadata: { required: [{ key: 'sound' }] },
    });
    expect(hear(asks, [file([lamps], { sound: null })]).says.join()).toContain(
      'sound: It asks for the name of the sound.',
    );
  });
});
