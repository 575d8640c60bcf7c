import { describe, expect, it } from 'vitest';
import type { Target } from '../../target/schema';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import {
  bendAt,
  controlAt,
  hear,
  hearMidi,
  lyricAt,
  markerAt,
  meterAt,
  midiFile,
  named,
  noteAt,
  oneTrack,
  programAt,
  sysexAt,
  tempoAt,
} from '../../../../testing/device-files';

/** At 120 BPM and PPQ 480 a tick is 1.0417 ms; 480 ticks are 500 ms. */
describe('the bell loft, from bytes that nothing of ours has written', () => {
  const loft = builtIn('bell-loft');
  const strike = (tick: number, key: number, length = 240) => noteAt(1, tick, length, key);
  const play = (...strokes: ReturnType<typeof noteAt>[]) =>
    hearMidi(loft, { format: 0, tracks: oneTrack(...strokes) });

  it('strikes each bell at its time, for as long as it is written', () => {
    const { played, lost, says } = play(strike(480, 60), strike(960, 62), strike(960, 84));
    expect(says).toEqual([]);
    expect(lost).toEqual([]);
    expect(played.events).toEqual([
      {
        atUs: 500_000,
        lengthUs: 250_000,
        kind: 'note',
        seat: 'bells',
        key: 60,
        value: 100,
        file: 'SONG.mid',
      },
      {
        atUs: 1_000_000,
        lengthUs: 250_000,
        kind: 'note',
        seat: 'bells',
        key: 62,
        value: 100,
        file: 'SONG.mid',
      },
      {
        atUs: 1_000_000,
        lengthUs: 250_000,
        kind: 'note',
        seat: 'bells',
        key: 84,
        value: 100,
        file: 'SONG.mid',
      },
    ]);
    expect(played.lengthUs).toBe(1_250_000);
  });

  it('is silent while its motors run up, to the microsecond of half a second', () => {
    const { notes, lost } = play(strike(479, 60, 10), strike(480, 62));
    expect(notes).toEqual(['500 bells 62']);
    expect(lost).toEqual(['499 bells 60: it is not ready yet']);
  });

  it('has 23 bells: none below, above, or in the two gaps', () => {
    const { notes, lost } = play(
      ...[59, 60, 61, 62, 63, 64, 84, 85].map((key, i) => strike(480 + i * 240, key, 200)),
    );
    expect(notes.map((n) => n.split(' ')[2])).toEqual(['60', '62', '64', '84']);
    expect(lost.map((l) => l.split(/[ :]/)[2])).toEqual(['59', '61', '63', '85']);
  });

  it('moves no hammer again within 180 ms; a stroke that fell out holds back none', () => {
    // 173 ticks are 180.2 ms, 172 are 179.2.
    const { notes } = play(strike(480, 60, 60), strike(652, 60, 60), strike(654, 60, 60));
    expect(notes).toEqual(['500 bells 60', '681 bells 60']);
    expect(play(strike(480, 60, 60), strike(653, 60, 60)).lost).toEqual([]);
  });

  it('strikes four at once, the lowest first; what has ended takes no place', () => {
    const five = [60, 64, 67, 71, 74].map((key) => strike(480, key));
    const { notes, lost } = play(...five, strike(720, 76));
    expect(notes.map((n) => n.split(' ')[2])).toEqual(['60', '64', '67', '71', '76']);
    expect(lost).toEqual(['500 bells 74: it plays 4 at once']);
  });

  it('listens to channel 1 alone', () => {
    expect(play(noteAt(2, 480, 240, 60)).lost).toEqual(['500  60: nobody listens on channel 2']);
  });

  it.each([
    ['format 1', { format: 1 as const }, [], 'It reads no format 1.'],
    [
      'ticks that 24 does not go into',
      { ppq: 100 },
      [],
      'It does not count 100 ticks to a quarter.',
    ],
    ['too fine ticks', { ppq: 984 }, [], 'It does not count 984 ticks to a quarter.'],
    ['a controller', {}, controlAt(0, 1, 7, 100), 'It takes no controllers.'],
    ['a program', {}, programAt(0, 1, 14), 'It takes no programs.'],
    ['a bend', {}, bendAt(0, 1, 100), 'It cannot bend.'],
    ['a system exclusive', {}, sysexAt(0, [1, 2, 0xf7]), 'It takes no system exclusives.'],
    ['a marker', {}, markerAt(0, 'Arrival'), 'It takes no markers.'],
    ['a lyric', {}, lyricAt(0, 'low tide'), 'It takes no other text.'],
    ['two names', {}, [...named('Bells'), ...named('Loft')], 'It takes 1 track name; there are 2.'],
  ])('will not load %s', (_, reel, extra, says) => {
    const heard = hearMidi(loft, {
      format: 0,
      ...reel,
      tracks: oneTrack(strike(480, 60), extra),
    });
    expect(heard.says.join(' ')).toContain(says);
    expect(heard.notes).toEqual([]);
  });

  it('one file that it will not load keeps no other from playing', () => {
    const good = midiFile({ format: 0, tracks: oneTrack(strike(480, 60)) });
    const { notes, says } = hear(loft, [
      { path: 'A.mid', bytes: good.subarray(0, 40) },
      { path: 'B.mid', bytes: good },
    ]);
    expect(notes).toEqual(['500 bells 60']);
    expect(says).toHaveLength(1);
    expect(says[0]).toMatch(/^A\.mid byte/);
  });

  it.each(['SONG.MID', 'song.mid', 'NINELETTR.mid', 'ÜBER.mid', '.mid', 'A B.mid'])(
    'lists no file of the name %s',
    (path) => {
      const heard = hearMidi(loft, { format: 0, tracks: oneTrack(strike(480, 60)) }, path);
      expect(heard.says).toEqual([`${path} name: It does not list a file of the name ${path}.`]);
    },
  );

  it('runs at its slowest and fastest tempo, and takes up 64 of them', () => {
    const at = (us: number) =>
      hearMidi(loft, {
        format: 0,
        tracks: [[...tempoAt(0, us), ...strike(480, 60, 48)]],
      });
    expect(at(2_000_000).notes).toEqual(['2000 bells 60']);
    // 20 BPM is 3 s a quarter: the motors hold 30.
    expect(at(3_000_000)).toMatchObject({
      notes: ['2000 bells 60'],
      lost: ['2000 bells 60: it runs at another tempo'],
    });
    // 240 BPM is a quarter of a second: written before the motors are ready.
    expect(at(250_000).lost).toContain('375 bells 60: it is not ready yet');
    const many = Array.from({ length: 65 }, (_, i) =>
      tempoAt(i * 480, i < 64 ? 500_000 : 1_000_000),
    );
    const { lost } = hearMidi(loft, {
      format: 0,
      tracks: [[...many.flat(), ...strike(64 * 480 + 480, 60, 48)]],
    });
    expect(lost).toEqual(['32500 bells 60: it runs at another tempo']);
  });

  it('says what is missing where nothing was copied', () => {
    expect(hear(loft, []).says).toEqual([' folder: There is no MIDI file.']);
  });
});

