const ascii = (text: string) => [...text].map((c) => c.charCodeAt(0));

/** The head of a WAV of PCM, canonical: RIFF, `fmt ` of 16 bytes, `data`. */
export function waveHead(format: {
  readonly rate: number;
  readonly channels: number;
  readonly bits: number;
  readonly dataBytes: number;
}): Uint8Array {
  const { rate, channels, bits, dataBytes } = format;
  const out = new Uint8Array(44);
  const view = new DataView(out.buffer);
  const frame = (channels * bits) / 8;
  out.set(ascii('RIFF'), 0);
  view.setUint32(4, 36 + dataBytes + (dataBytes % 2), true);
  out.set(ascii('WAVEfmt '), 8);
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * frame, true);
  view.setUint16(32, frame, true);
  view.setUint16(34, bits, true);
  out.set(ascii('data'), 36);
  view.setUint32(40, dataBytes, true);
  return out;
}

/** Samples of one channel as a WAV of 16 bits. */
export function waveBytes(samples: Int16Array, rate: number): Uint8Array {
  const dataBytes = samples.length * 2;
  const out = new Uint8Array(44 + dataBytes);
  out.set(waveHead({ rate, channels: 1, bits: 16, dataBytes }));
  // Low byte first, whichever way this machine keeps its own.
  for (let i = 0, at = 44; i < samples.length; i++) {
    const value = samples[i]!;
    out[at++] = value;
    out[at++] = value >> 8;
  }
  return out;
}

export interface WaveFacts {
  readonly rate: number;
  readonly channels: number;
  readonly bits: number;
  /** Where the samples stand. */
  readonly from: number;
  readonly dataBytes: number;
  /** Chunks beside `fmt ` and `data`, by name. */
  readonly others: readonly string[];
  /** The data chunk claims more than there is. */
  readonly cut: boolean;
}

/** The parts of a WAV; or why it is none that can be delivered. */
export function readWave(bytes: Uint8Array): WaveFacts | { readonly problem: string } {
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || word(0) !== 'RIFF' || word(8) !== 'WAVE')
    return { problem: 'This is not a WAV file: it does not begin with RIFF and WAVE.' };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let format: { rate: number; channels: number; bits: number } | null = null;
  let data: { from: number; dataBytes: number; cut: boolean } | null = null;
  const others: string[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const type = word(at);
    const length = view.getUint32(at + 4, true);
    const body = at + 8;
    if (type === 'fmt ' && length >= 16 && body + 16 <= bytes.length) {
      const tag = view.getUint16(body, true);
      // 0xFFFE is the long form of the head; its samples are PCM where the bits say so.
      if (tag !== 1 && tag !== 0xfffe)
        return { problem: 'The sound is not plain PCM: save it as WAV of 16 or 24 bit.' };
      format = {
        channels: view.getUint16(body + 2, true),
        rate: view.getUint32(body + 4, true),
        bits: view.getUint16(body + 14, true),
      };
    } else if (type === 'data' && !data) {
      const there = Math.min(length, bytes.length - body);
      data = { from: body, dataBytes: there, cut: there < length };
    } else if (type !== 'data') others.push(type);
    at = body + length + (length % 2);
  }
  if (!format) return { problem: 'This WAV file says nothing of its sample rate.' };
  if (!data) return { problem: 'This WAV file holds no sound: its data chunk is missing.' };
  const { rate, channels, bits } = format;
  if (rate < 1 || channels < 1 || ![8, 16, 24, 32].includes(bits))
    return { problem: `This WAV file has ${channels} channels of ${bits} bit at ${rate} Hz.` };
  const frame = (channels * bits) / 8;
  return { ...format, ...data, dataBytes: data.dataBytes - (data.dataBytes % frame), others };
}
