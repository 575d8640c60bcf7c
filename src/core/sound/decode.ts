import type { Checkpoint } from '../diagnostic/checkpoint';
import { lostPages, lostSamples } from './lost';
import { mendMpeg } from './mpeg';
import { decodeWave, TOO_MUCH, type ColumnOf, type Decoded } from './decode-wave';
import { framesOf, LARGEST_DECODED_BYTES, lengthMs, LONGEST_RECORDING_MS } from './samples';

/** Kinds of sound files that are known by how they begin. */
export type SoundKind = 'wav' | 'flac' | 'mp3' | 'vorbis' | 'opus';

export const SOUND_KINDS: Readonly<Record<SoundKind, string>> = {
  wav: 'WAV',
  flac: 'FLAC',
  mp3: 'MP3',
  vorbis: 'Ogg Vorbis',
  opus: 'Ogg Opus',
};

const has = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));

/** What a sound file is, by its first bytes; null where it is none of those that are read here. */
export function soundKindOf(bytes: Uint8Array): SoundKind | null {
  if (has(bytes, 0, 'RIFF') && has(bytes, 8, 'WAVE')) return 'wav';
  if (has(bytes, 0, 'fLaC')) return 'flac';
  if (has(bytes, 0, 'OggS')) {
    // The first packet stands behind 27 bytes and the table of its segments.
    const packet = 27 + (bytes[26] ?? 0);
    if (has(bytes, packet, 'OpusHead')) return 'opus';
    if (has(bytes, packet + 1, 'vorbis')) return 'vorbis';
    return null;
  }
  if (has(bytes, 0, 'ID3')) {
    // A tag may stand before either; its size is in four bytes of seven bits.
    const size = [6, 7, 8, 9].reduce((n, i) => n * 128 + ((bytes[i] ?? 0) & 127), 0);
    return has(bytes, 10 + size, 'fLaC') ? 'flac' : 'mp3';
  }
  // MPEG audio: eleven set bits, a layer that is not reserved, a bit rate that is not forbidden.
  const [a = 0, b = 0, c = 0] = bytes;
  if (a === 0xff && (b & 0xe0) === 0xe0 && (b & 6) !== 0 && (c & 0xf0) !== 0xf0) return 'mp3';
  return null;
}

interface DecodedSound {
  readonly channelData: readonly Float32Array[];
  readonly samplesDecoded: number;
  readonly sampleRate: number;
  readonly errors?: readonly { readonly message: string }[];
}

interface Decoder {
  readonly ready: Promise<void>;
  decode(bytes: Uint8Array): DecodedSound | Promise<DecodedSound>;
  flush?(): DecodedSound | Promise<DecodedSound>;
  free(): void;
}

/** Loaded when they are needed: each brings its WebAssembly in itself. */
async function decoderFor(kind: Exclude<SoundKind, 'wav'>): Promise<Decoder> {
  switch (kind) {
    case 'flac':
      return new (await import('@wasm-audio-decoders/flac')).FLACDecoder();
    case 'mp3':
      return new (await import('mpg123-decoder')).MPEGDecoder({ enableGapless: true });
    case 'vorbis':
      return new (await import('@wasm-audio-decoders/ogg-vorbis')).OggVorbisDecoder();
    case 'opus':
      return new (await import('ogg-opus-decoder')).OggOpusDecoder();
  }
}

const CHUNK = 1 << 18;

/**
 * Decodes WAV, FLAC, MP3, Ogg Vorbis and Ogg Opus at their own rate. What cannot be decoded, is too
 * long or too large comes back as a sentence; what was damaged on the way is told among the doubts.
 */
export async function decodeSound(
  bytes: Uint8Array,
  checkpoint?: Checkpoint,
  columnOf?: ColumnOf,
): Promise<Decoded> {
  const kind = soundKindOf(bytes);
  if (kind === null)
    return {
      problem:
        'This is no recording that can be read: WAV, FLAC, MP3, Ogg Vorbis and Ogg Opus can be.',
    };
  const decoded =
    kind === 'wav'
      ? decodeWave(bytes, checkpoint, columnOf)
      : await unpack(bytes, kind, checkpoint, columnOf);
  return decoded.samples ? bounded(decoded) : decoded;
}

