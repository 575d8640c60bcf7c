import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import { csvFile, hear, jsonFile, waveFile } from '../../../../testing/device-files';

const deck = builtIn('frame-deck');

interface Change {
  readonly frame: number;
  readonly event: 'on' | 'off';
  readonly key: number;
  readonly velocity: number | null;
}
const on = (frame: number, key: number, velocity = 90): Change => ({
  event: 'on',
  frame,
  key,
  velocity,
});
const off = (frame: number, key: number): Change => ({ event: 'off', frame, key, velocity: null });

function deliver(
  channels: readonly { channel: number; changes: readonly Change[] }[],
  over: Record<string, unknown> = {},
  list?: readonly (readonly unknown[])[],
) {
  const rate = (over['rate'] as number | undefined) ?? 25;
  const all = channels.flatMap(({ channel, changes }) => changes.map((c) => ({ channel, ...c })));
  const late = (c: Change) => (c.event === 'on' ? 1 : 0);
  all.sort(
    (a, b) => a.frame - b.frame || late(a) - late(b) || a.channel - b.channel || a.key - b.key,
  );
  const rows = list ?? [
    ['frame', 'seconds', 'channel', 'event', 'key', 'velocity'],
    ...all.map((c) => [
      c.frame,
      (Math.round((c.frame * 1e6) / rate) / 1e6).toFixed(6),
      c.channel,
      c.event,
      c.key,
      c.velocity ?? '',
    ]),
  ];
  return [
    jsonFile('deck.frames.json', {
      channels: channels.map((c) => ({ ...c, name: `Channel ${c.channel}` })),
      ending: 'rest-at-end',
      format: 'frames',
      length: 250,
      rate: 25,
      shift: 0,
      sound: null,
      version: 1,
      ...over,
    }),
    csvFile('deck-frames.csv', rows),
  ];
}
const play = (...args: Parameters<typeof deliver>) => hear(deck, deliver(...args));
const roll = [{ channel: 3, changes: [on(0, 60), off(5, 60), on(5, 62, 40), off(30, 62)] }];

describe('the frame deck', () => {
  it('runs by frame number, at its rate', () => {
    const { played, says, lost } = play(roll);
    expect([says, lost]).toEqual([[], []]);
    expect(played.rate).toBe(25);
    expect(played.lengthUs).toBe(10_000_000);
    expect(played.events.map((e) => [e.atUs, e.lengthUs, e.seat, e.key, e.value])).toEqual([
      [0, 200_000, 'channel 3', 60, 90],
      [200_000, 1_000_000, 'channel 3', 62, 40],
    ]);
  });

  it.each([24, 25, 30, 60])('has the rate %i, whose frames fall on whole microseconds', (rate) => {
    const { played, says } = play(roll, { rate });
    expect(says).toEqual([]);
    expect(played.events[1]!.atUs).toBe(Math.round(5e6 / rate));
  });

  it.each([
    ['another rate', { rate: 50 }, 'rate: It runs at 24, 25, 30, 60.'],
    ['too far a shift', { shift: 601 }, 'shift: It takes -600 to 600.'],
    ['no ending', { ending: null }, 'ending: It asks for this.'],
    ['an ending of its own', { ending: 'fade' }, 'ending'],
    ['another version', { version: 3 }, 'version'],
  ])('does not run with %s', (_, over, says) => {
    const heard = play(roll, over);
    expect(heard.says.join('\n')).toContain(says);
    expect(heard.notes).toEqual([]);
  });

  it.each([
    [
      'channels out of order',
      [{ channel: 4, changes: [on(0, 60), off(1, 60)] }, ...roll],
      'Channels stand in order',
    ],
    ['an empty channel', [...roll, { channel: 5, changes: [] }], 'A channel without a note.'],
    [
      'frames that go back',
      [{ channel: 3, changes: [on(5, 60), off(4, 60)] }],
      'It stands before the last.',
    ],
    [
      'an off behind an on of its frame',
      [{ channel: 3, changes: [on(0, 60), on(5, 62), off(5, 60), off(6, 62)] }],
      'It stands before the last.',
    ],
    [
      'an end without a beginning',
      [{ channel: 3, changes: [off(0, 60)] }],
      'It ends what never began.',
    ],
    ['no end', [{ channel: 3, changes: [on(0, 60)] }], 'A note never ends.'],
    [
      'an on without a velocity',
      [{ channel: 3, changes: [{ ...on(0, 60), velocity: null }, off(2, 60)] }],
      'An on has one, an off has none.',
    ],
  ])('does not run with %s', (_, channels, says) => {
    expect(play(channels).says.join('\n')).toContain(says);
  });

  it('two of a key in one frame are one to it', () => {
    const twice = [{ channel: 3, changes: [on(0, 60), on(0, 60), off(5, 60), off(6, 60)] }];
    const { lost, notes } = play(twice);
    expect(lost).toEqual(['0 channel 3 60: another of its key begins in the same frame']);
    expect(notes).toHaveLength(2);
  });

  it('the list beside the table has the same rows', () => {
    const [table] = deliver(roll);
    expect(hear(deck, [table!]).says).toEqual([
      'deck.frames.json : The list beside the table is missing.',
    ]);
    const head = ['frame', 'seconds', 'channel', 'event', 'key', 'velocity'];
    const right = [
      [0, '0.000000', 3, 'on', 60, 90],
      [5, '0.200000', 3, 'off', 60, ''],
      [5, '0.200000', 3, 'on', 62, 40],
      [30, '1.200000', 3, 'off', 62, ''],
    ];
    expect(play(roll, {}, [head, ...right]).says).toEqual([]);
    expect(play(roll, {}, [head, ...right.slice(1)]).says).toEqual([
      'deck-frames.csv last line: It has 3 rows, the table 4.',
    ]);
    for (const [column, wrong] of [1, '0.240000', 4, 'off', 61, 91].entries()) {
      const changed = right.map((r) => [...r]);
      changed[2]![column] = wrong;
      expect(play(roll, {}, [head, ...changed]).says).toEqual([
        'deck-frames.csv line 4: It does not agree with the table.',
      ]);
    }
  });

  it('ends with its sound within a frame; else the shorter one ends the show', () => {
    // 10 s are 80,000 samples at 8 kHz; a frame is 320.
    const of = (samples: number) => {
      const us = Math.round((samples / 8000) * 1e6);
      const sound = { file: 'deck.wav', lengthUs: us };
      return hear(deck, [...deliver(roll, { sound }), waveFile('deck.wav', samples)]);
    };
    expect(of(80_000)).toMatchObject({ says: [], lost: [] });
    expect(of(80_320).lost).toEqual([]);
    expect(of(79_680).lost).toEqual([]);
    expect(of(81_000).lost).toEqual(['10000  -1: the shorter of sound and score ends the show']);
    expect(of(79_000).lost).toEqual(['9875  -1: the shorter of sound and score ends the show']);
  });
});
