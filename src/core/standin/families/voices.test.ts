import { describe, expect, it } from 'vitest';
import { crc32 } from 'node:zlib';
import { builtIn, targetWith } from '../../../../testing/score-builder';
import {
  hear,
  jsonFile,
  meterAt,
  midiFile,
  noteAt,
  tempoAt,
  type Reel,
} from '../../../../testing/device-files';
import type { DeliveredFile } from '../played';

const tide = builtIn('tide-voices');
/** The same device without a socket for sound. */
const { id, version, name, summary, words, checklist, seats, file, tempo, meter, end, notes } =
  tide;
const plain = targetWith({
  id,
  version,
  name,
  summary,
  words,
  checklist,
  seats,
  file,
  tempo,
  meter,
  end,
  notes,
  polyphony: tide.polyphony,
  chains: tide.chains,
  outputs: [{ writer: 'smf' }, { writer: 'chain' }],
});
const BAR = 1920;
const track = (...list: ReturnType<typeof noteAt>[]) => [
  ...tempoAt(0, 500_000),
  ...meterAt(0, 4, 4),
  ...list.flat(),
];
const reel = (bars: number, ...list: ReturnType<typeof noteAt>[]): Reel => ({
  end: bars * BAR,
  tracks: [track(...list)],
});
const a = midiFile(reel(1, noteAt(1, 0, 480, 60), noteAt(2, 960, 480, 40)));
const b = midiFile(reel(2, noteAt(1, 480, 240, 72)));
const pattern = (
  letter: string,
  path: string,
  bars: number,
  over: Record<string, unknown> = {},
) => ({
  bars,
  file: path,
  lengthUs: bars * 2_000_000,
  microsecondsPerQuarter: 500_000,
  pattern: letter,
  ppq: 480,
  ...over,
});
const link = (letter: string, over: Record<string, unknown> = {}) => ({
  pattern: letter,
  repeats: 1,
  shift: 0,
  voices: [1, 2, 3, 4, 5, 6],
  ...over,
});
const both = [pattern('A', 'a.mid', 1), pattern('B', 'b.mid', 2)];
const chain = (links: readonly unknown[], patterns: readonly unknown[] = both) =>
  jsonFile('tide.chain.json', { format: 'chain', links, patterns, version: 1 });
const midi: readonly DeliveredFile[] = [
  { path: 'a.mid', bytes: a },
  { path: 'b.mid', bytes: b },
];
const play = (links: readonly unknown[], patterns?: readonly unknown[], more = midi) =>
  hear(plain, [chain(links, patterns), ...more]);