describe('the ferry barrel', () => {
  const barrel = builtIn('ferry-barrel');
  const setUp = (channel: number, program: number) => [
    ...programAt(0, channel, program),
    ...[7, 10, 93].flatMap((n) => controlAt(0, channel, n, 64)),
  ];
  /** Four bars of 4/4 at PPQ 60. */
  const turn = (
    over: Partial<{
      extra: ReturnType<typeof noteAt>;
      first: ReturnType<typeof noteAt>;
      target: Target;
    }>,
  ) =>
    hearMidi(
      over.target ?? barrel,
      {
        ppq: 60,
        end: 960,
        tracks: [
          [...tempoAt(0, 500_000), ...meterAt(0, 4, 4), ...markerAt(240, 'ROUND')],
          [...(over.first ?? setUp(4, 14)), ...noteAt(4, 0, 60, 72), ...(over.extra ?? [])],
        ],
      },
      'round.mid',
    );

  it('turns once round, each seat with its own sound', () => {
    const { played, says, lost } = turn({});
    expect([says, lost]).toEqual([[], []]);
    expect(played.lengthUs).toBe(8_000_000);
    expect(played.events).toMatchObject([{ seat: 'seat-4', key: 72, lengthUs: 500_000 }]);
  });

  it('plays any program where a seat has no list of its own', () => {
    const seats = barrel.seats.map(({ sounds: _, ...seat }) => seat as (typeof barrel.seats)[0]);
    expect(turn({ first: setUp(4, 15), target: { ...barrel, seats } }).lost).toEqual([]);
  });

  it('plays the first sound of the seat for a program that it has not, the last song for none', () => {
    const another = turn({ first: setUp(4, 15) });
    expect(another.lost).toEqual(['0 seat-4 15: it plays the first sound of its list']);
    expect(another.played.dropped[0]!.how).toBe('altered');
    const none = turn({ first: [7, 10, 93].flatMap((n) => controlAt(0, 4, n, 64)) });
    expect(none.lost).toEqual(['0 seat-4 -1: it keeps the sound of the last song']);
    const late = turn({ extra: programAt(480, 4, 9) });
    expect(late.lost).toEqual(['0 seat-4 9: it sets its sounds up once']);
  });

  it.each([
    [
      'no pan',
      [...programAt(0, 4, 14), ...controlAt(0, 4, 7, 9), ...controlAt(0, 4, 93, 9)],
      10,
      '93 48',
    ],
    ['volume twice', [...setUp(4, 14), ...controlAt(0, 4, 7, 90)], 7, 'b3 07'],
    [
      'depth late',
      [
        ...programAt(0, 4, 14),
        ...controlAt(0, 4, 7, 9),
        ...controlAt(0, 4, 10, 9),
        ...controlAt(9, 4, 93, 9),
      ],
      93,
      'b3 5d',
    ],
  ])('wants its set-up once, at tick 0: %s', (_, first, controller, at) => {
    // What is there too often or late; where nothing is, the first note that would need it.
    expect(turn({ first }).bytes).toEqual([
      `${at}: Channel 4 needs controller ${controller} once, at tick 0.`,
    ]);
  });

  it('plays eight notes in all, across its seats', () => {
    const nine = Array.from({ length: 9 }, (_, i) => noteAt(4, 120, 60, 60 + i)).flat();
    expect(turn({ extra: nine }).lost).toEqual(['1000 seat-4 68: it plays 8 at once']);
  });

  it.each([
    ['no loop marker', [], 960, 'It needs the marker ROUND once.'],
    ['two of them', [...markerAt(0, 'ROUND'), ...markerAt(240, 'ROUND')], 960, 'once'],
    ['one inside a bar', markerAt(250, 'ROUND'), 960, 'Its loop is no whole number of bars.'],
    ['an end inside a bar', markerAt(240, 'ROUND'), 970, 'Its loop is no whole number of bars.'],
    [
      'another marker',
      [...markerAt(240, 'ROUND'), ...markerAt(0, 'Quay')],
      960,
      'It takes no markers but the one where the loop begins.',
    ],
  ])('goes round from one marker to the end: %s', (_, markers, end, says) => {
    const heard = hearMidi(
      barrel,
      {
        ppq: 60,
        end,
        tracks: [
          [...tempoAt(0, 500_000), ...meterAt(0, 4, 4), ...markers],
          [...setUp(4, 14), ...noteAt(4, 0, 60, 72)],
        ],
      },
      'round.mid',
    );
    expect(heard.says.join()).toContain(says);
  });

  it('takes a tempo as whole when it is the floor or the rounding of a minute', () => {
    const at = (us: number) =>
      hearMidi(
        barrel,
        {
          ppq: 60,
          end: 480,
          tracks: [
            [...tempoAt(0, us), ...markerAt(0, 'ROUND')],
            [...setUp(4, 14), ...noteAt(4, 240, 60, 72)],
          ],
        },
        'round.mid',
      ).lost;
    // 60,000,000 / 103 = 582,524.27…; / 97 = 618,556.70….
    expect(at(582_524)).toEqual([]);
    expect(at(618_556)).toEqual([]);
    expect(at(618_557)).toEqual([]);
    expect(at(582_525)).toEqual(['2330 seat-4 72: it runs at another tempo']);
    expect(at(618_555)).toEqual(['2474 seat-4 72: it runs at another tempo']);
  });

  it('has room for twenty thousand bytes', () => {
    const full = Array.from({ length: 2500 }, (_, i) => noteAt(4, i * 60, 30, 60)).flat();
    expect(turn({ extra: full }).says[0]).toBe(
      'round.mid byte 20000: It has room for 20000 bytes.',
    );
  });
});

