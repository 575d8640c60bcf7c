import { describe, expect, it } from 'vitest';
import type { Limit } from '../../target/limit-schema';
import { builtIn } from '../../../../testing/score-builder';
import { hear, jsonFile, textFile, waveFile } from '../../../../testing/device-files';

const duel = builtIn('marsh-duel');
const ladder = builtIn('reed-ladder');

/** At 120 BPM and PPQ 500 a tick is a millisecond. */
interface Strike {
  readonly ms: number;
  readonly lanes: readonly number[];
  readonly length?: number;
  readonly holdUs?: number;
  readonly flags?: readonly string[];
}
const strikes = (list: readonly Strike[], holdMs: number) =>
  list.map(({ ms, lanes, length = 100, holdUs, flags = [] }) => ({
    atUs: ms * 1000,
    flags,
    holdUs: holdUs ?? (length >= holdMs ? length * 1000 : 0),
    lanes,
    lengthTicks: length,
    tick: ms,
    velocity: 100,
  }));
const ebb = (list: readonly Strike[]) => ({
  channel: 5,
  keys: [41, 44, 46, 49, 51, 60],
  name: 'Ebb',
  phrases: [],
  rung: null,
  seat: 'ebb',
  strikes: strikes(list, 240),
  track: null,
});
type Line = Record<string, unknown>;
const chart = (lines: readonly Line[], over: Record<string, unknown> = {}) => ({
  bpm: 120,
  endTick: 20_000,
  endUs: 20_000_000,
  format: 'chart',
  lines,
  maker: 'Reed and Oar',
  meters: [{ denominator: 4, numerator: 4, tick: 0 }],
  ppq: 500,
  sections: [],
  sound: null,
  target: 'marsh-duel',
  tempos: [{ atUs: 0, microsecondsPerQuarter: 500_000, tick: 0 }],
  title: 'Two banks',
  version: 1,
  ...over,
});
const play = (list: readonly Strike[], over: Record<string, unknown> = {}) =>
  hear(duel, [jsonFile('two.chart.json', chart([ebb(list)], over))]);