describe('the tide voices', () => {
  it('play their chain link by link, shifted, with the voices that are on', () => {
    const { played, says, lost } = play([
      link('A', { repeats: 2 }),
      link('B', { shift: 12 }),
      link('A', { voices: [2], shift: -12 }),
    ]);
    expect([says, lost]).toEqual([[], []]);
    const by = (kind: string) => played.events.filter((e) => e.kind === kind);
    expect(by('pattern').map((e) => [e.atUs, e.lengthUs, e.text, e.key])).toEqual([
      [0, 2_000_000, 'A', 0],
      [2_000_000, 2_000_000, 'A', 0],
      [4_000_000, 4_000_000, 'B', 12],
      [8_000_000, 2_000_000, 'A', -12],
    ]);
    expect(by('note').map((e) => [e.atUs, e.seat, e.key])).toEqual([
      [0, 'voice-1', 60],
      [1_000_000, 'voice-2', 40],
      [2_000_000, 'voice-1', 60],
      [3_000_000, 'voice-2', 40],
      [4_500_000, 'voice-1', 84],
      [9_000_000, 'voice-2', 28],
    ]);
    expect(played.lengthUs).toBe(10_000_000);
  });

  it('what a shift brings out of reach is not heard', () => {
    const { lost } = play([link('B', { shift: 13 }), link('A', { shift: -17 })]);
    expect(lost).toEqual([
      '500 voice-1 85: its shift brings it out of reach',
      '5000 voice-2 23: its shift brings it out of reach',
    ]);
  });

  it.each([
    ['a pattern that is not there', [link('C')], both, 'There is no pattern C.'],
    ['nine repeats', [link('A', { repeats: 9 })], both, 'It repeats 8 times.'],
    ['too far a shift', [link('A', { shift: 19 })], both, 'It shifts by -18 to 18.'],
    ['a seventh voice', [link('A', { voices: [7] })], both, 'Its voices are 1 to 6, in order.'],
    [
      'voices out of order',
      [link('A', { voices: [2, 1] })],
      both,
      'Its voices are 1 to 6, in order.',
    ],
    ['too many links', Array.from({ length: 25 }, () => link('A')), both, 'It holds 24 links.'],
    [
      'a letter that it has not',
      [link('S')],
      [pattern('S', 'a.mid', 1), both[1]],
      'It has no pattern S.',
    ],
    ['a letter twice', [link('A')], [both[0], pattern('A', 'b.mid', 2)], 'It is there already.'],
    [
      'a file twice',
      [link('A')],
      [both[0], pattern('B', 'a.mid', 1)],
      'Another pattern has this file.',
    ],
    [
      'a file that is not there',
      [link('A')],
      [...both, pattern('C', 'c.mid', 1)],
      'There is no c.mid.',
    ],
    ['a file that nothing names', [link('A')], [both[0]], 'No pattern of the chain has this file.'],
    [
      'another length',
      [link('A')],
      [both[0], pattern('B', 'b.mid', 2, { lengthUs: 1 })],
      'b.mid has other ticks, tempo or length.',
    ],
    [
      'other ticks',
      [link('A')],
      [both[0], pattern('B', 'b.mid', 2, { ppq: 96 })],
      'b.mid has other ticks',
    ],
    [
      'another tempo',
      [link('A')],
      [both[0], pattern('B', 'b.mid', 2, { microsecondsPerQuarter: 9 })],
      'b.mid has other ticks',
    ],
    [
      'other bars',
      [link('A')],
      [both[0], pattern('B', 'b.mid', 3, { lengthUs: 4_000_000 })],
      'b.mid has 2.00 bars.',
    ],
  ])('a chain with %s is not played', (_, links, patterns, says) => {
    const heard = play(links, patterns);
    expect(heard.says.join('\n')).toContain(says);
    expect(heard.notes).toEqual([]);
  });

  it('a pattern has whole bars, equal tracks, ticks that 24 goes into, one voice a channel', () => {
    const of = (r: Reel) => {
      const bytes = midiFile(r);
      const { says, lost } = play(
        [link('A')],
        [pattern('A', 'a.mid', 1)],
        [{ path: 'a.mid', bytes }],
      );
      return [...says, ...lost].join('\n');
    };
    expect(of({ end: 1900, tracks: [track(noteAt(1, 0, 480, 60))] })).toContain('bars long');
    expect(of({ tracks: [track(noteAt(1, 0, 1920, 60)), noteAt(2, 0, 480, 60)] })).toContain(
      'Its tracks do not end together.',
    );
    expect(of({ ppq: 500, end: 2000, tracks: [track(noteAt(1, 0, 480, 60))] })).toContain(
      'It does not count 500 ticks to a quarter.',
    );
    expect(of(reel(1, noteAt(1, 0, 480, 60), noteAt(1, 0, 480, 64)))).toContain(
      'it plays 1 at once',
    );
  });

  it('needs one chain', () => {
    expect(hear(plain, [...midi]).says).toEqual([' folder: There is no chain.']);
    const two = [chain([link('A')]), { ...chain([link('A')]), path: 'other.chain.json' }];
    expect(hear(plain, [...two, ...midi]).says).toEqual([
      'other.chain.json folder: There are several chains.',
    ]);
  });
});

