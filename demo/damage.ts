import type { DamageCode } from '../src/core/diagnostic/damage';

/** Bytes by hand: chunks and headers that are what they should be, or are not. */
export const chars = (text: string) => [...text].map((c) => c.charCodeAt(0));
export const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
export const head = (format: number, tracks: number, division: number, length = 6) => [
  ...chars('MThd'),
  ...u32(length),
  0,
  format,
  tracks >> 8,
  tracks & 255,
  division >> 8,
  division & 255,
];
export const trk = (body: number[], length = body.length) => [
  ...chars('MTrk'),
  ...u32(length),
  ...body,
];
export const END = [0, 0xff, 0x2f, 0];
export const bytes = (...parts: number[][]) => Uint8Array.from(parts.flat());

export const note = [0, 0x90, 60, 64, 10, 0x80, 60, 0];
/** A file for every damage code that a small file can show, each with that one fault in it. */
export const damageCorpus: readonly (readonly [DamageCode, Uint8Array])[] = [
  ['empty-file', bytes([])],
  ['not-midi', Uint8Array.from(chars('a text that was renamed'))],
  ['header-cut', bytes(chars('MThd'), [0, 0])],
  ['ppq-zero', bytes(head(1, 1, 0), trk([...note, ...END]))],
  ['leading-bytes', bytes([1, 2, 3], head(1, 1, 96), trk([...note, ...END]))],
  ['header-length', bytes(head(1, 1, 96, 8), [9, 9], trk([...note, ...END]))],
  ['format-unknown', bytes(head(3, 1, 96), trk([...note, ...END]))],
  ['format-0-tracks', bytes(head(0, 2, 96), trk(END), trk(END))],
  ['smpte-rate', bytes(head(1, 1, 0xf004), trk(END))],
  ['track-count', bytes(head(1, 3, 96), trk(END))],
  ['chunk-length', bytes(head(1, 2, 96), trk([...note, ...END], 3), trk(END))],
  ['truncated', bytes(head(1, 1, 96), trk(note, 200))],
  ['event-cut', bytes(head(1, 1, 96), trk([0, 0x90, 60]))],
  ['running-status-missing', bytes(head(1, 1, 96), trk([0, 60, 64, ...END]))],
  [
    'running-status-cancelled',
    bytes(head(1, 1, 96), trk([...note, 0, 0xff, 1, 0, 0, 60, 64, ...END])),
  ],
  ['data-byte', bytes(head(1, 1, 96), trk([0, 0x90, 60, 200, ...END]))],
  [
    'number-too-long',
    bytes(head(1, 1, 96), trk([0x80, 0x80, 0x80, 0x80, 0x00, 0x90, 60, 64, ...END])),
  ],
  ['number-endless', bytes(head(1, 1, 96), trk(Array<number>(40).fill(0x80)))],
  [
    'tick-overflow',
    bytes(
      head(1, 1, 96),
      trk([
        ...Array.from({ length: 9 }, () => [0xff, 0xff, 0xff, 0x7f, 0x90, 60, 0]).flat(),
        ...END,
      ]),
    ),
  ],
  ['end-of-track-missing', bytes(head(1, 1, 96), trk(note))],
  ['bytes-after-end', bytes(head(1, 1, 96), trk([...END, 1, 2, 3]))],
  ['trailing-bytes', bytes(head(1, 1, 96), trk(END), [1, 2, 3])],
  ['system-byte', bytes(head(1, 1, 96), trk([0, 0xf8, ...note, ...END]))],
  ['tempo-length', bytes(head(1, 1, 96), trk([0, 0xff, 0x51, 2, 1, 1, ...END]))],
  ['tempo-zero', bytes(head(1, 1, 96), trk([0, 0xff, 0x51, 3, 0, 0, 0, ...END]))],
  ['meter-invalid', bytes(head(1, 1, 96), trk([0, 0xff, 0x58, 4, 0, 2, 24, 8, ...END]))],
];