describe('the marsh duel', () => {
  it('shows each stroke in its lane, and how long it is held', () => {
    const { played, says, lost } = play([
      { ms: 1500, lanes: [1, 6] },
      { ms: 2000, lanes: [3], length: 240 },
    ]);
    expect([says, lost]).toEqual([[], []]);
    expect(played.events.map((e) => [e.atUs, e.lengthUs, e.kind, e.seat, e.key])).toEqual([
      [1_500_000, 0, 'strike', 'ebb', 1],
      [1_500_000, 0, 'strike', 'ebb', 6],
      [2_000_000, 240_000, 'strike', 'ebb', 3],
    ]);
  });

  it('is not ready before a second and a half', () => {
    expect(play([{ ms: 1499, lanes: [1] }]).lost).toEqual(['1499 ebb 41: it is not ready yet']);
  });

  it('takes two lanes together on a side, and a lane again after 90 ms', () => {
    expect(play([{ ms: 2000, lanes: [1, 2, 3] }]).lost).toEqual([
      '2000 ebb 46: it plays 2 at once',
    ]);
    const again = (ms: number) =>
      play([
        { ms: 2000, lanes: [1], length: 50 },
        { ms, lanes: [1], length: 50 },
      ]).lost;
    expect(again(2090)).toEqual([]);
    expect(again(2089)).toEqual(['2089 ebb 41: the key was moved less than 90 ms before']);
  });

  it.each([
    ['no title', { title: null }, 'title: It asks for this and shows no song without.'],
    ['no maker', { maker: null }, 'maker: It asks for this and shows no song without.'],
    ['no BPM', { bpm: null }, 'bpm: It asks for this and shows no song without.'],
    ['another BPM', { bpm: 120.02 }, 'bpm: The first tempo is 120.000 BPM.'],
    ['another game', { target: 'reed-ladder' }, 'target: It was written for reed-ladder.'],
    ['another length', { endUs: 20_000_002 }, 'endUs: Its tick is at another time.'],
    [
      'a tempo behind tick 0',
      { tempos: [{ atUs: 2000, microsecondsPerQuarter: 500_000, tick: 2 }] },
      'tempos[0].tick: The first tempo stands at tick 0.',
    ],
    [
      'a meter behind tick 0',
      { meters: [{ denominator: 4, numerator: 4, tick: 2 }] },
      'meters[0].tick: The first meter stands at tick 0.',
    ],
    [
      'sections that go back',
      {
        sections: [
          { atUs: 9_000_000, name: 'Flood', tick: 9000 },
          { atUs: 8_000_000, name: 'Ebb', tick: 8000 },
        ],
      },
      'sections[1].tick: It stands before the last.',
    ],
    ['a later version', { version: 2 }, 'version'],
    ['a key that it does not know', { tune: 'x' }, 'tune'],
  ])('shows no song with %s', (_, over, says) => {
    const heard = play([{ ms: 2000, lanes: [1] }], over);
    expect(heard.says.join('\n')).toContain(says);
    expect(heard.notes).toEqual([]);
  });

  it('a BPM within a hundredth is the same', () => {
    expect(play([{ ms: 2000, lanes: [1] }], { bpm: 120.01 }).says).toEqual([]);
  });

  const line = (over: Line) =>
    hear(duel, [jsonFile('two.chart.json', chart([{ ...ebb([]), ...over }]))]).says;
  it.each([
    ['a side that is not there', { seat: 'neap' }, 'lines[0].seat: It has no seat neap.'],
    ['the name of another', { name: 'Flood' }, 'lines[0]: It is not the seat ebb of this game.'],
    ['keys of another', { keys: [41, 44, 46, 49, 51] }, 'It is not the seat ebb of this game.'],
    ['phrases where there are none', { phrases: [{ fromTick: 0, toTick: 9 }] }, 'has no phrases'],
    [
      'a lane that is not there',
      { strikes: strikes([{ ms: 2000, lanes: [7] }], 240) },
      'no lane 7',
    ],
    [
      'lanes out of order',
      { strikes: strikes([{ ms: 2000, lanes: [2, 1] }], 240) },
      'Lanes stand in order',
    ],
    [
      'strikes that go back',
      {
        strikes: strikes(
          [
            { ms: 3000, lanes: [1] },
            { ms: 2000, lanes: [1] },
          ],
          240,
        ),
      },
      'strikes[1].tick: It stands before the last.',
    ],
    [
      'a hold that is told as a strike',
      { strikes: strikes([{ ms: 2000, lanes: [1], length: 300, holdUs: 0 }], 240) },
      'holdUs: It does not agree with its ticks.',
    ],
    [
      'a strike that is told as a hold',
      { strikes: strikes([{ ms: 2000, lanes: [1], length: 100, holdUs: 100_000 }], 240) },
      'holdUs: It does not agree with its ticks.',
    ],
    [
      'a flag',
      { strikes: strikes([{ ms: 2000, lanes: [1], flags: ['feather'] }], 240) },
      'no flag',
    ],
  ])('a line with %s is refused', (_, over, says) => {
    expect(line(over).join('\n')).toContain(says);
  });

  it('a side has one line', () => {
    const { says } = hear(duel, [jsonFile('two.chart.json', chart([ebb([]), ebb([])]))]);
    expect(says).toEqual(['two.chart.json lines[1].seat: This seat has a line already.']);
  });

  it('time runs by all of its tempos', () => {
    const tempos = [
      { atUs: 0, microsecondsPerQuarter: 500_000, tick: 0 },
      { atUs: 4_000_000, microsecondsPerQuarter: 1_000_000, tick: 4000 },
    ];
    const late = { ...ebb([]), strikes: strikes([{ ms: 5000, lanes: [1] }], 240) };
    late.strikes[0]!.atUs = 6_000_000;
    const ends = { tempos, endUs: 36_000_000, bpm: 120 };
    const { notes, says } = hear(duel, [jsonFile('two.chart.json', chart([late], ends))]);
    expect(says).toEqual([]);
    expect(notes).toEqual(['6000 ebb 1']);
    late.strikes[0]!.atUs = 5_000_000;
    expect(hear(duel, [jsonFile('two.chart.json', chart([late], ends))]).says).toEqual([
      'two.chart.json lines[0].strikes[0].atUs: Its tick is at another time.',
    ]);
  });

  it('a chart that is laid out otherwise, that is no text, or no JSON, or is not there', () => {
    const good = JSON.stringify(chart([ebb([])]), null, 2);
    const of = (text: string) => hear(duel, [textFile('two.chart.json', text)]).says;
    expect(of(good)).toEqual(
      ['two.chart.json line 28: It is not laid out as this format is.'].map((s) =>
        s.replace('28', String(good.split('\n').length)),
      ),
    );
    expect(of(`${JSON.stringify(chart([ebb([])]))}\n`)).toEqual([]);
    expect(of(`${good.replace('  "bpm"', '   "bpm"')}\n`)[0]).toMatch(/line 2: It is not laid out/);
    expect(of('{')[0]).toMatch(/This is not JSON/);
    expect(of('[]\n')[0]).toMatch(/This is not a chart/);
    expect(
      hear(duel, [{ path: 'two.chart.json', bytes: Uint8Array.of(0xff, 0xfe) }]).says[0],
    ).toMatch(/not UTF-8/);
    expect(hear(duel, []).says).toEqual([' folder: There is no chart.']);
  });
});

