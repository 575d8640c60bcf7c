import { Out, toInts, type Tune } from './tune';

const ROWS = 64;

export function writeS3m(tune: Tune): Uint8Array {
  const out = new Out().text(tune.name, 28).u8(0x1a, 16).u16(0);
  const orders = [...tune.orders, ...(tune.orders.length % 2 ? [255, 255] : [255])];
  if (orders.length % 2) orders.push(255);
  out.u16(orders.length, tune.samples.length, tune.patterns.length, 0, 0x1320, 2).text('SCRM', 4);
  out.u8(64, tune.speed ?? 6, tune.tempo ?? 125, 0xb0, 0, 0).fill(10);
  for (let c = 0; c < 32; c++) out.u8(c < tune.channels ? (c % 2 ? 8 : 0) + ((c >> 1) % 8) : 255);
  out.all(orders);
  const at = out.bytes.length;
  out.fill(2 * (tune.samples.length + tune.patterns.length));
  const place = (index: number) => {
    out.upTo(Math.ceil(out.bytes.length / 16) * 16);
    const para = out.bytes.length / 16;
    out.bytes[at + 2 * index] = para & 255;
    out.bytes[at + 2 * index + 1] = para >> 8;
  };
  const heads: number[] = [];
  tune.samples.forEach((s, i) => {
    place(i);
    heads.push(out.bytes.length);
    const [from, to] = s.loop ?? [0, 0];
    out.u8(1).text('', 12).fill(3).u32(s.frames.length, from, to);
    out.u8(s.volume ?? 64, 0, 0, (s.loop ? 1 : 0) | (s.wide ? 4 : 0));
    out
      .u32(s.rate ?? 8363)
      .fill(12)
      .text(s.name, 28)
      .text('SCRS', 4);
  });
  tune.patterns.forEach((rows, p) => {
    place(tune.samples.length + p);
    const from = out.bytes.length;
    out.u16(0);
    for (let r = 0; r < ROWS; r++) {
      (rows[r] ?? []).forEach((cell, c) => {
        if (!cell) return;
        const { note, sample, volume, fx } = cell;
        const has = (note !== undefined || sample ? 32 : 0) | (volume === undefined ? 0 : 64);
        out.u8(c | has | (fx ? 128 : 0));
        if (has & 32) {
          const key =
            typeof note === 'number' ? ((Math.floor(note / 12) - 1) << 4) | (note % 12) : 255;
          out.u8(note === 'cut' ? 254 : key, sample ?? 0);
        }
        if (volume !== undefined) out.u8(volume);
        if (fx) out.u8(fx[0].charCodeAt(0) - 64, fx[1]);
      });
      out.u8(0);
    }
    const size = out.bytes.length - from;
    out.bytes[from] = size & 255;
    out.bytes[from + 1] = size >> 8;
  });
  tune.samples.forEach((s, i) => {
    out.upTo(Math.ceil(out.bytes.length / 16) * 16);
    const para = out.bytes.length / 16;
    const head = heads[i]!;
    out.bytes[head + 13] = para >> 16;
    out.bytes[head + 14] = para & 255;
    out.bytes[head + 15] = (para >> 8) & 255;
    if (s.wide) for (const v of toInts(s.frames, 16)) out.u16((v + 32768) & 0xffff);
    else for (const v of toInts(s.frames, 8)) out.u8(v + 128);
  });
  return out.done();
}
