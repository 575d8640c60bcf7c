import { Out, toInts, type Tune, type TuneCell, type TuneSample } from './tune';

export function writeXm(tune: Tune): Uint8Array {
  const out = new Out().text('Extended Module: ', 17).text(tune.name, 20).u8(0x1a);
  out.text('Saltmarsh generator', 20).u16(0x0104).u32(276);
  out.u16(tune.orders.length, 0, tune.channels, tune.patterns.length, tune.samples.length);
  out.u16(tune.linear === false ? 0 : 1, tune.speed ?? 6, tune.tempo ?? 125);
  for (let i = 0; i < 256; i++) out.u8(tune.orders[i] ?? 0);
  for (const rows of tune.patterns) {
    const data = new Out();
    for (const row of rows) for (let c = 0; c < tune.channels; c++) cell(data, row[c] ?? {});
    out.u32(9).u8(0).u16(rows.length, data.bytes.length).all(data.bytes);
  }
  for (const s of tune.samples) instrument(out, s);
  return out.done();
}

function cell(out: Out, { note, sample, volume, fx }: TuneCell): void {
  const n = note === 'off' ? 97 : typeof note === 'number' ? note - 11 : 0;
  const [letter, param] = fx ?? ['0', 0];
  const code = /\d/.test(letter) ? Number(letter) : letter.charCodeAt(0) - 55;
  const all = [n, sample ?? 0, volume ?? 0, code, param];
  const mask = all.reduce((m, v, i) => (v ? m | (1 << i) : m), 0);
  out.u8(0x80 | mask);
  all.forEach((v, i) => {
    if (mask & (1 << i)) out.u8(v);
  });
}

function instrument(out: Out, s: TuneSample): void {
  const envelope = s.envelope ?? [];
  out.u32(263).text(s.name, 22).u8(0).u16(1).u32(40).fill(96);
  for (let i = 0; i < 12; i++) out.u16(envelope[i]?.[0] ?? 0, envelope[i]?.[1] ?? 0);
  out.fill(48).u8(envelope.length, 0, s.sustain ?? 0, ...(s.round ?? [0, 0]), 0, 0, 0);
  const held = s.sustain === undefined ? 0 : 2;
  const kind = envelope.length === 0 ? 0 : 1 | held | (s.round ? 4 : 0);
  const [depth, speed] = s.wavers ?? [0, 0];
  out
    .u8(kind, 0, 0, 0, depth, speed)
    .u16(s.fade ?? 0)
    .fill(22);
  const width = s.wide ? 2 : 1;
  const [from, to] = s.loop ?? [0, 0];
  const semitones = 12 * Math.log2((s.rate ?? 8363) / 8363);
  const relative = Math.round(semitones);
  const fine = Math.max(-128, Math.min(127, Math.round((semitones - relative) * 128)));
  out.u32(s.frames.length * width, from * width, (to - from) * width);
  out.u8(s.volume ?? 64, fine, (s.loop ? (s.pingPong ? 2 : 1) : 0) | (s.wide ? 16 : 0));
  out.u8(Math.round((s.pan ?? 0.5) * 255), relative, s.packed ? 0xad : 0).text(s.name, 22);
  if (s.packed) return packed(out, s.frames);
  let last = 0;
  for (const v of toInts(s.frames, s.wide ? 16 : 8)) {
    if (s.wide) out.u16((v - last) & 0xffff);
    else out.u8(v - last);
    last = v;
  }
}

/** Steps that a packed sample can take, nearest to what is wanted. */
export const XM_STEPS = [0, 1, 2, 4, 8, 16, 32, 64, -1, -2, -4, -8, -16, -32, -64, -127];
function packed(out: Out, frames: Float32Array): void {
  for (const step of XM_STEPS) out.u8(step & 0xff);
  let value = 0;
  const nibbles = [...toInts(frames, 8)].map((v) => {
    const off = (i: number) => Math.abs(v - value - XM_STEPS[i]!);
    const best = XM_STEPS.reduce((b, _, i) => (off(i) < off(b) ? i : b), 0);
    value += XM_STEPS[best]!;
    return best;
  });
  for (let i = 0; i < nibbles.length; i += 2) out.u8(nibbles[i]! | ((nibbles[i + 1] ?? 0) << 4));
}