/** The sound link as its page describes it, made here from that page alone: sines, not a table. */
function modulate(bytes: readonly number[], rate = 44_100): number[] {
  const leader = 2 * 1200;
  const bits = bytes.flatMap((byte) => Array.from({ length: 8 }, (_, i) => (byte >> i) & 1));
  const cells = leader + bits.length + 600;
  return Array.from({ length: Math.round((cells * rate) / 1200) }, (_, n) => {
    const at = (n * 1200) / rate;
    const cell = Math.floor(at);
    if (cell >= leader + bits.length) return 0;
    // A bit 0 is one cycle of its cell, a bit 1 two.
    const cycles = cell >= leader && bits[cell - leader] === 1 ? 2 : 1;
    return Math.round(16_000 * Math.sin(2 * Math.PI * (at - cell) * cycles));
  });
}
function crc16(bytes: readonly number[]): number {
  let crc = 0xffff;
  for (const b of bytes) {
    crc ^= b << 8;
    for (let i = 0; i < 8; i++)
      crc = crc & 0x8000 ? ((crc << 1) ^ 0x1021) & 0xffff : (crc << 1) & 0xffff;
  }
  return crc;
}
const le = (n: number, size: number) =>
  Array.from({ length: size }, (_, i) => (n >>> (8 * i)) & 255);
function frame(number: number, data: readonly number[]): number[] {
  const body = [...le(number, 2), data.length, ...data];
  return [0xd3, 0x91, ...body, ...le(crc16(body), 2)];
}
function linked(list: readonly DeliveredFile[], patterns: number, change = (b: number[]) => b) {
  const data = list.flatMap(({ path, bytes }) => [
    path.length,
    ...new TextEncoder().encode(path),
    ...le(bytes.length, 4),
    ...bytes,
  ]);
  const head = [patterns, ...le(data.length, 4), ...le(crc32(Uint8Array.from(data)), 4)];
  const frames = [frame(0, head)];
  for (let i = 0; i * 64 < data.length; i++)
    frames.push(frame(i + 1, data.slice(i * 64, i * 64 + 64)));
  const samples = modulate(change(frames.flat()));
  const bytes = new Uint8Array(44 + samples.length * 2);
  const view = new DataView(bytes.buffer);
  [...'RIFF'].forEach((c, i) => (bytes[i] = c.charCodeAt(0)));
  [...'WAVEfmt '].forEach((c, i) => (bytes[8 + i] = c.charCodeAt(0)));
  [...'data'].forEach((c, i) => (bytes[36 + i] = c.charCodeAt(0)));
  view.setUint32(4, bytes.length - 8, true);
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, 44_100, true);
  view.setUint32(28, 88_200, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  view.setUint32(40, samples.length * 2, true);
  samples.forEach((s, i) => view.setInt16(44 + i * 2, s, true));
  return { path: 'tide-link.wav', bytes };
}

describe('what is sent by sound, as the page of its format has it', () => {
  const one = chain([link('A')], [both[0]]);
  const list: readonly DeliveredFile[] = [one, midi[0]!];

  it('is received: the files that it holds are those of the folder', () => {
    const { says, notes } = hear(tide, [...list, linked(list, 1)]);
    expect(says).toEqual([]);
    expect(notes.length).toBeGreaterThan(0);
  });
  it('a byte that was changed on the way is found out', () => {
    const spoilt = linked(list, 1, (bytes) => bytes.with(200, bytes[200]! ^ 4));
    expect(hear(tide, [...list, spoilt]).says).toHaveLength(1);
  });
  it('another file in the sound than in the folder, or another count, is told', () => {
    const other = { path: 'a.mid', bytes: a.with(a.length - 6, 9) };
    expect(hear(tide, [...list, linked([one, other], 1)]).says).toEqual([
      'tide-link.wav sound: a.mid is another in the sound.',
    ]);
    expect(hear(tide, [...list, linked(list, 2)]).says).toEqual([
      'tide-link.wav sound: It holds other files than the folder.',
    ]);
    expect(hear(tide, [...list]).says).toEqual([' folder: One sound link is needed.']);
  });
});
