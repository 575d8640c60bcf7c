/**
 * A 53-bit hash of a text, for keys of what is remembered; never for what must be safe. Two
 * multiplicative rounds over UTF-16 units, folded at the end.
 */
export function quickHash(text: string, seed = 0): number {
  let high = 0xdeadbeef ^ seed;
  let low = 0x41c6ce57 ^ seed;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    high = Math.imul(high ^ unit, 0x9e3779b1);
    low = Math.imul(low ^ unit, 0x5f356495);
  }
  high = Math.imul(high ^ (high >>> 16), 0x85ebca6b) ^ Math.imul(low ^ (low >>> 13), 0xc2b2ae35);
  low = Math.imul(low ^ (low >>> 16), 0x85ebca6b) ^ Math.imul(high ^ (high >>> 13), 0xc2b2ae35);
  return 4294967296 * (2097151 & low) + (high >>> 0);
}
