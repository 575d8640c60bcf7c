import type { Bytes } from './bytes';

/**
 * IT’s packed samples: blocks of 32 KB of samples, each a length and a stream of bits, low bit first.
 * Values are differences whose width changes inside the stream; `twice` packs differences of those.
 */
export function unpackIt(
  b: Bytes,
  at: number,
  length: number,
  wide: boolean,
  twice: boolean,
  what: string,
): { frames: Float32Array; end: number } {
  // A frame takes a bit at least.
  const possible = Math.min(length, Math.max(0, b.length - at) * 8);
  const frames = new Float32Array(b.frames(possible, what));
  const most = wide ? 17 : 9;
  const bits = wide ? 16 : 8;
  const one = 2 ** (bits - 1);
  const perBlock = wide ? 0x4000 : 0x8000;
  const bytes = b.all;
  let from = at;
  for (let done = 0; done < frames.length;) {
    if (from + 2 > bytes.length) {
      b.doubt(from, `${what} ends after ${done} of ${length} frames; the rest is silent.`);
      break;
    }
    const size = bytes[from]! | (bytes[from + 1]! << 8);
    const stop = Math.min(bytes.length, from + 2 + size);
    let place = (from + 2) * 8;
    const last = stop * 8;
    let width = most;
    let d1 = 0;
    let d2 = 0;
    const count = Math.min(perBlock, frames.length - done);
    for (let i = 0; i < count;) {
      if (place + width > last) {
        b.doubt(from, `${what} is damaged after ${done + i} frames; the rest of it is silent.`);
        return { frames, end: stop };
      }
      const value = take(bytes, place, width);
      place += width;
      if (width < 7) {
        if (value === 1 << (width - 1)) {
          const more = wide ? 4 : 3;
          const next = take(bytes, place, more) + 1;
          place += more;
          width = next < width ? next : next + 1;
          continue;
        }
      } else if (width < most) {
        const half = wide ? 8 : 4;
        const border = ((2 ** bits - 1) >> (most - width)) - half;
        if (value > border && value <= border + 2 * half) {
          const next = value - border;
          width = next < width ? next : next + 1;
          continue;
        }
      } else if (value & (1 << (most - 1))) {
        width = (value + 1) & 0xff;
        if (width > most || width < 1) {
          b.doubt(from, `${what} is damaged after ${done + i} frames; the rest of it is silent.`);
          return { frames, end: stop };
        }
        continue;
      }
      const shift = 32 - Math.min(width, bits);
      d1 = wrap(d1 + ((value << shift) >> shift), bits);
      d2 = wrap(d2 + d1, bits);
      frames[done + i] = (twice ? d2 : d1) / one;
      i++;
    }
    done += count;
    from = from + 2 + size;
  }
  return { frames, end: from };
}

const wrap = (value: number, bits: number) => (value << (32 - bits)) >> (32 - bits);

/** `width` bits at a place counted in bits, the lowest first; at most 17. */
function take(bytes: Uint8Array, place: number, width: number): number {
  const at = place >> 3;
  const three = (bytes[at] ?? 0) | ((bytes[at + 1] ?? 0) << 8) | ((bytes[at + 2] ?? 0) << 16);
  return (three >>> (place & 7)) & ((1 << width) - 1);
}