describe('the fog pier', () => {
  const pier = builtIn('fog-pier');
  const play = (...blasts: ReturnType<typeof noteAt>[]) =>
    hearMidi(pier, { tracks: oneTrack(...blasts) }, 'pier.mid');

  it('blows no longer than 900 ms, and what is cut ends there', () => {
    const { played, lost } = play(noteAt(1, 0, 960, 40));
    expect(played.events).toMatchObject([{ atUs: 0, lengthUs: 900_000 }]);
    expect(lost).toEqual(['0 horn-1 40: it cannot hold longer than 900 ms']);
  });

  it('runs out of steam after 1,200 ms in 2 s, each horn for itself', () => {
    const { played, lost } = play(
      noteAt(1, 0, 768, 40),
      noteAt(1, 960, 768, 40),
      noteAt(2, 960, 768, 52),
    );
    // 800 ms at 0, then 400 ms are left; what was open at 0 comes back from 2 s on.
    const horn = played.events.filter((e) => e.seat === 'horn-1');
    expect(horn.map((e) => [e.atUs, e.lengthUs])).toEqual([
      [0, 800_000],
      [1_000_000, 400_000],
    ]);
    expect(played.events.filter((e) => e.seat === 'horn-2')).toMatchObject([{ lengthUs: 800_000 }]);
    expect(lost).toEqual(['1000 horn-1 40: it runs out of steam']);
  });

  it('has steam again two seconds later', () => {
    expect(play(noteAt(1, 0, 768, 40), noteAt(1, 1920, 768, 40)).lost).toEqual([]);
  });

  it('is one note a horn; the second is not heard while the first sounds', () => {
    const { notes, lost } = play(
      noteAt(1, 0, 480, 40),
      noteAt(1, 479, 240, 45),
      noteAt(1, 480, 96, 50),
    );
    expect(notes).toEqual(['0 horn-1 40', '500 horn-1 50']);
    expect(lost).toEqual(['499 horn-1 45: it plays 1 at once']);
  });

  it('has keys from 36 to 72', () => {
    expect(
      play(noteAt(3, 0, 48, 35), noteAt(3, 480, 48, 36), noteAt(3, 960, 48, 73)).notes,
    ).toEqual(['500 horn-3 36']);
  });
});

