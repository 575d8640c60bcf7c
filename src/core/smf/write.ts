import {
  bigEndian,
  META,
  META_END_OF_TRACK,
  payloadPlace,
  type SmfFile,
  type SmfTrack,
} from './file';

/**
 * Bytes that a number takes as a variable-length quantity (SMF 1.0, "Some numbers…"). The standard
 * ends at 4 bytes (0x0FFFFFFF); a longer wait, which only a damaged source can hold, takes 5 so that
 * no time is lost, and is said as damage when it is read.
 */
export const numberWidth = (value: number): number =>
  value < 0x80 ? 1 : value < 0x4000 ? 2 : value < 0x200000 ? 3 : value < 0x10000000 ? 4 : 5;

/** Writes `value` in `width` bytes (leading 0x80 where it is wider than needed); returns the end. */
export function putNumber(out: Uint8Array, at: number, value: number, width: number): number {
  for (let i = width - 1; i >= 0; i--) {
    out[at + i] = (value & 0x7f) | (i === width - 1 ? 0 : 0x80);
    value >>>= 7;
  }
  return at + width;
}

const put32 = (out: Uint8Array, at: number, value: number) => {
  out[at] = value >>> 24;
  out[at + 1] = value >>> 16;
  out[at + 2] = value >>> 8;
  out[at + 3] = value;
};

const channelLength = (status: number) => (status >= 0xc0 && status < 0xe0 ? 1 : 2);

/**
 * Writes a file. For a well-formed file that was read, the bytes are the ones that were read:
 * widths of numbers, running status, chunk order, extra chunks and trailing bytes are kept as data.
 */
export function writeSmf(file: SmfFile): Uint8Array {
  const sizes = file.tracks.map(trackSize);
  let total = 14 + file.headerExtra.length;
  for (const chunk of file.chunks)
    total += 8 + (chunk.kind === 'track' ? sizes[chunk.track]! : chunk.bytes.length);
  const out = new Uint8Array(file.before.length + total + file.after.length);
  out.set(file.before);
  let at = file.before.length;
  if (isWrapped(file)) putWrapperLengths(out, file, total);
  put32(out, at, 0x4d546864);
  put32(out, at + 4, 6 + file.headerExtra.length);
  out[at + 8] = file.format >> 8;
  out[at + 9] = file.format;
  out[at + 10] = file.declaredTracks >> 8;
  out[at + 11] = file.declaredTracks;
  out[at + 12] = file.division >> 8;
  out[at + 13] = file.division;
  out.set(file.headerExtra, at + 14);
  at += 14 + file.headerExtra.length;
  for (const chunk of file.chunks) {
    if (chunk.kind === 'track') {
      put32(out, at, 0x4d54726b);
      put32(out, at + 4, sizes[chunk.track]!);
      at = writeTrack(file.tracks[chunk.track]!, out, at + 8);
    } else {
      for (let i = 0; i < 4; i++) out[at + i] = chunk.type.charCodeAt(i);
      put32(out, at + 4, chunk.bytes.length);
      out.set(chunk.bytes, at + 8);
      at += 8 + chunk.bytes.length;
    }
  }
  out.set(file.after, at);
  return out;
}

/** RIFF of type RMID, its data chunk last: what else stands before a header is kept as it is. */
const isWrapped = ({ before }: SmfFile) =>
  before.length >= 20 &&
  bigEndian(before, 0, 4) === 0x52494646 &&
  bigEndian(before, 8, 4) === 0x524d4944 &&
  bigEndian(before, before.length - 8, 4) === 0x64617461;

/** RIFF: the lengths of the whole and of the data chunk, little-endian. */
function putWrapperLengths(out: Uint8Array, file: SmfFile, smfBytes: number) {
  const put = (at: number, value: number) => {
    for (let i = 0; i < 4; i++) out[at + i] = value >>> (8 * i);
  };
  put(4, out.length - 8);
  put(file.before.length - 4, smfBytes);
}

/** Width of the event's delta: as it was where that is wide enough, else the shortest. */
const deltaWidth = (delta: number, encoding: number) => {
  const least = numberWidth(delta);
  const kept = encoding & 7;
  return kept > least ? kept : least;
};

function trackSize(track: SmfTrack): number {
  const { count, tick, status, encoding, data1 } = track;
  let size = track.tail.length;
  const place = { at: 0, length: 0 };
  let last = 0;
  let running = 0;
  for (let i = 0; i < count; i++) {
    const delta = tick[i]! - last;
    last = tick[i]!;
    const event = status[i]!;
    size += delta < 0x80 && (encoding[i]! & 7) < 2 ? 1 : deltaWidth(delta, encoding[i]!);
    if (event < 0xf0) {
      size += channelLength(event) + (encoding[i]! & 8 && running === event ? 0 : 1);
      running = event;
    } else {
      const length =
        event === META && data1[i] === META_END_OF_TRACK && !track.endWritten
          ? 0
          : payloadPlace(track, i, place).length;
      size += (event === META ? 2 : 1) + Math.max(numberWidth(length), encoding[i]! >> 4) + length;
      running = 0;
    }
  }
  return size;
}

function writeTrack(track: SmfTrack, out: Uint8Array, at: number): number {
  const { count, tick, status, encoding, data1, data2 } = track;
  const place = { at: 0, length: 0 };
  let last = 0;
  let running = 0;
  for (let i = 0; i < count; i++) {
    const delta = tick[i]! - last;
    last = tick[i]!;
    const event = status[i]!;
    const how = encoding[i]!;
    if (delta < 0x80 && (how & 7) < 2) out[at++] = delta;
    else at = putNumber(out, at, delta, deltaWidth(delta, how));
    if (event < 0xf0) {
      if (!(how & 8) || running !== event) out[at++] = event;
      out[at++] = data1[i]!;
      if (channelLength(event) === 2) out[at++] = data2[i]!;
      running = event;
    } else {
      out[at++] = event;
      if (event === META) out[at++] = data1[i]!;
      const missing = event === META && data1[i] === META_END_OF_TRACK && !track.endWritten;
      const body = payloadPlace(track, i, place);
      const length = missing ? 0 : body.length;
      at = putNumber(out, at, length, Math.max(numberWidth(length), how >> 4));
      if (length > 64) out.set(track.bytes.subarray(body.at, body.at + length), at);
      else for (let k = 0; k < length; k++) out[at + k] = track.bytes[body.at + k]!;
      at += length;
      running = 0;
    }
  }
  out.set(track.tail, at);
  return at + track.tail.length;
}
