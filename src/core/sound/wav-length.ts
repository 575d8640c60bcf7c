/** How long a sound is, by the head of its file; or why that cannot be said. */
export type SoundLength =
  | { readonly ms: number; readonly problem?: undefined }
  | { readonly ms?: undefined; readonly problem: string };

const word = (bytes: Uint8Array, at: number) =>
  String.fromCharCode(bytes[at]!, bytes[at + 1]!, bytes[at + 2]!, bytes[at + 3]!);
const little = (bytes: Uint8Array, at: number, length: number) => {
  let value = 0;
  for (let i = length - 1; i >= 0; i--) value = value * 256 + bytes[at + i]!;
  return value;
};

/**
 * The length of a WAV file: sample frames of its data chunk over its rate. RIFF chunks have even
 * lengths; a data chunk that claims more than there is counts as what is there.
 *
 * @example wavLength(bytes of one second at 48 kHz) → { ms: 1000 }
 */
export function wavLength(bytes: Uint8Array): SoundLength {
  if (bytes.length < 12 || word(bytes, 0) !== 'RIFF' || word(bytes, 8) !== 'WAVE')
    return { problem: 'This is not a WAV file: it does not begin with RIFF and WAVE.' };
  let bytesPerSecond = 0;
  for (let at = 12; at + 8 <= bytes.length;) {
    const type = word(bytes, at);
    const length = little(bytes, at + 4, 4);
    const body = at + 8;
    if (type === 'fmt ' && length >= 16 && body + 16 <= bytes.length) {
      const rate = little(bytes, body + 4, 4);
      const frameBytes = little(bytes, body + 12, 2);
      bytesPerSecond = rate * frameBytes;
    } else if (type === 'data') {
      if (bytesPerSecond === 0)
        return { problem: 'This WAV file says nothing of its sample rate before its sound.' };
      return { ms: (Math.min(length, bytes.length - body) * 1000) / bytesPerSecond };
    }
    at = body + length + (length % 2);
  }
  return { problem: 'This WAV file holds no sound: its data chunk is missing.' };
}