describe('the two-hand scroll', () => {
  const scroll = builtIn('two-hand-scroll');
  const tempos = [...tempoAt(0, 500_000), ...meterAt(0, 4, 4)];
  const play = (left: ReturnType<typeof noteAt>, right: ReturnType<typeof noteAt> = []) =>
    hearMidi(
      scroll,
      { tracks: [tempos, [...named('Left'), ...left], [...named('Right'), ...right]] },
      'scroll.mid',
    );

  it('a hand takes five notes, within sixteen semitones', () => {
    const six = [40, 42, 44, 46, 48, 50].flatMap((k) => noteAt(1, 0, 480, k));
    expect(play(six).lost).toEqual(['0 left 50: it plays 5 at once']);
    const wide = [40, 56, 57].flatMap((k) => noteAt(1, 0, 480, k));
    expect(play(wide).lost).toEqual(['0 left 57: a hand reaches 16 semitones']);
  });

  it('no key in both hands at once', () => {
    const { lost, notes } = play(noteAt(1, 0, 480, 60), noteAt(2, 240, 480, 60));
    expect(notes).toEqual(['0 left 60']);
    expect(lost).toEqual(['250 right 60: the other hand holds the same key']);
    expect(play(noteAt(1, 0, 480, 60), noteAt(2, 480, 480, 60)).lost).toEqual([]);
  });

  it('its seats are tracks by name: others have no ground to stand on', () => {
    const heard = hearMidi(
      scroll,
      { tracks: [tempos, [...named('left'), ...noteAt(1, 0, 480, 60)]] },
      'scroll.mid',
    );
    expect(heard.lost).toEqual(['0  60: nobody listens on channel 1']);
  });

  it('reads four tracks with notes, and the first one conducts', () => {
    const tracks = ['Left', 'Right', 'Voice', 'Others', 'More'].map((n, i) => [
      ...named(n),
      ...noteAt(1, i * 480, 240, 60),
    ]);
    const heard = hearMidi(scroll, { tracks: [tempos, ...tracks] }, 'scroll.mid');
    expect(heard.notes).toHaveLength(4);
    expect(heard.lost).toEqual(['2000 channel 1 60: it reads 4 tracks with notes']);
    expect(hearMidi(scroll, { tracks }, 'scroll.mid').bytes).toEqual([
      '90 3c: The first track has to conduct, without notes.',
    ]);
  });
});

describe('the parlour keyboard', () => {
  const keyboard = builtIn('parlour-keyboard');
  const play = (...placed: ReturnType<typeof noteAt>[]) =>
    hearMidi(keyboard, { tracks: oneTrack(...placed) }, 'parlour.mid');

  it('has drums from 35 to 81 on channel 10, and every key elsewhere', () => {
    const { notes, lost } = play(
      noteAt(10, 0, 48, 34),
      noteAt(10, 0, 48, 35),
      noteAt(10, 0, 48, 82),
      noteAt(16, 0, 48, 0),
      noteAt(16, 0, 48, 127),
    );
    expect(notes).toEqual(['0 channel-16 0', '0 channel-16 127', '0 drums 35']);
    expect(lost.map((l) => l.slice(0, 10))).toEqual(['0 drums 34', '0 drums 82']);
  });

  it('sounds 64 notes', () => {
    const { notes, lost } = play(
      ...Array.from({ length: 65 }, (_, i) => noteAt(1 + (i % 2), 0, 480, 20 + i)),
    );
    expect(notes).toHaveLength(64);
    expect(lost).toEqual(['0 channel-1 84: it plays 64 at once']);
  });

  it('takes one program a channel, before its first note', () => {
    expect(play(programAt(0, 1, 5), noteAt(1, 0, 48, 60)).says).toEqual([]);
    expect(play(programAt(0, 1, 5), programAt(96, 1, 5), noteAt(1, 0, 48, 60)).bytes).toEqual([
      'c0 05: Channel 1 has 2 programs.',
    ]);
    expect(play(programAt(96, 1, 5), noteAt(1, 0, 48, 60)).bytes).toEqual([
      'c0 05: The program of channel 1 comes after its first note.',
    ]);
  });
});

