import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Samples } from './samples';
import { LARGEST_DECODED_BYTES } from './samples';

const PCM = 1;
const IEEE_FLOAT = 3;
/** The long form of the head: what the samples are stands behind it. */
const EXTENSIBLE = 0xfffe;

interface WaveFormat {
  readonly tag: number;
  readonly channels: number;
  readonly rate: number;
  readonly bits: number;
}

export type Decoded =
  | { readonly samples: Samples; readonly doubts: readonly string[]; readonly problem?: undefined }
  | { readonly samples?: undefined; readonly problem: string };

/** Makes the column of a channel: in memory that is shared, where somebody else needs it too. */
export type ColumnOf = (frames: number) => Float32Array;
const ownColumn: ColumnOf = (frames) => new Float32Array(frames);

const CHECK_EVERY = 1 << 20;

/**
 * The samples of a WAV file: PCM of 8 (unsigned), 16, 24 or 32 bit, or floating point of 32 or 64
 * bit. RIFF chunks have even lengths; a data chunk that claims more or less than there is counts as
 * what is there, and that is said.
 */
export function decodeWave(
  bytes: Uint8Array,
  checkpoint?: Checkpoint,
  columnOf: ColumnOf = ownColumn,
): Decoded {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || word(0) !== 'RIFF' || word(8) !== 'WAVE')
    return { problem: 'This is not a WAV file: it does not begin with RIFF and WAVE.' };
  let format: WaveFormat | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const type = word(at);
    const length = view.getUint32(at + 4, true);
    const body = at + 8;
    if (type === 'fmt ' && length >= 16 && body + 16 <= bytes.length) {
      const tag = view.getUint16(body, true);
      const long = tag === EXTENSIBLE && length >= 26 && body + 26 <= bytes.length;
      format = {
        tag: long ? view.getUint16(body + 24, true) : tag,
        channels: view.getUint16(body + 2, true),
        rate: view.getUint32(body + 4, true),
        bits: view.getUint16(body + 14, true),
      };
    } else if (type === 'data') {
      if (!format)
        return { problem: 'This WAV file says nothing of its sample rate before its sound.' };
      return samplesOf(view, body, lengthOfData(view, body, length), format, columnOf, checkpoint);
    }
    at = body + length + (length % 2);
  }
  return { problem: 'This WAV file holds no sound: its data chunk is missing.' };
}

interface DataLength {
  /** Bytes of sound that are read. */
  readonly there: number;
  readonly doubts: readonly string[];
}

const isPrintable = (byte: number) => byte >= 0x20 && byte < 0x7f;

/** Whether chunks stand from here to the end of the file, as RIFF has them. */
function chunksFrom(view: DataView, from: number): boolean {
  let at = from;
  while (at + 8 <= view.byteLength) {
    for (let i = 0; i < 4; i++) if (!isPrintable(view.getUint8(at + i))) return false;
    const length = view.getUint32(at + 4, true);
    at += 8 + length + (length % 2);
  }
  // A last chunk of odd length may lack its byte of padding, and some writers add a few zeros.
  return at - view.byteLength <= 1 && view.byteLength - at < 8;
}

/**
 * How long the sound is. A recorder that was stopped, or that wrote into a pipe, leaves 0, all ones or
 * a wrong length: what stands behind it is no chunk then, and the sound goes on to the end.
 */
function lengthOfData(view: DataView, from: number, claimed: number): DataLength {
  const rest = view.byteLength - from;
  const unknown = claimed === 0xffffffff || claimed === 0xfffffffe;
  if (unknown) return { there: rest, doubts: [] };
  if (claimed > rest)
    return {
      there: rest,
      doubts: ['The sound ends before its file says that it does: it may be cut.'],
    };
  if (claimed === rest || chunksFrom(view, from + claimed + (claimed % 2)))
    return { there: claimed, doubts: [] };
  if (chunksFrom(view, from + claimed)) return { there: claimed, doubts: [] };
  const says = `${claimed.toLocaleString('en-GB')} ${claimed === 1 ? 'byte' : 'bytes'}`;
  return {
    there: rest,
    doubts: [
      `The file says that its sound has ${says}, but it goes on behind them: it was read to its end, ${rest.toLocaleString('en-GB')} bytes.`,
    ],
  };
}

function samplesOf(
  view: DataView,
  from: number,
  { there, doubts }: DataLength,
  { tag, channels, rate, bits }: WaveFormat,
  columnOf: ColumnOf,
  checkpoint?: Checkpoint,
): Decoded {
  const read = readerOf(view, tag, bits);
  if (!read || channels < 1 || channels > 32 || rate < 1000 || rate > 768_000)
    return {
      problem: `This WAV file has ${channels} channels of ${bits} bit at ${rate} Hz, in coding ${tag}: PCM or floating point at 1 to 768 kHz can be read.`,
    };
  const width = bits / 8;
  const frames = Math.floor(there / (width * channels));
  if (frames * channels * 4 > LARGEST_DECODED_BYTES) return { problem: TOO_MUCH };
  const columns = Array.from({ length: channels }, () => columnOf(frames));
  for (let i = 0, at = from; i < frames; i++) {
    if (i % CHECK_EVERY === 0) checkpoint?.(i, frames);
    for (let c = 0; c < channels; c++, at += width) columns[c]![i] = read(at);
  }
  return { samples: { rate, channels: columns }, doubts };
}

export const TOO_MUCH =
  'Decoded, this recording takes over 512 MB. Save it with fewer channels, at a lower rate or in pieces.';

function readerOf(view: DataView, tag: number, bits: number): ((at: number) => number) | null {
  if (tag === IEEE_FLOAT) {
    const finite = (n: number) => (Number.isFinite(n) ? n : 0);
    if (bits === 32) return (at) => finite(view.getFloat32(at, true));
    if (bits === 64) return (at) => finite(view.getFloat64(at, true));
    return null;
  }
  if (tag !== PCM) return null;
  if (bits === 8) return (at) => (view.getUint8(at) - 128) / 128;
  if (bits === 16) return (at) => view.getInt16(at, true) / 32_768;
  if (bits === 24)
    return (at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 65_536) / 8_388_608;
  if (bits === 32) return (at) => view.getInt32(at, true) / 2_147_483_648;
  return null;
}
