import { packIt } from './pack-it';
import { Out, toInts, type Tune } from './tune';

export function writeIt(tune: Tune, instruments = false): Uint8Array {
  const out = new Out().text('IMPM', 4).text(tune.name, 26);
  const [beat, bar] = tune.highlight ?? [4, 16];
  const orders = [...tune.orders, 255];
  const inst = instruments ? tune.samples.length : 0;
  out.u8(beat, bar).u16(orders.length, inst, tune.samples.length, tune.patterns.length);
  const comment = tune.comment ?? '';
  const flags = 1 | (instruments ? 4 : 0) | (tune.linear === false ? 0 : 8);
  out.u16(0x0214, 0x0214, flags, (comment ? 1 : 0) | (tune.highlight ? 4 : 0));
  out.u8(128, 48, tune.speed ?? 6, tune.tempo ?? 125, 128, 0).u16(comment.length);
  const messageAt = out.bytes.length;
  out.u32(0, 0);
  for (let c = 0; c < 64; c++) out.u8(c < tune.channels ? 32 : 160);
  out.fill(64, 64).all(orders);
  const at = out.bytes.length;
  out.fill(4 * (inst + tune.samples.length + tune.patterns.length));
  let slot = 0;
  const place = () => out.put32(at + 4 * slot++, out.bytes.length);
  out.put32(messageAt, out.bytes.length).text(comment, comment.length);
  for (let i = 0; i < inst; i++) {
    const s = tune.samples[i]!;
    place();
    const from = out.bytes.length;
    out
      .text('IMPI', 4)
      .text('', 12)
      .u8(0, s.newNote ?? 0, ...(s.duplicates ?? [0, 0]))
      .u16(s.fade ?? 0);
    out.u8(0, 60, 128, 160, 0, 0).u16(0).u8(1, 0).text(s.name, 26).fill(6);
    for (let k = 0; k < 120; k++) out.u8(k, i + 1);
    const envelope = s.envelope ?? [];
    const held = s.sustain;
    const kind = (envelope.length ? 1 : 0) | (s.round ? 2 : 0) | (held === undefined ? 0 : 4);
    out.u8(kind, envelope.length, ...(s.round ?? [0, 0]));
    out.u8(held ?? 0, held ?? 0);
    for (let p = 0; p < 25; p++) out.u8(envelope[p]?.[1] ?? 0).u16(envelope[p]?.[0] ?? 0);
    out.upTo(from + 554);
  }
  const pointers: number[] = [];
  for (const s of tune.samples) {
    place();
    const flag = 1 | (s.wide ? 2 : 0) | (s.packed ? 8 : 0) | (s.loop ? 16 : 0);
    const [from, to] = s.loop ?? [0, 0];
    out
      .text('IMPS', 4)
      .text('', 12)
      .u8(0, 64, flag | (s.pingPong ? 64 : 0), s.volume ?? 64);
    out.text(s.name, 26).u8(1, s.pan === undefined ? 32 : 128 | Math.round(s.pan * 64));
    out.u32(s.frames.length, from, to, Math.round(s.rate ?? 8363), 0, 0);
    pointers.push(out.bytes.length);
    out.u32(0).u8(0, 0, 0, 0);
  }
  for (const rows of tune.patterns) {
    place();
    const data = new Out();
    for (const row of rows) {
      row.forEach((cell, c) => {
        if (!cell) return;
        const { note, sample, volume, fx } = cell;
        const mask =
          (note === undefined ? 0 : 1) |
          (sample ? 2 : 0) |
          (volume === undefined ? 0 : 4) |
          (fx ? 8 : 0);
        data.u8((c + 1) | 128, mask);
        if (mask & 1)
          data.u8(note === 'off' ? 255 : note === 'cut' ? 254 : note === 'fade' ? 253 : note!);
        if (sample) data.u8(sample);
        if (volume !== undefined) data.u8(volume);
        if (fx) data.u8(fx[0].charCodeAt(0) - 64, fx[1]);
      });
      data.u8(0);
    }
    out.u16(data.bytes.length, rows.length).u32(0).all(data.bytes);
  }
  tune.samples.forEach((s, i) => {
    out.put32(pointers[i]!, out.bytes.length);
    const values = toInts(s.frames, s.wide ? 16 : 8);
    if (s.packed) out.all(packIt(values, s.wide ?? false));
    else
      for (const v of values)
        if (s.wide) out.u16(v & 0xffff);
        else out.u8(v);
  });
  return out.done();
}
