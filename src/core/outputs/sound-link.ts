import * as z from 'zod';
import { asDelivered } from '../reading/as-delivered';
import { lettersOf } from '../reading/chain';
import { fileOf } from '../score/to-file';
import { midiName, stemOf } from '../smf/name';
import { writeSmf } from '../smf/write';
import { crc16, crc32 } from '../sound/crc';
import { waveBytes } from '../sound/wave';
import { chainBytes, chainName } from './chain';
import { ALL_OF_MIDI } from './counts/kinds';
import { countNothing } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { TextBytes } from './text';

export const LINK_RATE = 44_100;
const DATA_A_FRAME = 64;
const SYNC = [0xd3, 0x91];
/** 2 s of 1,200 Hz, and half a second behind the last bit. */
const LEADER_BITS = 2400;
const TAIL_SAMPLES = LINK_RATE / 2;
/** A bit lasts 44,100 / 1,200 = 36.75 samples: 147 quarters of one. */
const BIT_QUARTERS = 147;

/** One cycle in 147 steps, peak 20,000: whole numbers, so that no machine's sine matters. */
const TONE = Int16Array.of(
  0,
  855,
  1708,
  2558,
  3403,
  4242,
  5073,
  5895,
  6706,
  7505,
  8291,
  9061,
  9814,
  10550,
  11266,
  11962,
  12636,
  13287,
  13914,
  14515,
  15090,
  15637,
  16155,
  16644,
  17103,
  17530,
  17926,
  18288,
  18617,
  18913,
  19173,
  19399,
  19589,
  19744,
  19862,
  19944,
  19990,
  19999,
  19971,
  19908,
  19807,
  19671,
  19499,
  19291,
  19047,
  18769,
  18457,
  18111,
  17732,
  17321,
  16877,
  16403,
  15900,
  15367,
  14806,
  14217,
  13603,
  12965,
  12302,
  11617,
  10911,
  10185,
  9440,
  8678,
  7900,
  7107,
  6302,
  5485,
  4659,
  3823,
  2981,
  2133,
  1281,
  427,
  -427,
  -1281,
  -2133,
  -2981,
  -3823,
  -4659,
  -5485,
  -6302,
  -7107,
  -7900,
  -8678,
  -9440,
  -10185,
  -10911,
  -11617,
  -12302,
  -12965,
  -13603,
  -14217,
  -14806,
  -15367,
  -15900,
  -16403,
  -16877,
  -17321,
  -17732,
  -18111,
  -18457,
  -18769,
  -19047,
  -19291,
  -19499,
  -19671,
  -19807,
  -19908,
  -19971,
  -19999,
  -19990,
  -19944,
  -19862,
  -19744,
  -19589,
  -19399,
  -19173,
  -18913,
  -18617,
  -18288,
  -17926,
  -17530,
  -17103,
  -16644,
  -16155,
  -15637,
  -15090,
  -14515,
  -13914,
  -13287,
  -12636,
  -11962,
  -11266,
  -10550,
  -9814,
  -9061,
  -8291,
  -7505,
  -6706,
  -5895,
  -5073,
  -4242,
  -3403,
  -2558,
  -1708,
  -855,
);

/** Two cycles in the time of one. */
const TONE_OF_ONE = TONE.map((_, i) => TONE[(i * 2) % BIT_QUARTERS]!);

const little = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** i) & 255);

/** Names and bytes of several files, one after the other. */
export function linkData(files: readonly { path: string; bytes: Uint8Array }[]): Uint8Array {
  const parts = files.map(({ path, bytes }) => {
    const name = new TextBytes().add(path).bytes().subarray(0, 255);
    return { head: Uint8Array.of(name.length, ...name, ...little(bytes.length, 4)), bytes };
  });
  const out = new Uint8Array(parts.reduce((n, p) => n + p.head.length + p.bytes.length, 0));
  let at = 0;
  for (const part of parts)
    for (const bytes of [part.head, part.bytes]) {
      out.set(bytes, at);
      at += bytes.length;
    }
  return out;
}

function frame(number: number, data: Uint8Array): number[] {
  const body = [...little(number, 2), data.length, ...data];
  return [...SYNC, ...body, ...little(crc16(Uint8Array.from(body)), 2)];
}

/** Data as samples of the link. */
export function linkSamples(data: Uint8Array, patterns: number): Int16Array {
  const head = [patterns & 255, ...little(data.length, 4), ...little(crc32(data), 4)];
  const bytes: number[] = frame(0, Uint8Array.from(head));
  for (let at = 0, n = 1; at < data.length; at += DATA_A_FRAME, n++)
    for (const byte of frame(n, data.subarray(at, at + DATA_A_FRAME))) bytes.push(byte);
  const bits = LEADER_BITS + bytes.length * 8;
  const samples = new Int16Array(Math.ceil((bits * BIT_QUARTERS) / 4) + TAIL_SAMPLES);
  const data8 = Uint8Array.from(bytes);
  let n = 0;
  // Quarters of a sample by which a bit begins behind the sample before it.
  let within = 0;
  for (let bit = 0; bit < bits; bit++) {
    const at = bit - LEADER_BITS;
    const one = at >= 0 && (data8[at >> 3]! >> (at & 7)) & 1;
    const tone = one ? TONE_OF_ONE : TONE;
    for (; within < BIT_QUARTERS; within += 4) samples[n++] = tone[within]!;
    within -= BIT_QUARTERS;
  }
  return samples;
}

/** The longest link: beyond it the cable of the device is the better way. */
const MOST_BYTES = 65_535 * DATA_A_FRAME;

export const soundLinkWriter = defineWriter({
  id: 'sound-link',
  format: 'sound-link',
  summary: 'The patterns and their chain as sound, for a device without a socket for files.',
  carries: ALL_OF_MIDI,
  count: countNothing,
  options: z.strictObject({}),
  write(rendition, _options, target) {
    const letters = lettersOf(rendition.pieces, target);
    const patterns = rendition.pieces.filter((_, i) => letters[i]);
    if (patterns.length === 0) return { files: [], losses: [] };
    const data = linkData([
      { path: chainName(rendition), bytes: chainBytes(rendition, target) },
      ...patterns.map((piece) => ({
        path: midiName(safeName(piece.delivery.fileName)),
        bytes: writeSmf(fileOf(asDelivered(piece, target))),
      })),
    ]);
    if (data.length > MOST_BYTES)
      return { files: [], losses: [{ what: 'sound link: too much for one link', count: 1 }] };
    const stem = stemOf(safeName(patterns[0]!.delivery.fileName));
    const sound = waveBytes(linkSamples(data, patterns.length), LINK_RATE);
    return { files: [{ path: `${stem}-link.wav`, bytes: sound }], losses: [] };
  },
});