/** What holds for a recording however it was decoded. */
export function bounded(decoded: Decoded & { samples: object }): Decoded {
  const { samples } = decoded;
  if (framesOf(samples) === 0)
    return { problem: 'This recording holds no sound: it is empty behind its head.' };
  if (lengthMs(samples) > LONGEST_RECORDING_MS)
    return { problem: 'This recording is longer than 30 minutes. Cut it into pieces first.' };
  return decoded;
}

async function unpack(
  bytes: Uint8Array,
  kind: Exclude<SoundKind, 'wav'>,
  checkpoint?: Checkpoint,
  columnOf: ColumnOf = (frames) => new Float32Array(frames),
): Promise<Decoded> {
  const decoder = await decoderFor(kind);
  const troubles: string[] = [];
  const loud = hushed(troubles);
  try {
    await decoder.ready;
    const mended = kind === 'mp3' ? mendMpeg(bytes) : { bytes, doubts: [] };
    const pieces: DecodedSound[] = [];
    let size = 0;
    const take = (heard: DecodedSound) => {
      for (const e of heard.errors ?? []) troubles.push(e.message);
      if (heard.samplesDecoded === 0) return;
      pieces.push(heard);
      size += heard.samplesDecoded * heard.channelData.length * 4;
    };
    for (let at = 0; at < mended.bytes.length; at += CHUNK) {
      checkpoint?.(at, mended.bytes.length);
      take(await decoder.decode(mended.bytes.subarray(at, at + CHUNK)));
      if (size > LARGEST_DECODED_BYTES) return { problem: TOO_MUCH };
    }
    if (decoder.flush) take(await decoder.flush());
    const first = pieces[0];
    if (!first)
      return {
        problem: `This ${SOUND_KINDS[kind]} file could not be decoded${troubles[0] ? ` (${troubles[0]})` : ''}: it is broken, or it is something else.`,
      };
    const samples = joined(pieces, first, columnOf);
    const lost =
      kind === 'mp3'
        ? mended.doubts
        : kind === 'flac'
          ? lostSamples(bytes, framesOf(samples))
          : lostPages(bytes, kind === 'opus' ? OPUS_RATE : samples.rate, lengthMs(samples));
    return { samples, doubts: [...lost, ...doubtsOf(troubles)] };
  } catch (error) {
    return {
      problem: `This ${SOUND_KINDS[kind]} file could not be decoded (${(error as Error).message}).`,
    };
  } finally {
    loud();
    decoder.free();
  }
}

/** Positions in Ogg Opus count 48,000 a second whatever was encoded (RFC 7845 4). */
const OPUS_RATE = 48_000;

/** Who is decoding now: decoders write to the console, which says not whose trouble it is. */
const listening = new Set<string[]>();
let own: Pick<Console, 'error' | 'warn'> | null = null;

/** Decoders write their troubles to the console: they are told with the recording instead. */
function hushed(troubles: string[]): () => void {
  listening.add(troubles);
  if (!own) {
    own = { error: console.error, warn: console.warn };
    console.error = console.warn = (...said: unknown[]) => {
      for (const list of listening) list.push(said.map(String).join(' '));
    };
  }
  return () => {
    listening.delete(troubles);
    if (listening.size > 0 || !own) return;
    Object.assign(console, own);
    own = null;
  };
}

function joined(pieces: readonly DecodedSound[], first: DecodedSound, columnOf: ColumnOf) {
  const total = pieces.reduce((sum, p) => sum + p.samplesDecoded, 0);
  const channels = first.channelData.map((_, c) => {
    const out = columnOf(total);
    let at = 0;
    for (const { channelData, samplesDecoded } of pieces) {
      out.set((channelData[c] ?? channelData[0]!).subarray(0, samplesDecoded), at);
      at += samplesDecoded;
    }
    return out;
  });
  return { rate: first.sampleRate, channels };
}

const doubtsOf = (troubles: readonly string[]) =>
  troubles.length === 0
    ? []
    : [
        `${troubles.length} ${troubles.length === 1 ? 'place' : 'places'} in it could not be decoded (${troubles[0]}): the sound may lack something there.`,
      ];
