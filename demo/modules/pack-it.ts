/**
 * Packs samples as IT does: differences in runs of sixty-four, each run as narrow as it can be, so that
 * every way of changing the width is used.
 */
export function packIt(values: readonly number[], wide: boolean): number[] {
  const perBlock = wide ? 0x4000 : 0x8000;
  const out: number[] = [];
  for (let from = 0; from < values.length; from += perBlock) {
    const block = packBlock(values.slice(from, from + perBlock), wide);
    out.push(block.length & 255, block.length >> 8, ...block);
  }
  return out;
}

function packBlock(values: readonly number[], wide: boolean): number[] {
  const bits = wide ? 16 : 8;
  const most = bits + 1;
  const half = wide ? 8 : 4;
  const out: number[] = [];
  let held = 0;
  let count = 0;
  const put = (value: number, width: number) => {
    for (let i = 0; i < width; i++) {
      held |= ((value >>> i) & 1) << count++;
      if (count === 8) {
        out.push(held);
        held = 0;
        count = 0;
      }
    }
  };
  const wrap = (v: number) => (v << (32 - bits)) >> (32 - bits);
  const fits = (v: number, width: number) => {
    if (width === most) return true;
    const end = 2 ** (width - 1);
    return width < 7 ? v > -end && v < end : v >= -end + half && v < end - half;
  };
  let width = most;
  let last = 0;
  for (let from = 0; from < values.length; from += 64) {
    const run = values.slice(from, from + 64).map((v) => {
      const d = wrap(v - last);
      last = v;
      return d;
    });
    let next = 1;
    while (!run.every((d) => fits(d, next))) next++;
    if (next !== width) {
      const code = next < width ? next : next - 1;
      if (width < 7) {
        put(1 << (width - 1), width);
        put(code - 1, wide ? 4 : 3);
      } else if (width < most) {
        put(((2 ** bits - 1) >> (most - width)) - half + code, width);
      } else put((1 << (most - 1)) | (next - 1), width);
      width = next;
    }
    for (const d of run) put(width === most ? d & (2 ** bits - 1) : d & (2 ** width - 1), width);
  }
  if (count > 0) out.push(held);
  return out;
}
