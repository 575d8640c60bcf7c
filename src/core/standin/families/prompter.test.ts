import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import {
  csvFile,
  hear,
  midiFile,
  noteAt,
  oneTrack,
  tempoAt,
  textFile,
} from '../../../../testing/device-files';
import { TIME_COLUMNS } from '../../formats/lists';
import { pitch } from '../played';

const board = builtIn('song-board');

/** Advances at these ms, 120 BPM and PPQ 500: a tick is a millisecond. */
const files = (advances: readonly number[], vtt: string, captions: readonly string[] = []) => {
  const bytes = midiFile({
    ppq: 500,
    tracks: oneTrack(...advances.map((ms) => noteAt(12, ms, 100, 48))),
  });
  const clock = (ms: number) =>
    `0:${String(Math.floor(ms / 1000)).padStart(2, '0')}.${String(ms % 1000).padStart(3, '0')}`;
  const place = (ms: number) =>
    `${Math.floor(ms / 2000) + 1}.${(Math.floor(ms / 500) % 4) + 1}+${ms % 500}`;
  const rows = advances.map((ms, i) => [
    i + 1,
    49,
    48,
    pitch(48),
    place(ms),
    clock(ms),
    ms,
    100,
    '',
    'Board',
    captions[i] ?? '',
  ]);
  return [
    { path: 'board.mid', bytes },
    textFile('board.vtt', vtt),
    csvFile('board-times.csv', [TIME_COLUMNS, ...rows]),
  ];
};
const cues = (...list: readonly (readonly [string, string, string])[]) =>
  `WEBVTT\n${list.map(([from, to, text], i) => `\n${i + 1}\n${from} --> ${to}\n${text}\n`).join('')}`;
const two = cues(
  ['00:00:01.300', '00:00:03.300', 'Low water at the quay'],
  ['00:00:03.300', '00:00:05.000', 'the lamps come in\nby one and one'],
);

describe('the sing-along board', () => {
  it('turns a caption at each advance, a little before its word', () => {
    const { played, says, lost } = hear(
      board,
      files([1000, 3000], two, ['Low water at the quay', 'the lamps come in / by one and one']),
    );
    expect([says, lost]).toEqual([[], []]);
    const shown = played.events.filter((e) => e.kind === 'caption');
    expect(shown.map((e) => [e.atUs, e.key, e.value, e.text])).toEqual([
      [1_000_000, 1, 1300, 'Low water at the quay'],
      [3_000_000, 2, 3300, 'the lamps come in\nby one and one'],
    ]);
    expect(played.events.filter((e) => e.kind === 'cue')).toHaveLength(2);
  });

  it('shows two lines of 42 letters, counted as people count them', () => {
    const of = (text: string) =>
      hear(board, files([1000], cues(['00:00:01.000', '00:00:02.000', text]))).lost;
    expect(of('x'.repeat(42))).toEqual([]);
    expect(of('🏮'.repeat(42))).toEqual([]);
    expect(of('x'.repeat(43))).toEqual(['1000 advance 1: it does not fit on the board']);
    expect(of('one\ntwo\nthree')).toEqual(['1000 advance 1: it does not fit on the board']);
  });

  it('an advance leads by none to two seconds', () => {
    const of = (ms: number) =>
      hear(board, files([ms], cues(['00:00:03.000', '00:00:04.000', 'word']))).lost;
    expect(of(3000)).toEqual([]);
    expect(of(1000)).toEqual([]);
    expect(of(999)).toEqual(['999 advance 1: it is turned 2001 ms before its word']);
    expect(of(3001)).toEqual(['3001 advance 1: it is turned -1 ms before its word']);
  });

  it('does not turn twice within 400 ms, and runs out of step then', () => {
    const { lost, says } = hear(board, files([1000, 1399], two, ['Low water at the quay']));
    expect(lost[0]).toBe('1399 advance 48: it follows less than 400 ms behind another');
    expect(says).toEqual(['board.vtt last line: There are 2 captions and 1 advance.']);
  });

  it('takes one tempo, and no key but its own', () => {
    const bytes = midiFile({
      ppq: 500,
      tracks: oneTrack(noteAt(12, 0, 100, 48), noteAt(12, 500, 100, 50), tempoAt(250, 900_000)),
    });
    const { lost } = hear(board, [{ path: 'board.mid', bytes }]);
    expect(lost).toEqual([
      '500 advance 50: it runs at another tempo',
      '500 advance 50: it has no such key',
    ]);
  });

  it('needs its captions, and the list has the same ones', () => {
    const [midi, vtt, times] = files([1000, 3000], two, ['Low water', '']);
    expect(hear(board, [midi!, times!]).says).toEqual([
      'board.vtt folder: The captions are missing.',
    ]);
    expect(hear(board, [midi!, vtt!, times!]).says).toEqual([
      'board.vtt caption 1: The list of times has another caption.',
      'board.vtt caption 2: The list of times has another caption.',
    ]);
    expect(hear(board, []).says).toEqual([' folder: There is no MIDI file.']);
  });
});

