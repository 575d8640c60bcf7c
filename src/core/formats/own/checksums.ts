/** Sums over bytes, as descriptions name them. */
export function checksumOf(kind: 'sum' | 'xor' | 'crc16' | 'crc32', bytes: Uint8Array): number {
  if (kind === 'sum') return bytes.reduce((sum, b) => (sum + b) % 2 ** 32, 0);
  if (kind === 'xor') return bytes.reduce((sum, b) => sum ^ b, 0);
  if (kind === 'crc16') {
    // CRC-16/CCITT: polynomial 0x1021, from 0xffff, highest bit first.
    let crc = 0xffff;
    for (const b of bytes) {
      crc ^= b << 8;
      for (let i = 0; i < 8; i++)
        crc = crc & 0x8000 ? ((crc << 1) ^ 0x1021) & 0xffff : (crc << 1) & 0xffff;
    }
    return crc;
  }
  // CRC-32 (ISO 3309): reflected polynomial 0xedb88320.
  let crc = 0xffffffff;
  for (const b of bytes) {
    crc ^= b;
    for (let i = 0; i < 8; i++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}
