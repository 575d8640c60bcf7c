/** What four bits make of a CRC-32: a device has no room for a table of bytes. */
const HALF = Int32Array.from({ length: 16 }, (_, n) => {
  let rest = n;
  for (let bit = 0; bit < 4; bit++) rest = (rest >>> 1) ^ (0xedb88320 & -(rest & 1));
  return rest;
});

/** CRC-32, half a byte at a time. */
export function ownCrc32(bytes: Uint8Array): number {
  let rest = -1;
  for (let i = 0; i < bytes.length; i++) {
    rest ^= bytes[i]!;
    rest = (rest >>> 4) ^ HALF[rest & 15]!;
    rest = (rest >>> 4) ^ HALF[rest & 15]!;
  }
  return ~rest >>> 0;
}

/** CRC-16/CCITT as a device shifts it: begun with all ones, highest bit first. */
export function ownCrc16(bytes: readonly number[]): number {
  let rest = 0xffff;
  for (const byte of bytes)
    for (let bit = 7; bit >= 0; bit--) {
      const top = (rest >> 15) & 1;
      rest = (rest << 1) & 0xffff;
      if (top !== ((byte >> bit) & 1)) rest ^= 0x1021;
    }
  return rest;
}