describe('captions as WebVTT, read strictly', () => {
  const says = (vtt: string) => hear(board, files([1000], vtt)).says.map((s) => s.slice(10));
  const one = (from: string, to: string, text = 'word') => cues([from, to, text]);

  it.each([
    ['no head', two.slice(1), 'line 1: It does not begin with WEBVTT.'],
    ['no end of the last line', two.slice(0, -1), 'The last line has no end.'],
    [
      'no empty line between',
      `WEBVTT\n1\n00:00:01.000 --> 00:00:02.000\nx\n`,
      'An empty line parts',
    ],
    [
      'no number',
      'WEBVTT\n\n00:00:01.000 --> 00:00:02.000\nword\n',
      'line 3: Caption 1 is numbered.',
    ],
    ['a minute of 60 seconds', one('00:00:60.000', '00:02:00.000'), 'A time line is needed'],
    ['no thousandths', one('00:00:01', '00:00:02.000'), 'A time line is needed'],
    ['settings behind the times', one('00:00:01.000', '00:00:02.000 line:0'), 'A time line'],
    ['another arrow', two.replace('-->', '->'), 'A time line is needed'],
    ['an end before the start', one('00:00:02.000', '00:00:02.000'), 'It ends before it begins.'],
    [
      'one over the other',
      cues(['00:00:01.000', '00:00:03.000', 'a'], ['00:00:02.999', '00:00:04.000', 'b']),
      'It begins while the last caption is shown.',
    ],
    ['no words', one('00:00:01.000', '00:00:02.000', ''), 'The caption has no words.'],
    ['a bare <', one('00:00:01.000', '00:00:02.000', 'a < b'), 'has to be escaped'],
    ['a bare &', one('00:00:01.000', '00:00:02.000', 'a & b'), 'has to be escaped'],
    ['a carriage return', one('00:00:01.000', '00:00:02.000', 'a\rb'), 'to be escaped'],
  ])('%s', (_, vtt, expected) => {
    expect(says(vtt).join()).toContain(expected);
  });

  it('what was written otherwise is read as it was meant', () => {
    const { played } = hear(
      board,
      files([1000], one('00:00:01.000', '00:00:02.000', 'a &lt;b&gt; &amp;amp; c')),
    );
    expect(played.events.find((e) => e.kind === 'caption')!.text).toBe('a <b> &amp; c');
  });

  it('hours of more than two digits are hours', () => {
    const { played } = hear(board, files([1000], one('100:00:01.000', '100:00:02.000')));
    expect(played.events.find((e) => e.kind === 'caption')!.value).toBe(360_001_000);
  });

  it('bytes that are no text, and nothing at all', () => {
    const [midi, , times] = files([1000], two);
    const of = (bytes: Uint8Array) =>
      hear(board, [midi!, { path: 'board.vtt', bytes }, times!]).says;
    expect(of(Uint8Array.of(0x80))).toEqual(['board.vtt line 1: The bytes are not UTF-8.']);
    expect(of(new Uint8Array(0)).join()).toContain('It does not begin with WEBVTT.');
  });
});