describe('limits that only a target of one’s own has', () => {
  const note = noteAt(1, 480, 240, 60);
  const of = (blocks: Record<string, unknown>, ...placed: ReturnType<typeof noteAt>[]) =>
    hearMidi(targetWith(blocks), { tracks: oneTrack(note, ...placed) }, 'own.mid');

  it('a list of tempos, of which it takes the nearest', () => {
    // 120 BPM asked for, 100 and 130 there: 130 is nearer.
    const { notes, lost } = of({ tempo: { onlyBpm: [100, 130] } });
    expect(notes).toEqual(['462 one 60']);
    expect(lost).toEqual(['462 one 60: it runs at another tempo']);
    expect(of({ tempo: { onlyBpm: [100, 120] } }).lost).toEqual([]);
  });
  it('velocities that it does not sound as written', () => {
    const { lost, notes } = of(
      { velocity: { lowest: 20, highest: 90 } },
      noteAt(1, 960, 48, 62, 90),
    );
    expect(lost).toEqual(['500 one 60: its velocity is beyond what it sounds']);
    expect(notes).toHaveLength(2);
  });
  it('a memory for so many notes, the last of which fall out', () => {
    expect(of({ notes: { most: 1 } }, noteAt(1, 960, 48, 62))).toMatchObject({
      notes: ['500 one 60'],
      lost: ['1000 one 62: its memory is full'],
    });
  });
  it('so many strikes in any one second', () => {
    const strokes = [0, 120, 240, 960].map((t) => noteAt(1, 480 + 48 + t, 24, 61));
    const { notes, lost } = of({ spacing: { strikesASecond: 2 } }, ...strokes);
    // 500 and 550 ms; 675 and 800 fall out; at 1,550 ms the first two are a second ago.
    expect(notes).toEqual(['500 one 60', '550 one 61', '1550 one 61']);
    expect(lost.map((l) => l.split(' ')[0])).toEqual(['675', '800']);
  });
  it('a meter that it cannot count', () => {
    const target = { meter: { only: [{ numerator: 3, denominator: 4 }] } };
    expect(of(target).bytes).toEqual(['ff 58: It does not count 4/4.']);
  });
  it('aftertouch and meta events that it does not know', () => {
    const target = targetWith({ events: { aftertouch: 'none', unknownMeta: 'none' } });
    const bytes = midiFile({
      tracks: [
        [
          ...note,
          {
            tick: 0,
            rank: 1,
            event: { type: 'channelAftertouch', channel: 0, amount: 9 },
          },
          {
            tick: 0,
            rank: 1,
            event: { type: 'unknownMeta', meta: true, metatypeByte: 0x60, data: [1] },
          },
        ],
      ],
    });
    expect(hear(target, [{ path: 'own.mid', bytes }]).bytes).toEqual([
      'd0 09: It knows no aftertouch.',
      'ff 60: It does not know some of the meta events.',
    ]);
  });
  it('the shortest length, and controllers that it takes', () => {
    expect(of({ length: { shortestMs: 251 } }).lost).toEqual([
      '500 one 60: it is too short to be noticed',
    ]);
    expect(of({ events: { controllers: [7] } }, controlAt(0, 1, 8, 1)).bytes).toEqual([
      'b0 08: It takes no controller 8.',
    ]);
  });
  it('a caution is no limit to a device', () => {
    const { notes, lost, says } = of(
      {
        notes: { highest: 40, severity: 'caution' },
        events: { controllers: 'none', severity: 'remark' },
      },
      controlAt(0, 1, 8, 1),
    );
    expect([notes, lost, says]).toEqual([['500 one 60'], [], []]);
  });
  it('only some channels, whatever its seats are', () => {
    const { lost } = of(
      { channels: { only: [1] }, seating: { unseated: 'taken' } },
      noteAt(4, 960, 48, 62),
    );
    expect(lost).toEqual(['1000 channel 4 62: it does not listen to channel 4']);
  });
});
