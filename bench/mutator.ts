/** Bytes changed as damage changes them, the same each time for one seed. */
export function mutator(seed: number) {
  let state = seed >>> 0 || 1;
  const below = (n: number) => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state % n;
  };
  function mutate(from: Uint8Array): Uint8Array {
    let bytes = Uint8Array.from(from);
    for (let k = 1 + below(6); k > 0; k--) {
      const at = below(Math.max(1, bytes.length));
      switch (below(8)) {
        case 0:
          bytes[at]! ^= 1 << below(8);
          break;
        case 1:
          bytes[at] = [0, 0x7f, 0x80, 0xff, 0xf0, 0xf7, 0x90, 0x2f][below(8)]!;
          break;
        case 2:
          bytes = bytes.slice(0, at);
          break;
        case 3: {
          // A stretch twice.
          const part = bytes.slice(at, at + 1 + below(40));
          bytes = Uint8Array.from([...bytes.slice(0, at), ...part, ...bytes.slice(at)]);
          break;
        }
        case 4:
          bytes = Uint8Array.from([...bytes.slice(0, at), ...bytes.slice(at + 1 + below(20))]);
          break;
        case 5: {
          // A chunk length that lies.
          const chunk = findChunk(bytes, at);
          if (chunk >= 0)
            bytes.set(u32([0, 1, 2 ** 31, 2 ** 32 - 1, below(5000)][below(5)]!), chunk + 4);
          break;
        }
        case 6:
          for (let i = 0; i < 12 && at + i < bytes.length; i++) bytes[at + i] = 0x80 | below(128);
          break;
        default:
          if (bytes.length > 14) bytes[8 + below(6)] = below(256);
      }
    }
    return bytes;
  }

  return { below, mutate };
}

const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];

function findChunk(bytes: Uint8Array, from: number): number {
  for (let i = from; i + 8 < bytes.length; i++)
    if (bytes[i] === 0x4d && bytes[i + 1] === 0x54 && bytes[i + 2] === 0x72) return i;
  return -1;
}