describe('limits of its own', () => {
  const broken = { title: 'Broken', why: 'It is not played' };
  const held = (...limits: Limit[]) => {
    const list = [1, 1, 1, 4, 5].map((lane, i) => ({ ms: 2000 + i * 500, lanes: [lane] }));
    return hear({ ...duel, limits }, [jsonFile('two.chart.json', chart([ebb(list)]))]).played;
  };
  it('of a seat are kept, note for note; those of the whole piece are not told by a line', () => {
    const run: Limit = { ...broken, measure: 'run', over: 'note', most: 2 };
    expect(held(run).dropped.map((d) => [d.block, d.atUs])).toEqual([['limits', 3_000_000]]);
    const jump: Limit = { ...broken, measure: 'jump', over: 'note', most: 2 };
    // From lane 1 to 4 and from 1 to 5: what is passed over is no place to jump from.
    expect(held(jump).dropped.map((d) => d.atUs)).toEqual([3_500_000, 4_000_000]);
    const whole: Limit = { ...broken, measure: 'notes', over: 'piece', least: 90 };
    expect(held(whole).refused).toEqual([]);
  });
});

describe('the reed ladder', () => {
  const seat = (rung: number) =>
    ladder.seats.find((s) => s.id === `chanter-${rung}`) as unknown as {
      name: string;
      channel: number;
      laneNotes: number[];
    };
  const phrasesOf = (list: readonly Strike[]) => {
    // Three empty beats of 500 ms part phrases.
    const out: { fromTick: number; toTick: number }[] = [];
    for (const { ms, length = 100 } of list) {
      const last = out.at(-1);
      if (last && ms < last.toTick + 1500) last.toTick = Math.max(last.toTick, ms + length);
      else out.push({ fromTick: ms, toTick: ms + length });
    }
    return out;
  };
  const rung = (n: number, list: readonly Strike[], phrases = phrasesOf(list)): Line => ({
    channel: seat(n).channel,
    keys: seat(n).laneNotes,
    name: seat(n).name,
    phrases,
    rung: n,
    seat: `chanter-${n}`,
    strikes: strikes(list, ladder.chart!.holdMs!),
    track: 'Chanter',
  });
  const climb = (
    lines: readonly Line[],
    over: Record<string, unknown> = {},
    files: ReturnType<typeof waveFile>[] = [],
  ) =>
    hear(ladder, [
      jsonFile(
        'reed.chart.json',
        chart(lines, {
          target: 'reed-ladder',
          sound: { file: 'reed.wav', lengthUs: null },
          ...over,
        }),
      ),
      ...files,
    ]);

  it('holds are 320 ms and longer; flags are those of its list', () => {
    const { played, says, lost } = climb([
      rung(1, [
        { ms: 3000, lanes: [1], length: 320, flags: ['feather'] },
        { ms: 4000, lanes: [2], length: 319 },
      ]),
    ]);
    expect([says, lost]).toEqual([[], []]);
    expect(played.events.map((e) => [e.lengthUs, e.text])).toEqual([
      [320_000, '320 feather'],
      [0, '319'],
    ]);
    expect(climb([rung(1, [{ ms: 3000, lanes: [1], flags: ['salted'] }])]).says.join()).toContain(
      'It knows no flag salted.',
    );
  });

  it('counts in a bar and 2.7 s', () => {
    expect(climb([rung(1, [{ ms: 2699, lanes: [1] }])]).lost).toEqual([
      '2699 chanter-1 48: it is not ready yet',
    ]);
    // In 12/4 the first bar is 6 s long.
    const meters = [{ denominator: 4, numerator: 12, tick: 0 }];
    expect(climb([rung(1, [{ ms: 5999, lanes: [1] }])], { meters }).lost).toEqual([
      '5999 chanter-1 48: it counts in first',
    ]);
  });

  it.each([
    [1, 2],
    [2, 3],
    [3, 5],
    [4, 8],
    [5, 12],
  ])('rung %i takes %i strikes in any second, a chord being one', (n, most) => {
    const gap = Math.floor(999 / most);
    const run = (count: number) =>
      Array.from({ length: count }, (_, i) => ({
        ms: 4000 + i * gap,
        lanes: [(i % 2) + 1],
        length: 20,
      }));
    expect(climb([rung(n, run(most))]).lost).toEqual([]);
    const { lost } = climb([rung(n, run(most + 1))]);
    expect(lost).toHaveLength(1);
    expect(lost[0]).toContain(`its player follows ${most} strikes in a second`);
  });

  it.each([
    [1, 1],
    [2, 2],
    [3, 2],
    [4, 3],
    [5, 3],
  ])('rung %i takes %i lanes together', (n, most) => {
    const chordOf = (count: number) => [
      { ms: 4000, lanes: Array.from({ length: count }, (_, i) => i + 1) },
    ];
    expect(climb([rung(n, chordOf(most))]).lost).toEqual([]);
    if (seat(n).laneNotes.length > most)
      expect(climb([rung(n, chordOf(most + 1))]).lost.join()).toMatch(
        new RegExp(`it takes ${most} lanes? together`),
      );
  });

  it.each([
    [1, 70],
    [3, 60],
    [5, 50],
  ])('rung %i needs %i ms to let go of a hold before its lane comes again', (n, gap) => {
    const pair = (rest: number) => [
      { ms: 4000, lanes: [1], length: 400 },
      { ms: 4400 + rest, lanes: [1] },
    ];
    expect(climb([rung(n, pair(gap))]).lost).toEqual([]);
    const { lost, played } = climb([rung(n, pair(gap - 1))]);
    expect(lost.join()).toContain('there is no time to let go of it');
    expect(played.dropped[0]!.how).toBe('altered');
  });

  it('holds of unequal starts may overlap on rung 5 alone', () => {
    const pair = [
      { ms: 4000, lanes: [1], length: 800 },
      { ms: 4400, lanes: [2], length: 800 },
    ];
    expect(climb([rung(5, pair)]).lost).toEqual([]);
    expect(climb([rung(3, pair)]).lost).toEqual([
      '4400 chanter-3 50: another hold is let go of for it',
    ]);
  });

  it('phrases end where three beats are empty', () => {
    const list = [
      { ms: 4000, lanes: [1] },
      { ms: 5599, lanes: [1] },
      { ms: 7199, lanes: [1] },
    ];
    expect(climb([rung(1, list)]).says).toEqual([]);
    expect(phrasesOf(list)).toHaveLength(2);
    expect(climb([rung(1, list, [{ fromTick: 4000, toTick: 7299 }])]).says).toEqual([
      'reed.chart.json lines[0].phrases: They are not where its strikes have them.',
    ]);
  });

  it('beats are those of the meter in which they stand', () => {
    // From 6 s on in 3/8: a beat is 250 ms. The rest begins in 4/4, 400 ms before.
    const meters = [
      { denominator: 4, numerator: 4, tick: 0 },
      { denominator: 8, numerator: 3, tick: 6000 },
    ];
    const of = (ms: number, parts: number) => {
      const list = [
        { ms: 5500, lanes: [1], length: 100 },
        { ms, lanes: [1], length: 100 },
      ];
      const phrases =
        parts === 1
          ? [{ fromTick: 5500, toTick: ms + 100 }]
          : [
              { fromTick: 5500, toTick: 5600 },
              { fromTick: ms, toTick: ms + 100 },
            ];
      return climb([rung(1, list, phrases)], { meters }).says;
    };
    // One beat up to the change, then two of an eighth, as far into the beat as it began.
    expect(of(6600, 2)).toEqual([]);
    expect(of(6599, 1)).toEqual([]);
    expect(of(6599, 2)).toHaveLength(1);
  });

  it('its sound is there, as long as it says, and nothing else is', () => {
    const wav = waveFile('reed.wav', 160_000);
    const sound = (lengthUs: number | null) => ({ sound: { file: 'reed.wav', lengthUs } });
    const list = [rung(1, [{ ms: 3000, lanes: [1] }])];
    expect(climb(list, sound(20_000_000), [wav]).says).toEqual([]);
    expect(climb(list, sound(20_000_002), [wav]).says).toEqual([
      'reed.chart.json sound.lengthUs: reed.wav lasts 20000000 µs.',
    ]);
    expect(climb(list, sound(20_000_000), [waveFile('tide.wav', 9)]).says).toEqual([
      'tide.wav name: Nothing names this sound.',
      'reed.chart.json sound.file: There is no reed.wav.',
    ]);
    expect(climb(list, sound(null), [{ ...wav, bytes: wav.bytes.subarray(0, 60) }]).says).toEqual([
      'reed.wav byte 40: It is cut off, or longer than it says.',
    ]);
  });
});
