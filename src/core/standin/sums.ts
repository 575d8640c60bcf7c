/** CRC-32, bit by bit: a device has no room for a table. */
export function ownCrc32(bytes: Uint8Array): number {
  let rest = -1;
  for (const byte of bytes) {
    rest ^= byte;
    for (let bit = 0; bit < 8; bit++) rest = (rest >>> 1) ^ (0xedb88320 & -(rest & 1));
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
